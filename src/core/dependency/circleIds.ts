import type { Circle } from './circle';

/** A circle stays the same one where it has so much in common with what it was (P. Jaccard, 1901). */
const sameShare = 0.3;

/** Each keeps the id of the earlier one it has most in common with; a new one is called after its first host. */
export function withIds(circles: readonly Circle[], before: readonly Circle[]): Circle[] {
  const earlier = new Map(before.flatMap((circle, at) => circle.hosts.map(({ id }) => [id, at] as const)));
  const claims = circles
    .flatMap((circle, at) => {
      const common = new Map<number, number>();
      for (const { id } of circle.hosts) {
        const was = earlier.get(id);
        if (was !== undefined) common.set(was, (common.get(was) ?? 0) + 1);
      }
      return [...common].map(([was, count]) => ({
        at,
        was,
        share: count / (circle.hosts.length + (before[was]?.hosts.length ?? 0) - count),
      }));
    })
    .sort((x, y) => y.share - x.share || x.at - y.at);
  const ids = new Map<number, string>();
  const taken = new Set<string>();
  for (const { at, was, share } of claims) {
    const id = before[was]?.id ?? '';
    if (share < sameShare || ids.has(at) || taken.has(id)) continue;
    ids.set(at, id);
    taken.add(id);
  }
  return circles.map((circle, at) => {
    let id = ids.get(at) ?? '';
    for (let nth = 0; id === '' || (taken.has(id) && !ids.has(at)); nth++)
      id = `${circle.hosts[0]?.id ?? at}${nth > 0 ? `-${nth}` : ''}`;
    taken.add(id);
    ids.set(at, id);
    return { ...circle, id };
  });
}
