import * as ber from './ber';

/** One instance an agent can answer for. */
export interface Instance {
  oid: number[];
  /** the encoded value; a function where it changes with time */
  value: Buffer | (() => Buffer);
  /** name and value as they go over the wire, once they were asked for, where the value stays */
  varbind?: Buffer;
  /** what becomes of a value that is set; absent where the object is read-only */
  write?: Writing;
}

/** Holds a value that is to be set against the object: what to do, or why not, as an error status of RFC 3416 section 3. Nothing is done yet. */
export type Writing = (value: ber.Element) => (() => void) | SetError;

export const setError = {
  genErr: 5,
  noAccess: 6,
  wrongType: 7,
  wrongLength: 8,
  wrongValue: 10,
  noCreation: 11,
  inconsistentValue: 12,
  resourceUnavailable: 13,
  authorizationError: 16,
  notWritable: 17,
} as const;
export type SetError = (typeof setError)[keyof typeof setError];

export function compareParts(left: number[], right: number[]): number {
  const shared = Math.min(left.length, right.length);
  for (let at = 0; at < shared; at++) {
    const difference = (left[at] ?? 0) - (right[at] ?? 0);
    if (difference) return difference;
  }
  return left.length - right.length;
}

/** The instances of one agent, sorted, with the two look-ups SNMP needs. */
export class ObjectTree {
  readonly #instances: Instance[];

  constructor(instances: Instance[]) {
    this.#instances = [...instances].sort((x, y) => compareParts(x.oid, y.oid));
  }

  get size(): number {
    return this.#instances.length;
  }

  /** Index of the first instance behind `oid`. */
  #behind(oid: number[]): number {
    let low = 0;
    let high = this.#instances.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (compareParts(this.#instances[middle]?.oid ?? [], oid) <= 0) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  /** The encoded value of an instance. */
  exact(oid: number[]): Buffer | null {
    const instance = this.#at(oid);
    return instance && valueOf(instance);
  }

  /** What setting an instance would do, or why it cannot be set. */
  writing(oid: number[], value: ber.Element): ReturnType<Writing> {
    const instance = this.#at(oid);
    if (!instance) return setError.noCreation;
    return instance.write?.(value) ?? setError.notWritable;
  }

  #at(oid: number[]): Instance | null {
    const candidate = this.#instances[this.#behind(oid) - 1];
    return candidate && compareParts(candidate.oid, oid) === 0 ? candidate : null;
  }

  /** The first instance behind `oid`. @param index where it probably is: the `index` of the one before, and one */
  next(oid: number[], index?: number): Found | null {
    const at = index !== undefined && index > 0 && this.#instances[index - 1]?.oid === oid ? index : this.#behind(oid);
    const candidate = this.#instances[at];
    return candidate
      ? { oid: candidate.oid, value: valueOf(candidate), varbind: varbindOf(candidate), index: at }
      : null;
  }
}

/** What a look-up found; a tree that makes its instances up as it goes leaves the rest away. */
export interface Found {
  oid: number[];
  value: Buffer;
  varbind?: Buffer;
  index?: number;
}

const valueOf = ({ value }: Instance) => (typeof value === 'function' ? value() : value);

function varbindOf(instance: Instance): Buffer {
  const { oid, value } = instance;
  if (typeof value === 'function') return ber.wrap(ber.tag.sequence, ber.oid(oid), value());
  return (instance.varbind ??= ber.wrap(ber.tag.sequence, ber.oid(oid), value));
}

/** Collects instances by dotted name. */
export class ObjectWriter {
  readonly instances: Instance[] = [];

  add(oid: string, value: Instance['value'], write?: Writing): void {
    this.instances.push({ oid: oid.split('.').map(Number), value, ...(write && { write }) });
  }
  /** An enumeration that can be set to some of its numbers. */
  settableInteger(oid: string, value: number, among: readonly number[], commit: (value: number) => void): void {
    this.add(oid, ber.integer(value), (given) => {
      if (given.tag !== ber.tag.integer) return setError.wrongType;
      const number = ber.readInteger(given.body);
      return among.includes(number) ? () => commit(number) : setError.wrongValue;
    });
  }
  /** A text that can be set, of so many octets at most. */
  settableText(oid: string, value: string, most: number, commit: (value: string) => void): void {
    this.add(oid, ber.octets(value), (given) => {
      if (given.tag !== ber.tag.octets) return setError.wrongType;
      return given.body.length <= most ? () => commit(given.body.toString('utf8')) : setError.wrongLength;
    });
  }
  integer(oid: string, value: number): void {
    this.add(oid, ber.integer(value));
  }
  gauge(oid: string, value: number): void {
    this.add(oid, ber.integer(value, ber.tag.gauge32));
  }
  text(oid: string, value: string | Buffer): void {
    this.add(oid, ber.octets(value));
  }
  objectId(oid: string, value: string): void {
    this.add(oid, ber.oid(value.split('.').map(Number)));
  }
  address(oid: string, value: string): void {
    this.add(oid, ber.wrap(ber.tag.ipAddress, Buffer.from(value.split('.').map(Number))));
  }
  ticks(oid: string, hundredths: number): void {
    this.add(oid, ber.integer(hundredths, ber.tag.timeticks));
  }
}
