/** Whole numbers, one after the other, in memory of their own that grows with them. */
export class GrowingNumbers {
  #kept = new Uint32Array(1024);
  length = 0;

  push(value: number): void {
    if (this.length === this.#kept.length) {
      const wider = new Uint32Array(this.length * 2);
      wider.set(this.#kept);
      this.#kept = wider;
    }
    this.#kept[this.length++] = value;
  }

  set(at: number, value: number): void {
    this.#kept[at] = value;
  }

  /** What there is now; not to be kept beyond the next number. */
  all(): Uint32Array {
    return this.#kept.subarray(0, this.length);
  }
}
