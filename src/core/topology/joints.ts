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
