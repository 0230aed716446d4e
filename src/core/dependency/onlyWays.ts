import { farEnd, passesOn, type Away, type Cabling } from './cabling';

/**
 * What each device has only one of on its way to the heart of its network: the devices and cables without which it would not reach it. The heart is a device in the block (a part that no single device parts) that
 * stands in the middle: of which nothing that hangs on one of its devices is more than half of all. Networks that are not joined have a heart each.
 */
export interface OnlyWays {
  /** by device: the heart of its network; -1 where it reaches none */
  heart: Int32Array;
  /** by device: how many single devices and cables stand between it and the heart; -1 where it does not reach it */
  depth: Int32Array;
  /** by device: the nearest such device, -1 where there is none */
  nearest: Int32Array;
  /** by device: the nearest such cable, -1 where there is none */
  nearestCable: Int32Array;
  /** by such a cable: the next one towards the heart, -1 where there is none */
  cableAbove: Int32Array;
}

interface Search {
  /** in the order in which they were come to */
  order: Int32Array;
  entered: Int32Array;
  lowest: Int32Array;
  /** by device: from where it was come to, and over which cable; -1 at the root */
  from: Int32Array;
  over: Int32Array;
  /** by root: where its devices begin in the order; one longer than there are roots */
  begins: Int32Array;
}

/** Over what passes on what it hears: depth-first with the earliest device that is reached back to (R. Tarjan, “Depth-first search and linear graph algorithms”, 1972), without recursion; linear in cables. */
function search(cabling: Cabling, away: Away, roots: readonly number[]): Search {
  const { size, starts, cable, level } = cabling;
  const order = new Int32Array(size);
  const entered = new Int32Array(size).fill(-1);
  const lowest = new Int32Array(size);
  const from = new Int32Array(size).fill(-1);
  const over = new Int32Array(size).fill(-1);
  const next = starts.slice(0, size);
  let count = 0;
  const enter = (at: number) => {
    entered[at] = count;
    lowest[at] = count;
    order[count++] = at;
  };
  const begins = new Int32Array(roots.length + 1);
  for (const [nth, root] of roots.entries()) {
    enter(root);
    for (let at = root; at !== -1;) {
      const place = next[at] ?? 0;
      if (place < (starts[at + 1] ?? 0)) {
        next[at] = place + 1;
        const one = cable[place] ?? 0;
        if (away.cables[one] || one === over[at]) continue;
        const to = farEnd(cabling, one, at);
        if (away.devices[to] || to === at || level[to] !== 0) continue;
        if (entered[to] !== -1) lowest[at] = Math.min(lowest[at] ?? 0, entered[to] ?? 0);
        else {
          from[to] = at;
          over[to] = one;
          enter(to);
          at = to;
        }
        continue;
      }
      const above = from[at] ?? -1;
      if (above !== -1) lowest[above] = Math.min(lowest[above] ?? 0, lowest[at] ?? 0);
      at = above;
    }
    begins[nth + 1] = count;
  }
  return { order, entered, lowest, from, over, begins };
}

/**
 * A device in the middle of what is reached from each of some others, none of which reaches another.
 * @param standing by device: which of several that stand in the middle is meant, the highest first; by their cables where it is not given
 */
export function heartsOf(cabling: Cabling, away: Away, starts: readonly number[], standing?: Uint8Array): number[] {
  const { order, entered, lowest, from, begins } = search(cabling, away, starts);
  const below = new Int32Array(cabling.size);
  /** by device: the topmost device of the block by which it hangs */
  const block = new Int32Array(cabling.size).fill(-1);
  /** by device: all that is reached through it alone, itself too */
  const through = new Int32Array(cabling.size).fill(1);
  /** by device: what hangs on it by one block and is more than half of all; by such a block: the same of one of its devices, and its device with most cables */
  const heavy = new Int32Array(cabling.size).fill(-1);
  const inside = new Int32Array(cabling.size).fill(-1);
  const best = new Int32Array(cabling.size).fill(-1);
  const isParted = (at: number) => (lowest[at] ?? 0) >= (entered[from[at] ?? 0] ?? 0);
  const degree = (at: number) =>
    (cabling.starts[at + 1] ?? 0) - (cabling.starts[at] ?? 0) + 2 * cabling.a.length * (standing?.[at] ?? 0);
  return starts.map((start, root) => {
    const [first, end] = [begins[root] ?? 0, begins[root + 1] ?? 0];
    const count = end - first;
    for (let nth = end - 1; nth >= first; nth--) {
      const at = order[nth] ?? 0;
      below[at] = (below[at] ?? 0) + 1;
      const above = from[at] ?? -1;
      if (above !== -1) below[above] = (below[above] ?? 0) + (below[at] ?? 0);
    }
    for (let nth = first + 1; nth < end; nth++) {
      const at = order[nth] ?? 0;
      block[at] = isParted(at) ? at : (block[from[at] ?? 0] ?? -1);
    }
    for (let nth = end - 1; nth > first; nth--) {
      const at = order[nth] ?? 0;
      const above = from[at] ?? 0;
      if (isParted(at)) through[above] = (through[above] ?? 0) + (below[at] ?? 0);
    }
    for (let nth = first + 1; nth < end; nth++) {
      const at = order[nth] ?? 0;
      if (isParted(at) && 2 * (below[at] ?? 0) > count) heavy[from[at] ?? 0] = at;
      const own = block[at] ?? 0;
      if (2 * (through[at] ?? 0) > count) inside[own] = at;
      const before = best[own] ?? -1;
      if (before < 0 || degree(at) > degree(before) || (degree(at) === degree(before) && at < before)) best[own] = at;
    }
    // what a block hangs on stands in it too
    for (let nth = first + 1; nth < end; nth++) {
      const at = order[nth] ?? 0;
      const top = from[at] ?? 0;
      if (block[at] === at && degree(top) > degree(best[at] ?? 0)) best[at] = top;
    }
    for (let at = start; ;) {
      const into = heavy[at] ?? -1;
      if (into < 0) return at;
      const next = inside[into] ?? -1;
      if (next < 0) return best[into] ?? at;
      at = next;
    }
  });
}

/** @param hearts of networks that are not joined */
export function onlyWays(cabling: Cabling, away: Away, hearts: readonly number[]): OnlyWays {
  const { order, entered, lowest, from, over, begins } = search(cabling, away, hearts);
  const heart = new Int32Array(cabling.size).fill(-1);
  const depth = new Int32Array(cabling.size).fill(-1);
  const nearest = new Int32Array(cabling.size).fill(-1);
  const nearestCable = new Int32Array(cabling.size).fill(-1);
  const cableAbove = new Int32Array(cabling.a.length).fill(-1);
  hearts.forEach((middle, root) => {
    depth[middle] = 0;
    heart[middle] = middle;
    for (let nth = (begins[root] ?? 0) + 1; nth < (begins[root + 1] ?? 0); nth++) {
      const at = order[nth] ?? 0;
      const above = from[at] ?? 0;
      const [reach, entry] = [lowest[at] ?? 0, entered[above] ?? 0];
      const device = reach >= entry && above !== middle;
      const cable = reach > entry;
      heart[at] = middle;
      depth[at] = (depth[above] ?? 0) + Number(device) + Number(cable);
      nearest[at] = device ? above : (nearest[above] ?? -1);
      nearestCable[at] = cable ? (over[at] ?? -1) : (nearestCable[above] ?? -1);
      if (cable) cableAbove[over[at] ?? 0] = nearestCable[above] ?? -1;
    }
  });
  const ways: OnlyWays = { heart, depth, nearest, nearestCable, cableAbove };
  for (const end of cabling.ends) if (!away.devices[end]) placeEnd(cabling, away, ways, end);
  return ways;
}

/** What passes nothing on has only one of what all that it hangs on have only one of. */
function placeEnd(cabling: Cabling, away: Away, ways: OnlyWays, end: number): void {
  const { heart, depth, nearest, nearestCable, cableAbove } = ways;
  const hangsOn = new Map<number, number[]>();
  for (let place = cabling.starts[end] ?? 0; place < (cabling.starts[end + 1] ?? 0); place++) {
    const cable = cabling.cable[place] ?? 0;
    const other = farEnd(cabling, cable, end);
    if (away.cables[cable] || away.devices[other] || (depth[other] ?? -1) < 0 || !passesOn(cabling, other, end))
      continue;
    const known = hangsOn.get(other);
    if (known) known.push(cable);
    else hangsOn.set(other, [cable]);
  }
  const [first, ...others] = [...hangsOn.keys()];
  if (first === undefined) return;
  heart[end] = heart[first] ?? -1;
  const isHeart = (device: number) => heart[device] === device;
  if (others.length === 0) {
    const [cable = -1, second] = hangsOn.get(first) ?? [];
    const isOnlyCable = second === undefined;
    depth[end] = (depth[first] ?? 0) + Number(!isHeart(first)) + Number(isOnlyCable);
    nearest[end] = isHeart(first) ? -1 : first;
    nearestCable[end] = isOnlyCable ? cable : (nearestCable[first] ?? -1);
    if (isOnlyCable) cableAbove[cable] = nearestCable[first] ?? -1;
    return;
  }
  const withItself = (device: number) => [...(isHeart(device) ? [] : [device]), ...devicesBetween(ways, device)];
  const inAll = <Of>(of: (device: number) => Of[]): Of[] => {
    const rest = others.map((other) => new Set(of(other)));
    return of(first).filter((one) => rest.every((own) => own.has(one)));
  };
  const devices = inAll(withItself);
  const cables = inAll((device) => cablesBetween(ways, device));
  depth[end] = devices.length + cables.length;
  nearest[end] = devices[0] ?? -1;
  nearestCable[end] = cables[0] ?? -1;
}

/** The single cables between a device and the heart, nearest first. */
export function cablesBetween({ nearestCable, cableAbove }: OnlyWays, device: number): number[] {
  const found: number[] = [];
  for (let at = nearestCable[device] ?? -1; at !== -1; at = cableAbove[at] ?? -1) found.push(at);
  return found;
}

/** The single devices between one and the heart, nearest first. */
export function devicesBetween({ nearest }: OnlyWays, device: number): number[] {
  const found: number[] = [];
  for (let at = nearest[device] ?? -1; at !== -1; at = nearest[at] ?? -1) found.push(at);
  return found;
}
