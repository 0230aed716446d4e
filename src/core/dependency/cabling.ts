/** Devices and the cables between them, by number from 0: who stands beside whom, in one row of numbers (compressed sparse rows). Several cables between two devices are several. */
export interface Cabling {
  size: number;
  /** by cable: its two ends */
  a: Int32Array;
  b: Int32Array;
  /** by device: where its part of `cable` begins; one longer than there are devices */
  starts: Int32Array;
  /** cables at each device */
  cable: Int32Array;
}

/** @throws RangeError where an end is no device */
export function cablingOf(size: number, cables: readonly { a: number; b: number }[]): Cabling {
  const a = Int32Array.from(cables, (one) => one.a);
  const b = Int32Array.from(cables, (one) => one.b);
  const starts = new Int32Array(size + 1);
  for (let at = 0; at < a.length; at++) {
    for (const end of [a[at] ?? -1, b[at] ?? -1]) {
      if (end < 0 || end >= size) throw new RangeError(`cable ${at} ends at ${end}, which is no device`);
      starts[end + 1] = (starts[end + 1] ?? 0) + 1;
    }
  }
  for (let at = 0; at < size; at++) starts[at + 1] = (starts[at + 1] ?? 0) + (starts[at] ?? 0);
  const next = starts.slice();
  const cable = new Int32Array(2 * a.length);
  for (let at = 0; at < a.length; at++)
    for (const end of [a[at] ?? 0, b[at] ?? 0]) {
      const place = next[end] ?? 0;
      cable[place] = at;
      next[end] = place + 1;
    }
  return { size, a, b, starts, cable };
}

/** What is not there: 1 by device or by cable. */
export interface Away {
  devices: Uint8Array;
  cables: Uint8Array;
}

export const nothingAway = ({ size, a }: Cabling): Away => ({
  devices: new Uint8Array(size),
  cables: new Uint8Array(a.length),
});

/** The other end of a cable. */
export const farEnd = ({ a, b }: Cabling, cable: number, from: number): number =>
  a[cable] === from ? (b[cable] ?? -1) : (a[cable] ?? -1);

/**
 * The parts that stay together, by device: the number of its part, -1 for what is away. Breadth-first, linear in cables.
 * @param only devices that count for the size of a part; all where it is not given
 * @returns the largest part; of several as large, the one that holds the lowest device
 */
export function partsOf(
  cabling: Cabling,
  away: Away,
  only?: Uint8Array,
): { partOf: Int32Array; largest: number; sizes: number[] } {
  const { size, starts, cable } = cabling;
  const partOf = new Int32Array(size).fill(-1);
  const queue = new Int32Array(size);
  const sizes: number[] = [];
  for (let first = 0; first < size; first++) {
    if (away.devices[first] || partOf[first] !== -1) continue;
    const part = sizes.length;
    let [head, tail, weight] = [0, 0, 0];
    queue[tail++] = first;
    partOf[first] = part;
    while (head < tail) {
      const at = queue[head++] ?? 0;
      if (!only || only[at]) weight++;
      for (let place = starts[at] ?? 0; place < (starts[at + 1] ?? 0); place++) {
        const one = cable[place] ?? 0;
        if (away.cables[one]) continue;
        const to = farEnd(cabling, one, at);
        if (away.devices[to] || partOf[to] !== -1) continue;
        partOf[to] = part;
        queue[tail++] = to;
      }
    }
    sizes.push(weight);
  }
  let largest = -1;
  sizes.forEach((weight, part) => {
    if (largest < 0 || weight > (sizes[largest] ?? 0)) largest = part;
  });
  return { partOf, largest, sizes };
}
