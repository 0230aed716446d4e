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
  /** by device: 0 for what passes on what it hears; 1 for what hangs on such and passes nothing on between its cables, as a server on two switches; more for what hangs on that alone, as a machine on its host */
  level: Int32Array;
  /** what passes nothing on, the lower levels first */
  ends: Int32Array;
}

/** @param forwards by device: 1 where it passes on what it hears; all do where it is not given @throws RangeError where an end is no device */
export function cablingOf(size: number, cables: readonly { a: number; b: number }[], forwards?: Uint8Array): Cabling {
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
  return { size, a, b, starts, cable, ...levelsOf({ size, a, b, starts, cable }, forwards) };
}

/** How far from what passes on each device hangs. What hangs on nothing that does is taken to pass on itself: so two hosts on one cable are a network. */
function levelsOf(
  { size, a, b, starts, cable }: Omit<Cabling, 'level' | 'ends'>,
  forwards?: Uint8Array,
): Pick<Cabling, 'level' | 'ends'> {
  const level = new Int32Array(size).fill(-1);
  const queue: number[] = [];
  for (let at = 0; at < size; at++)
    if (!forwards || forwards[at]) {
      level[at] = 0;
      queue.push(at);
    }
  const passing = queue.length;
  for (const at of queue)
    for (let place = starts[at] ?? 0; place < (starts[at + 1] ?? 0); place++) {
      const one = cable[place] ?? 0;
      const to = a[one] === at ? (b[one] ?? 0) : (a[one] ?? 0);
      if (level[to] !== -1) continue;
      level[to] = (level[at] ?? 0) + 1;
      queue.push(to);
    }
  for (let at = 0; at < size; at++) if (level[at] === -1) level[at] = 0;
  return { level, ends: Int32Array.from(queue.slice(passing)) };
}

/** Whether what one hears gets on to the other over a cable between them. */
export const passesOn = ({ level }: Pick<Cabling, 'level'>, from: number, to: number): boolean =>
  level[to] === 0 ? level[from] === 0 : (level[to] ?? 0) > (level[from] ?? 0);

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
 * The parts that stay together, by device: the number of its part, -1 for what is away. What passes nothing on is of the largest part that it hangs on. Breadth-first, linear in cables.
 */
export function partsOf(cabling: Cabling, away: Away): { partOf: Int32Array; sizes: number[] } {
  const { size, starts, cable, level, ends } = cabling;
  const partOf = new Int32Array(size).fill(-1);
  const queue = new Int32Array(size);
  const sizes: number[] = [];
  for (let first = 0; first < size; first++) {
    if (level[first] !== 0 || away.devices[first] || partOf[first] !== -1) continue;
    const part = sizes.length;
    let [head, tail] = [0, 0];
    queue[tail++] = first;
    partOf[first] = part;
    while (head < tail) {
      const at = queue[head++] ?? 0;
      for (let place = starts[at] ?? 0; place < (starts[at + 1] ?? 0); place++) {
        const one = cable[place] ?? 0;
        if (away.cables[one]) continue;
        const to = farEnd(cabling, one, at);
        if (level[to] !== 0 || away.devices[to] || partOf[to] !== -1) continue;
        partOf[to] = part;
        queue[tail++] = to;
      }
    }
    sizes.push(tail);
  }
  // by what passes on alone, so that what hangs on two is of the larger whatever else hangs there
  const passing = sizes.slice();
  for (const end of ends) {
    if (away.devices[end]) continue;
    let best = -1;
    for (let place = starts[end] ?? 0; place < (starts[end + 1] ?? 0); place++) {
      const one = cable[place] ?? 0;
      const from = farEnd(cabling, one, end);
      const part = partOf[from] ?? -1;
      if (away.cables[one] || away.devices[from] || part < 0 || !passesOn(cabling, from, end)) continue;
      if (best < 0 || isLarger(passing, part, best)) best = part;
    }
    if (best < 0) {
      best = sizes.length;
      sizes.push(0);
      passing.push(0);
    }
    partOf[end] = best;
    sizes[best] = (sizes[best] ?? 0) + 1;
  }
  return { partOf, sizes };
}

const isLarger = (sizes: readonly number[], one: number, other: number): boolean =>
  (sizes[one] ?? 0) > (sizes[other] ?? 0) || ((sizes[one] ?? 0) === (sizes[other] ?? 0) && one < other);

/** By part: its first device that passes on what it hears, else its first; -1 where it has none. */
export function firstsOf({ level }: Pick<Cabling, 'level'>, partOf: Int32Array, parts: number): Int32Array {
  const first = new Int32Array(parts).fill(-1);
  partOf.forEach((part, at) => {
    if (part < 0) return;
    const known = first[part] ?? -1;
    if (known < 0 || (level[known] !== 0 && level[at] === 0)) first[part] = at;
  });
  return first;
}

/**
 * Of each part that stood before, the largest piece that is left of it; -1 where nothing is. Of several as large, the first. What passes nothing on is no piece by itself.
 * @param before the parts that were @param partOf the pieces that are
 */
export function mainPieces(
  { level }: Pick<Cabling, 'level'>,
  before: { partOf: Int32Array; sizes: readonly number[] },
  { partOf, sizes }: { partOf: Int32Array; sizes: readonly number[] },
): Int32Array {
  const main = new Int32Array(before.sizes.length).fill(-1);
  for (let device = 0; device < partOf.length; device++) {
    const piece = partOf[device] ?? -1;
    if (piece < 0 || level[device] !== 0) continue;
    const part = before.partOf[device] ?? 0;
    const best = main[part] ?? -1;
    if (best < 0 || (piece !== best && isLarger(sizes, piece, best))) main[part] = piece;
  }
  return main;
}
