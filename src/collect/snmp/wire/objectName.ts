import { BerWriter } from './berWriter';

/**
 * An object identifier as its octets stand in a message (X.690 8.19), without tag and length. Tables are read without putting the names of
 * their variables into words: below, before, and the index behind a column are told from the octets.
 */
export class ObjectName {
  constructor(
    readonly octets: Uint8Array,
    readonly start: number,
    readonly stop: number,
  ) {}

  static of(dotted: string): ObjectName {
    let name = known.get(dotted);
    if (name) return name;
    const write = new BerWriter(64);
    write.oid(dotted);
    const octets = write.finish();
    // an identifier of 128 octets or more has a longer head
    const head = (octets[1] ?? 0) & 0x80 ? 2 + ((octets[1] ?? 0) & 0x7f) : 2;
    name = new ObjectName(octets, head, octets.length);
    if (known.size < mostKnown) known.set(dotted, name);
    return name;
  }

  get text(): string {
    const { octets, stop } = this;
    let text = '';
    let value = 0;
    for (let at = this.start; at < stop; at++) {
      const octet = octets[at] ?? 0;
      value = value * 128 + (octet & 0x7f);
      if (octet & 0x80) continue;
      if (text === '') {
        const first = value < 80 ? Math.floor(value / 40) : 2;
        text = `${first}.${value - first * 40}`;
      } else text += `.${value}`;
      value = 0;
    }
    return text || '0.0';
  }

  /** True where this lies strictly below `root`: sub-identifiers end where their octets do, so the octets of one begin with those of the other. */
  isBelow(root: ObjectName): boolean {
    const length = root.stop - root.start;
    if (this.stop - this.start <= length) return false;
    for (let at = length - 1; at >= 0; at--)
      if (this.octets[this.start + at] !== root.octets[root.start + at]) return false;
    return true;
  }

  /** The numbers behind a root that this lies below: the index of a row behind its column. */
  partsBehind(root: ObjectName): number[] {
    const parts: number[] = [];
    let value = 0;
    for (let at = this.start + root.stop - root.start; at < this.stop; at++) {
      const octet = this.octets[at] ?? 0;
      value = value * 128 + (octet & 0x7f);
      if (octet & 0x80) continue;
      parts.push(value);
      value = 0;
    }
    return parts;
  }
}

/** Columns are asked of every device: their octets are made once. */
const known = new Map<string, ObjectName>();
const mostKnown = 2000;

/** How many octets two names have in common from their beginnings. */
export function sharedOctets(left: ObjectName, right: ObjectName): number {
  const { octets: leftOctets, start } = left;
  const { octets: rightOctets } = right;
  const shift = right.start - start;
  const stop = Math.min(left.stop, right.stop - shift);
  let at = start;
  while (at < stop && leftOctets[at] === rightOctets[at + shift]) at++;
  return at - start;
}

/** Lexicographic order of SNMP (RFC 3416), of what stands behind so many octets of each. Negative where `left` comes first. */
export function compareNames(left: ObjectName, right: ObjectName, leftBehind = 0, rightBehind = 0): number {
  const from = left.start + leftBehind;
  const shift = right.start + rightBehind - from;
  const shared = Math.min(left.stop, right.stop - shift);
  let at = from;
  while (at < shared && left.octets[at] === right.octets[at + shift]) at++;
  return orderFrom(left, right, from, shift, at);
}

/** The same of two names that are known to have so many octets in common. */
export function orderBehind(left: ObjectName, right: ObjectName, common: number): number {
  return orderFrom(left, right, left.start, right.start - left.start, left.start + common);
}

/** @param at where they differ first, or one of them ends */
function orderFrom(left: ObjectName, right: ObjectName, from: number, shift: number, differs: number): number {
  if (differs === left.stop || differs + shift === right.stop) return left.stop - right.stop + shift;
  let at = differs;
  // back to the beginning of the sub-identifier in which they differ
  while (at > from && (left.octets[at - 1] ?? 0) & 0x80) at--;
  return subIdentifier(left.octets, at, left.stop) - subIdentifier(right.octets, at + shift, right.stop);
}

function subIdentifier(octets: Uint8Array, from: number, stop: number): number {
  let value = 0;
  for (let at = from; at < stop; at++) {
    const octet = octets[at] ?? 0;
    value = value * 128 + (octet & 0x7f);
    if (!(octet & 0x80)) break;
  }
  return value;
}
