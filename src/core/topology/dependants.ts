import { neighboursOf, reachedFrom, type Joint } from './joints';

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
  const neighbours = neighboursOf(joints);
  const around = [...new Set(neighbours.get(device) ?? [])].sort((x, y) => x - y);
  const seen = new Set([device]);
  const parts: number[][] = [];
  for (const start of around) if (!seen.has(start)) parts.push(reachedFrom(start, neighbours, seen));
  const lowest = (part: number[]) => part.reduce((least, one) => Math.min(least, one));
  const [rest] = parts.filter(({ length }) => length > 1).sort((x, y) => y.length - x.length || lowest(x) - lowest(y));
  const kept = new Set(rest);
  return {
    cutOff: parts
      .filter((part) => part !== rest)
      .flat()
      .sort((x, y) => x - y),
    spared: around.filter((one) => kept.has(one)),
  };
}
