import type { Joint } from './joints';

/**
 * Which links stand on a ring, so that their loss parts nobody: the two-edge-connected components of the graph of links. Each link beyond a spanning tree closes a ring with the way
 * between its ends; what such a way crosses grows together (union-find along the tree, as in R. Tarjan, “Efficiency of a good but not linear set union algorithm”, 1975). Near-linear.
 * @returns by link, in their order: the number of what its rings have grown into, −1 for a link without a spare
 */
export function ringsOf(joints: readonly Joint[]): Int32Array {
  const places = new Map<number, number>();
  const placeOf = (id: number) => {
    let place = places.get(id);
    if (place === undefined) places.set(id, (place = places.size));
    return place;
  };
  const ends = joints.map(({ a, b }) => [placeOf(a), placeOf(b)] as const);
  const around: { to: number; edge: number }[][] = Array.from(places, () => []);
  ends.forEach(([a, b], edge) => {
    if (a === b) return;
    around[a]?.push({ to: b, edge });
    around[b]?.push({ to: a, edge });
  });
  const parent = new Int32Array(places.size).fill(-1);
  const depth = new Int32Array(places.size).fill(-1);
  const inTree = new Uint8Array(joints.length);
  for (let root = 0; root < places.size; root++) {
    if ((depth[root] ?? -1) >= 0) continue;
    depth[root] = 0;
    const queue = [root];
    for (const at of queue) {
      for (const { to, edge } of around[at] ?? []) {
        if ((depth[to] ?? -1) >= 0) continue;
        depth[to] = (depth[at] ?? 0) + 1;
        parent[to] = at;
        inTree[edge] = 1;
        queue.push(to);
      }
    }
  }
  // the top of what has grown together, going down the tree
  const top = Int32Array.from(parent.keys());
  const topOf = (at: number) => {
    let found = at;
    while (top[found] !== found) found = top[found] ?? found;
    for (let next = at; next !== found;) {
      const above = top[next] ?? found;
      top[next] = found;
      next = above;
    }
    return found;
  };
  ends.forEach(([a, b], edge) => {
    if (a === b || inTree[edge]) return;
    let [x, y] = [topOf(a), topOf(b)];
    while (x !== y) {
      if ((depth[x] ?? 0) < (depth[y] ?? 0)) [x, y] = [y, x];
      const above = topOf(parent[x] ?? x);
      top[x] = above;
      x = above;
    }
  });
  return Int32Array.from(ends, ([a, b]) => (a !== b && topOf(a) === topOf(b) ? topOf(a) : -1));
}
