/** Numbers that look random and are the same in every run: a 32-bit xorshift with a multiplication (Marsaglia 2003). */
export class Chance {
  #state: number;

  constructor(seed: number) {
    this.#state = seed * 2_654_435_769 || 1;
    for (let at = 0; at < 8; at++) this.next();
  }

  /** From 0 up to, not including, 1. */
  next(): number {
    let x = this.#state | 0;
    x ^= x << 13;
    x ^= x >>> 17;
    x ^= x << 5;
    this.#state = x;
    return (Math.imul(x, 0x9e3779b1) >>> 0) / 0x1_0000_0000;
  }

  is = (probability: number): boolean => this.next() < probability;
  /** A whole number, both ends included. */
  between = (low: number, high: number): number => low + Math.floor(this.next() * (high - low + 1));
  of = <Value>(list: readonly Value[]): Value => list[Math.floor(this.next() * list.length)] as Value;
}
