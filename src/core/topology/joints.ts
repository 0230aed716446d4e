/** Two devices that are joined, by their numbers; which is named first does not matter. */
export interface Joint {
  a: number;
  b: number;
}

/** Who is joined to whom. A device that is joined to itself is not counted. */
export function neighboursOf(joints: Iterable<Joint>): Map<number, number[]> {
  const neighbours = new Map<number, number[]>();
  const join = (from: number, to: number) => {
    const known = neighbours.get(from);
    if (known) known.push(to);
    else neighbours.set(from, [to]);
  };
  for (const { a, b } of joints) {
    if (a === b) continue;
    join(a, b);
    join(b, a);
  }
  return neighbours;
}

/** All that is reached from a device, itself first, breadth-first. @param seen devices that are not gone to; those that are reached are added */
export function reachedFrom(
  start: number,
  neighbours: ReadonlyMap<number, readonly number[]>,
  seen: Set<number>,
): number[] {
  seen.add(start);
  const reached = [start];
  for (const at of reached) {
    for (const next of neighbours.get(at) ?? []) {
      if (seen.has(next)) continue;
      seen.add(next);
      reached.push(next);
    }
  }
  return reached;
}
