/** Two devices that are joined, by their numbers; which is named first does not matter. */
export interface Joint {
  a: number;
  b: number;
}

export interface Dependants {
  /** devices that reach the rest of the network only through it, in the order of their numbers */
  cutOff: number[];
  /** direct neighbours that keep another way to the rest */
  spared: number[];
}

/**
 * What loses its way if one device is not there: whether it is a cut vertex of the graph of links, and what lies behind it. The rest of the network is the largest part that
 * stays together without the device (of several as large, the one with the lowest number), if more than one device is in it; every other part is cut off. Links that spanning
 * tree blocks count, since they open when another is lost. Breadth-first, linear in the number of joints.
 */
export function dependantsOf(device: number, joints: Iterable<Joint>): Dependants {
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
  const around = [...new Set(neighbours.get(device) ?? [])].sort((x, y) => x - y);
  const seen = new Set([device]);
  const parts: number[][] = [];
  for (const start of around) {
    if (seen.has(start)) continue;
    seen.add(start);
    const part = [start];
    for (const at of part) {
      for (const next of neighbours.get(at) ?? []) {
        if (seen.has(next)) continue;
        seen.add(next);
        part.push(next);
      }
    }
    parts.push(part);
  }
  const lowest = (part: number[]) => part.reduce((least, one) => Math.min(least, one));
  const [rest] = parts.filter(({ length }) => length > 1).sort((x, y) => y.length - x.length || lowest(x) - lowest(y));
  const kept = new Set(rest);
  return { cutOff: parts.filter((part) => part !== rest).flat().sort((x, y) => x - y), spared: around.filter((one) => kept.has(one)) };
}
