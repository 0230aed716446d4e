import { neighboursOf, type Joint } from './joints';
import { ringsOf } from './rings';

/** The links of one earlier moment. */
export interface EarlierLinks<Link extends Joint> {
  survey: number;
  links: readonly Link[];
}

/** A link that has no spare any more: since which survey, and with whose loss it went. */
export interface LostSpare<Link extends Joint> {
  since: number;
  gone: Link | null;
}

/**
 * Links that stand alone now and stood on a ring before, by their place among `now`. What went is looked for on the way that once led around the link: the first
 * cable of it that is not there any more.
 * @param earlier surveys before this one, newest first
 * @param survey the number of the survey looked at
 */
export function lostSpares<Link extends Joint>(
  survey: number,
  now: readonly Link[],
  earlier: readonly EarlierLinks<Link>[],
): Map<number, LostSpare<Link>> {
  const pair = ({ a, b }: Joint) => (a < b ? `${a} ${b}` : `${b} ${a}`);
  const rings = ringsOf(now);
  const open = new Map<number, string>();
  now.forEach((link, at) => {
    if (link.a !== link.b && (rings[at] ?? -1) < 0) open.set(at, pair(link));
  });
  const here = new Set(now.map(pair));
  const found = new Map<number, LostSpare<Link>>();
  let since = survey;
  for (const { survey: then, links } of earlier) {
    if (open.size === 0) break;
    const ringOf = ringsOf(links);
    const onRing = new Set(links.filter((_, at) => (ringOf[at] ?? -1) >= 0).map(pair));
    const known = new Set(links.map(pair));
    let way: ((of: Joint) => Link[]) | null = null;
    for (const [at, key] of [...open]) {
      if (onRing.has(key)) {
        way ??= wayAround(links);
        const link = now[at];
        const gone = link ? (way(link).find((other) => !here.has(pair(other))) ?? null) : null;
        found.set(at, { since, gone });
        open.delete(at);
      } else if (!known.has(key)) open.delete(at);
    }
    since = then;
  }
  return found;
}

/** The links of the shortest way between the ends of a link that does not cross it. Breadth-first. */
function wayAround<Link extends Joint>(links: readonly Link[]): (of: Joint) => Link[] {
  const neighbours = neighboursOf(links);
  const byPair = new Map(
    links.flatMap((link) => [
      [`${link.a} ${link.b}`, link],
      [`${link.b} ${link.a}`, link],
    ]),
  );
  return ({ a, b }) => {
    const cameFrom = new Map<number, number>([[a, a]]);
    const queue = [a];
    for (const at of queue) {
      for (const next of neighbours.get(at) ?? []) {
        if (cameFrom.has(next) || (at === a && next === b)) continue;
        cameFrom.set(next, at);
        queue.push(next);
      }
      if (cameFrom.has(b)) break;
    }
    const way: Link[] = [];
    for (let at = b; at !== a;) {
      const before = cameFrom.get(at);
      if (before === undefined) return [];
      const link = byPair.get(`${before} ${at}`);
      if (link) way.push(link);
      at = before;
    }
    return way.reverse();
  };
}
