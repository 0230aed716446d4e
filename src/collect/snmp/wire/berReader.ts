import { ObjectName } from './objectName';

/** Octets that are no BER, or break a bound. */
export class BerError extends Error {}

const mostSubIdentifiers = 128;

/**
 * Reads BER within fixed bounds: definite lengths of at most four octets that end inside what holds them, identifiers of at most 128
 * sub-identifiers of 32 bits (RFC 3416 section 4.1). Whatever the octets are, it throws BerError or returns.
 */
export class BerReader {
  at: number;
  end: number;

  constructor(
    readonly octets: Buffer,
    at = 0,
    end = octets.length,
  ) {
    this.at = at;
    this.end = end;
  }

  get done(): boolean {
    return this.at >= this.end;
  }

  /** The tag that stands next, without passing it. */
  peek(): number {
    if (this.at >= this.end) throw new BerError('cut short');
    return this.octets[this.at] ?? 0;
  }

  /** Passes tag and length; the contents end at what is returned. */
  head(expected?: number): number {
    const tag = this.peek();
    if (expected !== undefined && tag !== expected)
      throw new BerError(`tag ${tag.toString(16)} where ${expected.toString(16)} belongs`);
    let at = this.at + 1;
    if (at >= this.end) throw new BerError('cut short');
    let length = this.octets[at++] ?? 0;
    if (length & 0x80) {
      const count = length & 0x7f;
      if (count === 0 || count > 4 || at + count > this.end) throw new BerError('bad length');
      length = 0;
      for (let more = 0; more < count; more++) length = length * 256 + (this.octets[at++] ?? 0);
    }
    if (at + length > this.end) throw new BerError('a value longer than what holds it');
    this.at = at;
    return at + length;
  }

  /** A reader of the contents of the constructed value that stands next, which is passed. */
  inside(tag: number): BerReader {
    const end = this.head(tag);
    const inner = new BerReader(this.octets, this.at, end);
    this.at = end;
    return inner;
  }

  /** Goes into the constructed value that stands next, without another reader. @returns what `leave` needs */
  enter(tag: number): { outer: number; end: number } {
    const end = this.head(tag);
    const outer = this.end;
    this.end = end;
    return { outer, end };
  }

  leave({ outer, end }: { outer: number; end: number }): void {
    this.at = end;
    this.end = outer;
  }

  integer(tag = 0x02): number {
    const end = this.head(tag);
    const length = end - this.at;
    if (length === 0 || length > 5) throw new BerError('bad integer');
    const value = this.octets.readIntBE(this.at, length);
    this.at = end;
    return value;
  }

  /** Unsigned 32 bits, as Counter32, Gauge32 and TimeTicks are; agents that leave the sign octet away are read all the same. */
  unsigned(tag: number): number {
    const end = this.head(tag);
    const length = end - this.at;
    if (length === 0 || length > 5) throw new BerError('bad unsigned integer');
    const value = this.octets.readUIntBE(this.at, length);
    this.at = end;
    return value % 4_294_967_296;
  }

  unsigned64(tag: number): bigint {
    const end = this.head(tag);
    const length = end - this.at;
    if (length === 0 || length > 9) throw new BerError('bad 64-bit integer');
    let value = 0n;
    for (; this.at < end; this.at++) value = (value << 8n) | BigInt(this.octets[this.at] ?? 0);
    return BigInt.asUintN(64, value);
  }

  /** The contents of an octet string; a view into the message. */
  octetString(tag = 0x04): Buffer {
    const end = this.head(tag);
    const contents = this.octets.subarray(this.at, end);
    this.at = end;
    return contents;
  }

  /** Passes an object identifier that keeps within its bounds. @returns where its contents begin; they end where the reader stands then */
  name(tag = 0x06): number {
    const end = this.head(tag);
    const start = this.at;
    const { octets } = this;
    let count = 1;
    for (let at = start; at < end; at++) {
      // most have one octet; the others are held against their 32 bits
      if ((octets[at] ?? 0) & 0x80) at = this.#longPart(at, end);
      if (++count > mostSubIdentifiers) throw new BerError('an identifier of more than 128 parts');
    }
    this.at = end;
    return start;
  }

  /** @returns where its last octet stands */
  #longPart(from: number, end: number): number {
    let value = 0;
    for (let at = from; at < end; at++) {
      const octet = this.octets[at] ?? 0;
      value = value * 128 + (octet & 0x7f);
      if (value > 4_294_967_295) throw new BerError('a sub-identifier above 32 bits');
      if (!(octet & 0x80)) return at;
    }
    throw new BerError('an identifier that breaks off');
  }

  /** An object identifier as dotted text. */
  oid(tag = 0x06): string {
    return new ObjectName(this.octets, this.name(tag), this.at).text;
  }

  /** Passes a number of at least one octet and at most so many. */
  passNumber(most: number): void {
    const end = this.head();
    if (end === this.at || end - this.at > most) throw new BerError('bad integer');
    this.at = end;
  }

  skip(): void {
    this.at = this.head();
  }
}
