import { neighboursOf, type Joint } from '../topology/joints';

/** All that is within so many links of some devices, these included. Breadth-first. */
export function within(start: Iterable<number>, joints: Iterable<Joint>, steps: number): Set<number> {
  const neighbours = neighboursOf(joints);
  const found = new Set(start);
  let edge = [...found];
  for (let step = 0; step < steps && edge.length > 0; step++) {
    edge = edge
      .flatMap((at) => neighbours.get(at) ?? [])
      .filter((next) => {
        if (found.has(next)) return false;
        found.add(next);
        return true;
      });
  }
  return found;
}
