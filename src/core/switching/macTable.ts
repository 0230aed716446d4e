/**
 * A map from MACs, as 48-bit numbers, to 32-bit integers that are not negative: open addressing with linear probing in typed arrays. A million entries take 24 MB
 * and nothing of them is looked at by the collector of garbage.
 */
export class MacTable {
  #keys: Float64Array;
  #values: Int32Array;
  #size = 0;

  constructor(expected = 64) {
    const slots = 1 << Math.max(6, Math.ceil(Math.log2(expected * 1.5)));
    this.#keys = new Float64Array(slots);
    this.#values = new Int32Array(slots).fill(none);
  }

  get size(): number {
    return this.#size;
  }

  /** The slot of a key, or the free one where it belongs. */
  #slot(mac: number): number {
    const keys = this.#keys;
    const values = this.#values;
    const mask = keys.length - 1;
    const low = mac % 0x1000000;
    const high = (mac - low) / 0x1000000;
    let hash = Math.imul(low ^ Math.imul(high, 0x9e3779b1), 0x85ebca6b);
    hash ^= hash >>> 15;
    let slot = hash & mask;
    while (values[slot] !== none && keys[slot] !== mac) slot = (slot + 1) & mask;
    return slot;
  }

  /** −1 where the MAC is not there. */
  get(mac: number): number {
    return this.#values[this.#slot(mac)] ?? none;
  }

  has(mac: number): boolean {
    return this.get(mac) !== none;
  }

  set(mac: number, value: number): void {
    const slot = this.#slot(mac);
    if (this.#values[slot] === none) {
      if (++this.#size * 4 > this.#keys.length * 3) {
        this.#grow();
        this.#put(mac, value);
        return;
      }
      this.#keys[slot] = mac;
    }
    this.#values[slot] = value;
  }

  /** The place of a MAC in the order in which MACs came; a new one gets the next place. To be used alone, without `set`. */
  place(mac: number): number {
    const slot = this.#slot(mac);
    const known = this.#values[slot] ?? none;
    if (known !== none) return known;
    const place = this.#size;
    this.set(mac, place);
    return place;
  }

  /** MACs by their places. */
  placed(): Float64Array {
    const macs = new Float64Array(this.#size);
    this.forEach((mac, place) => (macs[place] = mac));
    return macs;
  }

  forEach(visit: (mac: number, value: number) => void): void {
    for (let slot = 0; slot < this.#keys.length; slot++) {
      const value = this.#values[slot] ?? none;
      if (value !== none) visit(this.#keys[slot] ?? 0, value);
    }
  }

  #put(mac: number, value: number): void {
    const slot = this.#slot(mac);
    this.#keys[slot] = mac;
    this.#values[slot] = value;
  }

  #grow(): void {
    const keys = this.#keys;
    const values = this.#values;
    this.#keys = new Float64Array(keys.length * 2);
    this.#values = new Int32Array(keys.length * 2).fill(none);
    for (let slot = 0; slot < keys.length; slot++)
      if (values[slot] !== none) this.#put(keys[slot] ?? 0, values[slot] ?? 0);
  }
}

const none = -1;
