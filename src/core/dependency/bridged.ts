import { farEnd, type Cabling } from './cabling';

/** Who hears whom without a router between, within one VLAN or over all cables: what passes frames on is one part, what does not hangs on its edge (IEEE 802.1Q, clause 8). */
export class BridgedParts {
  readonly #part: Int32Array;

  /** @param bridges by device: 1 where it passes frames on @param gone by device: 1 where it is not there */
  constructor(
    readonly cabling: Cabling,
    readonly bridges: Uint8Array,
    readonly gone: Uint8Array,
    /** by cable of this cabling: 1 where it is not there */
    readonly cut: Uint8Array,
  ) {
    const { size, starts, cable } = cabling;
    this.#part = new Int32Array(size).fill(-1);
    const queue = new Int32Array(size);
    for (let first = 0; first < size; first++) {
      if (!bridges[first] || gone[first] || this.#part[first] !== -1) continue;
      let [head, tail] = [0, 0];
      queue[tail++] = first;
      this.#part[first] = first;
      while (head < tail) {
        const at = queue[head++] ?? 0;
        for (let place = starts[at] ?? 0; place < (starts[at + 1] ?? 0); place++) {
          const one = cable[place] ?? 0;
          if (cut[one]) continue;
          const to = farEnd(cabling, one, at);
          if (!bridges[to] || gone[to] || this.#part[to] !== -1) continue;
          this.#part[to] = first;
          queue[tail++] = to;
        }
      }
    }
  }

  /** Whether frames get from one to the other. */
  joins(from: number, to: number): boolean {
    if (this.gone[from] || this.gone[to]) return false;
    if (from === to) return true;
    const parts = new Set(this.#partsAt(from));
    return this.#partsAt(to).some((part) => parts.has(part)) || this.#beside(from).includes(to);
  }

  #partsAt(device: number): number[] {
    if (this.bridges[device]) return [this.#part[device] ?? -1];
    return this.#beside(device).flatMap((other) => (this.bridges[other] ? [this.#part[other] ?? -1] : []));
  }

  #beside(device: number): number[] {
    const { starts, cable } = this.cabling;
    const found: number[] = [];
    for (let place = starts[device] ?? 0; place < (starts[device + 1] ?? 0); place++) {
      const one = cable[place] ?? 0;
      if (this.cut[one]) continue;
      const to = farEnd(this.cabling, one, device);
      if (!this.gone[to]) found.push(to);
    }
    return found;
  }
}
