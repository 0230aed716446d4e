import { addressFromOctets } from '../values/ipAddress';

const firstSlots = 1024;
const mostFilled = 0.6;
/** How IPv4 stands among addresses of sixteen octets (RFC 4291, section 2.5.5.2). */
const mapped = 0xffff;

/** Numbers for addresses, in the order in which they are met: what is counted by a number costs no text. Open addressing over four words an address. */
export class AddressBook {
  #slots = new Int32Array(firstSlots).fill(-1);
  #words = new Uint32Array(firstSlots * 4);
  #size = 0;

  get size(): number {
    return this.#size;
  }

  /** @param at where four octets (family 4) or sixteen (6) stand */
  numberOf(octets: Uint8Array, at: number, family: number): number {
    return family === 4 ? this.#find(0, 0, mapped, word(octets, at)) : this.#sixteen(octets, at);
  }

  /** As it is written; IPv4 that stands in sixteen octets is the same address. */
  text(number: number): string {
    const words = [0, 1, 2, 3].map((at) => this.#words[number * 4 + at] ?? 0);
    const octets = words.flatMap((one) => [one >>> 24, (one >>> 16) & 255, (one >>> 8) & 255, one & 255]);
    const isIpv4 = words[0] === 0 && words[1] === 0 && words[2] === mapped;
    return addressFromOctets(isIpv4 ? octets.slice(12) : octets) ?? '';
  }

  #sixteen(octets: Uint8Array, at: number): number {
    return this.#find(word(octets, at), word(octets, at + 4), word(octets, at + 8), word(octets, at + 12));
  }

  #find(a: number, b: number, c: number, d: number): number {
    const mask = this.#slots.length - 1;
    for (let slot = mixed(a, b, c, d) & mask; ; slot = (slot + 1) & mask) {
      const number = this.#slots[slot] ?? -1;
      if (number < 0) {
        this.#slots[slot] = this.#size;
        this.#keep(a, b, c, d);
        return this.#size - 1;
      }
      const words = this.#words;
      const from = number * 4;
      if (words[from] === a && words[from + 1] === b && words[from + 2] === c && words[from + 3] === d) return number;
    }
  }

  #keep(a: number, b: number, c: number, d: number): void {
    const from = this.#size++ * 4;
    if (from === this.#words.length) {
      const grown = new Uint32Array(from * 2);
      grown.set(this.#words);
      this.#words = grown;
    }
    this.#words[from] = a;
    this.#words[from + 1] = b;
    this.#words[from + 2] = c;
    this.#words[from + 3] = d;
    if (this.#size > this.#slots.length * mostFilled) this.#grow();
  }

  #grow(): void {
    const slots = new Int32Array(this.#slots.length * 2).fill(-1);
    const mask = slots.length - 1;
    for (let number = 0; number < this.#size; number++) {
      const [a = 0, b = 0, c = 0, d = 0] = this.#words.subarray(number * 4, number * 4 + 4);
      let slot = mixed(a, b, c, d) & mask;
      while ((slots[slot] ?? -1) >= 0) slot = (slot + 1) & mask;
      slots[slot] = number;
    }
    this.#slots = slots;
  }
}

const word = (octets: Uint8Array, at: number): number =>
  (((octets[at] ?? 0) << 24) | ((octets[at + 1] ?? 0) << 16) | ((octets[at + 2] ?? 0) << 8) | (octets[at + 3] ?? 0)) >>>
  0;

/** Every octet counts in every bit (the finalizer of MurmurHash3). */
export function mixed(a: number, b: number, c: number, d: number): number {
  let hash = Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca6b) ^ Math.imul(c, 0xc2b2ae35) ^ Math.imul(d, 0x27d4eb2f);
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35);
  return (hash ^ (hash >>> 16)) >>> 0;
}
