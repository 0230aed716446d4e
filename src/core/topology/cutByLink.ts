import { neighboursOf, reachedFrom, type Joint } from './joints';

/**
 * What loses its way if the links between two devices are not there: whether they are a bridge of the graph of links, and what lies on the smaller side of it (where both are as
 * large, the side of the second). Links that spanning tree blocks count, since they open when another is lost. Breadth-first, linear in the number of joints.
 * @param parallel how many links join the two that stay
 * @returns the devices that are cut off, in the order of their numbers; none where there is another way
 */
export function cutByLink(first: number, second: number, joints: Iterable<Joint>, parallel = 0): number[] {
  if (parallel > 0) return [];
  const rest = [...joints].filter(({ a, b }) => !((a === first && b === second) || (a === second && b === first)));
  const neighbours = neighboursOf(rest);
  const near = reachedFrom(first, neighbours, new Set());
  if (near.includes(second)) return [];
  const far = reachedFrom(second, neighbours, new Set());
  return (near.length < far.length ? near : far).sort((x, y) => x - y);
}
