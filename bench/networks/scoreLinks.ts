import type { LinkFacts } from '../../src/core/topology/links';
import type { Network, TrueLink } from './network';

export interface LinkClassScore {
  /** links there are, and those that are found */
  there: number;
  found: number;
  recall: number;
  /** links that were told, and those of them that are there */
  told: number;
  right: number;
  precision: number;
}

export interface LinkScore {
  /** of links of which at least one end hears the other by LLDP */
  heard: LinkClassScore;
  /** of links of which none does */
  unheard: LinkClassScore;
  /** of those: rests, and spanning tree is not told of: nobody can know */
  invisible: number;
  /** links through something that nobody asked, which are told as such and counted as neither */
  segments: number;
  /** members of aggregates: pairs that are told, and right */
  members: { told: number; right: number };
}

const share = (part: number, whole: number) => (whole === 0 ? 1 : Math.round((part / whole) * 100_000) / 100_000);
const keyOf = ({ a, b }: Pick<TrueLink, 'a' | 'b'>) =>
  [`${a.deviceId} ${a.port}`, `${b.deviceId} ${b.port}`].sort().join(' | ');

/** How links stand to what is true, by whether a neighbour protocol tells of them. Links to machines are not counted. */
export function scoreLinks({ devices, links }: Network, found: readonly LinkFacts[]): LinkScore {
  const bridges = new Set(
    devices.filter(({ device }) => device.role === 'switch' || device.role === 'router').map(({ id }) => id),
  );
  const between = found.filter(({ a, b, segment }) => !segment && bridges.has(a.deviceId) && bridges.has(b.deviceId));
  const truth = new Map(links.map((link) => [keyOf(link), link]));
  const told = new Map(between.map((link) => [keyOf(link), link]));
  const of = (heard: boolean): LinkClassScore => {
    const there = links.filter(({ reports }) => reports > 0 === heard);
    const tellsNow = between.filter(({ evidence }) => evidence.some(({ source }) => source === 'lldp') === heard);
    const hit = there.filter((link) => told.has(keyOf(link))).length;
    const right = tellsNow.filter((link) => truth.has(keyOf(link))).length;
    return {
      there: there.length,
      found: hit,
      recall: share(hit, there.length),
      told: tellsNow.length,
      right,
      precision: share(right, tellsNow.length),
    };
  };
  const pairs = between.flatMap((link) => {
    const real = truth.get(keyOf(link));
    const turned = real?.a.deviceId !== link.a.deviceId;
    return (link.members ?? [])
      .filter(({ a, b }) => a !== '' && b !== '')
      .map(
        ({ a, b }) =>
          real?.members.some((pair) => (turned ? pair.a === b && pair.b === a : pair.a === a && pair.b === b)) ?? false,
      );
  });
  return {
    heard: of(true),
    unheard: of(false),
    invisible: links.filter(({ reports, blocked, spans }) => reports === 0 && blocked && !spans).length,
    segments: found.filter(({ segment }) => segment).length,
    members: { told: pairs.length, right: pairs.filter(Boolean).length },
  };
}
