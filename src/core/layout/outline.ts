export interface Corner {
  x: number;
  y: number;
}
export interface Rectangle {
  x: number;
  y: number;
  width: number;
  height: number;
}

/**
 * The convex hull of some rectangles, each larger by a margin, anticlockwise on a plane whose y grows downwards (A. Andrew, “Another efficient algorithm for convex hulls in two dimensions”, 1979).
 * @returns no corners for no rectangles
 */
export function outlineOf(rectangles: readonly Rectangle[], margin: number): Corner[] {
  const points = rectangles.flatMap(({ x, y, width, height }) =>
    [x - margin, x + width + margin].flatMap((left) =>
      [y - margin, y + height + margin].map((top): Corner => ({ x: left, y: top })),
    ),
  );
  points.sort((one, other) => one.x - other.x || one.y - other.y);
  const turns = (a: Corner, b: Corner, c: Corner) => (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
  const half = (ordered: readonly Corner[]): Corner[] => {
    const chain: Corner[] = [];
    for (const point of ordered) {
      for (
        let [last, before] = [chain.at(-1), chain.at(-2)];
        last && before && turns(before, last, point) <= 0;
        [last, before] = [chain.at(-1), chain.at(-2)]
      )
        chain.pop();
      chain.push(point);
    }
    return chain.slice(0, -1);
  };
  return [...half(points), ...half([...points].reverse())];
}
