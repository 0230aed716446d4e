import * as ber from './ber';

/** One instance an agent can answer for. */
export interface Instance {
  oid: number[];
  /** the encoded value, or what encodes it when it is asked for */
  value: Buffer | (() => Buffer);
  /** the value is another one with time: it is encoded anew whenever it is asked for */
  changes?: boolean;
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
  readonly #given: Instance[] | (() => Instance[]);
  #sorted: Instance[] | null = null;

  /** @param given the instances in any order, or what makes them when the agent is asked for the first time: most of an estate is never asked */
  constructor(given: Instance[] | (() => Instance[])) {
    this.#given = given;
  }

  get #instances(): Instance[] {
    return (this.#sorted ??= inOrder(typeof this.#given === 'function' ? this.#given() : this.#given));
  }

  get size(): number {
    return this.#instances.length;
  }

  /** Makes the instances now, where nobody has asked for them yet. */
  makeReady(): void {
    void this.#instances;
  }

  /** Index of the first instance behind `oid`. */
  #behind(oid: number[]): number {
    const instances = this.#instances;
    let low = 0;
    let high = instances.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (compareParts(instances[middle]?.oid ?? [], oid) <= 0) low = middle + 1;
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
  const encoded = () => ber.wrap(ber.tag.sequence, ber.oid(instance.oid), valueOf(instance));
  return instance.changes ? encoded() : (instance.varbind ??= encoded());
}

const inOrder = (instances: Instance[]) => [...instances].sort((x, y) => compareParts(x.oid, y.oid));

/** Collects instances by dotted name. Values are encoded when somebody asks for them. */
export class ObjectWriter {
  readonly instances: Instance[] = [];

  add(oid: string, value: Instance['value'], write?: Writing): void {
    this.instances.push({ oid: numbersOf(oid), value, ...(write && { write }) });
  }
  /** A value that is another one whenever it is asked for. */
  changing(oid: string, value: () => Buffer): void {
    this.instances.push({ oid: numbersOf(oid), value, changes: true });
  }
  /** An enumeration that can be set to some of its numbers. */
  settableInteger(oid: string, value: number, among: readonly number[], commit: (value: number) => void): void {
    this.add(
      oid,
      () => ber.integer(value),
      (given) => {
        if (given.tag !== ber.tag.integer) return setError.wrongType;
        const number = ber.readInteger(given.body);
        return among.includes(number) ? () => commit(number) : setError.wrongValue;
      },
    );
  }
  /** A text that can be set, of so many octets at most. */
  settableText(oid: string, value: string, most: number, commit: (value: string) => void): void {
    this.add(
      oid,
      () => ber.octets(value),
      (given) => {
        if (given.tag !== ber.tag.octets) return setError.wrongType;
        return given.body.length <= most ? () => commit(given.body.toString('utf8')) : setError.wrongLength;
      },
    );
  }
  integer(oid: string, value: number): void {
    this.add(oid, () => ber.integer(value));
  }
  gauge(oid: string, value: number): void {
    this.add(oid, () => ber.integer(value, ber.tag.gauge32));
  }
  text(oid: string, value: string | Buffer): void {
    this.add(oid, () => ber.octets(value));
  }
  objectId(oid: string, value: string): void {
    this.add(oid, () => ber.oid(value.split('.').map(Number)));
  }
  address(oid: string, value: string): void {
    this.add(oid, () => ber.wrap(ber.tag.ipAddress, Buffer.from(value.split('.').map(Number))));
  }
  ticks(oid: string, hundredths: number): void {
    this.add(oid, () => ber.integer(hundredths, ber.tag.timeticks));
  }
}

/** `1.3.6` as numbers; by hand, since an estate has a hundred thousand names. */
function numbersOf(dotted: string): number[] {
  const numbers: number[] = [];
  let number = 0;
  for (let at = 0; at < dotted.length; at++) {
    const digit = dotted.charCodeAt(at) - 48;
    if (digit >= 0) number = number * 10 + digit;
    else {
      numbers.push(number);
      number = 0;
    }
  }
  numbers.push(number);
  return numbers;
}
