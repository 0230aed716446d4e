import type { Joint } from './dependants';

/**
 * What loses its way if the links between two devices are not there: whether they are a bridge of the graph of links, and what lies on the smaller side of it (where both are as
 * large, the side of the second). Links that spanning tree blocks count, since they open when another is lost. Breadth-first, linear in the number of joints.
 * @param parallel how many links join the two that stay
 * @returns the devices that are cut off, in the order of their numbers; none where there is another way
 */
export function cutByLink(first: number, second: number, joints: Iterable<Joint>, parallel = 0): number[] {
  if (parallel > 0) return [];
  const neighbours = new Map<number, number[]>();
  const join = (from: number, to: number) => {
    const known = neighbours.get(from);
    if (known) known.push(to);
    else neighbours.set(from, [to]);
  };
  for (const { a, b } of joints) {
    if ((a === first && b === second) || (a === second && b === first)) continue;
    join(a, b);
    join(b, a);
  }
  const sideOf = (start: number): number[] => {
    const side = [start];
    const seen = new Set(side);
    for (const at of side) {
      for (const next of neighbours.get(at) ?? []) {
        if (seen.has(next)) continue;
        seen.add(next);
        side.push(next);
      }
    }
    return side;
  };
  const near = sideOf(first);
  if (near.includes(second)) return [];
  const far = sideOf(second);
  return (near.length < far.length ? near : far).sort((x, y) => x - y);
}
