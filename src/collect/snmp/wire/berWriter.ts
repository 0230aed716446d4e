/**
 * Writes BER (X.690, as restricted by RFC 3417 section 8) from the end of a buffer to its beginning, so that every length is known
 * when its head is written and nothing is copied.
 */
export class BerWriter {
  #octets: Buffer;
  #at: number;

  constructor(capacity = 512) {
    this.#octets = Buffer.allocUnsafe(capacity);
    this.#at = capacity;
  }

  /** Octets written so far: where a value that is written next will end, counted from the end of the message. */
  get length(): number {
    return this.#octets.length - this.#at;
  }

  #room(count: number): void {
    if (this.#at >= count) return;
    const written = this.length;
    const grown = Buffer.allocUnsafe(Math.max(this.#octets.length * 2, written + count + 64));
    this.#octets.copy(grown, grown.length - written, this.#at);
    this.#octets = grown;
    this.#at = grown.length - written;
  }

  bytes(octets: Uint8Array): void {
    this.#room(octets.length);
    this.#at -= octets.length;
    this.#octets.set(octets, this.#at);
  }

  #byte(octet: number): void {
    this.#room(1);
    this.#octets[--this.#at] = octet;
  }

  /** Length and tag before what was written since `length` was `end`. */
  head(tag: number, end: number): void {
    const length = this.length - end;
    if (length < 0x80) this.#byte(length);
    else {
      let rest = length;
      let count = 0;
      for (; rest > 0; rest = Math.floor(rest / 256), count++) this.#byte(rest & 0xff);
      this.#byte(0x80 | count);
    }
    this.#byte(tag);
  }

  /** INTEGER and its relatives, in the fewest octets of two's complement. */
  integer(tag: number, value: number): void {
    const end = this.length;
    let rest = value;
    let octet: number;
    do {
      octet = rest & 0xff;
      this.#byte(octet);
      rest = Math.floor(rest / 256);
    } while (!((rest === 0 && octet < 0x80) || (rest === -1 && octet >= 0x80)));
    this.head(tag, end);
  }

  octetString(octets: Uint8Array): void {
    const end = this.length;
    this.bytes(octets);
    this.head(0x04, end);
  }

  /** A value whose contents stand somewhere already. */
  contents(tag: number, octets: Uint8Array, start: number, stop: number): void {
    const end = this.length;
    const count = stop - start;
    this.#room(count);
    this.#at -= count;
    for (let at = 0; at < count; at++) this.#octets[this.#at + at] = octets[start + at] ?? 0;
    this.head(tag, end);
  }

  nothing(): void {
    this.head(0x05, this.length);
  }

  /** An object identifier from dotted text. */
  oid(dotted: string): void {
    const end = this.length;
    const parts = dotted.split('.');
    for (let at = parts.length - 1; at >= 2; at--) this.#septets(Number(parts[at]));
    this.#septets(Number(parts[0] ?? 0) * 40 + Number(parts[1] ?? 0));
    this.head(0x06, end);
  }

  #septets(value: number): void {
    this.#byte(value % 128);
    for (let rest = Math.floor(value / 128); rest > 0; rest = Math.floor(rest / 128)) this.#byte((rest % 128) | 0x80);
  }

  /** The message as it stands; a copy, since the writer may go on. */
  finish(): Buffer {
    return Buffer.from(this.#octets.subarray(this.#at));
  }
}
