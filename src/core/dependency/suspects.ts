import { devicesBetween } from './onlyWays';
import { Providers } from './providers';
import { fates, type Rehearsals } from './rehearse';
import { runsOnIn, type ThingKind } from './graph';

/** What speaks for a suspect beside what it explains: faults it tells of, what changed on it, work under way. */
export interface Sign {
  kind: 'fault' | 'change' | 'work' | 'silent';
  words: string;
}

/** Something that would explain what is seen: a thing or a cable. */
export interface Suspect {
  thing: number | null;
  /** by its place among the cables of the graph */
  cable: number | null;
  /** 0 to 1 */
  score: number;
  /** of what is seen, what would be so if this were down */
  explains: number[];
  /** what would be down too, and was not named */
  missing: number[];
  signs: readonly Sign[];
}

export interface Seen {
  down: readonly number[];
  /** what goes on, but badly: explained by a lost spare too */
  slow?: readonly number[];
}

/** So many are thought through to the end. */
const mostTried = 32;
/** What was seen counts twice what would have to be seen too: nobody names everything. */
const weightOfSeen = 2;

/**
 * Ranked common causes of what is seen. Who may be one is what everything seen rests on, step by step, and what each device seen has only one of on its way to the heart of the network. Each is rehearsed: what it explains of what was seen
 * against what would be down too (the weighted harmonic mean of both, C. J. van Rijsbergen, “Information Retrieval”, 1979, chapter 7, of the kinds that were named), and what is known against it beside that.
 * Machines that start again elsewhere are explained by their host if they were seen down: they are for a while, or that failed; nobody misses them otherwise. A machine beside the device in it is no second suspect.
 */
export function suspectsFor(
  rehearsals: Rehearsals,
  { down, slow = [] }: Seen,
  signsOf: (thing: number) => readonly Sign[] = () => [],
  providers = new Providers(rehearsals.graph),
): Suspect[] {
  const { graph, ways } = rehearsals;
  const inside = new Map(
    graph.machines.flatMap((one) => (one.inside >= 0 ? [[one.machine, one.inside] as const] : [])),
  );
  const hostOf = new Map(graph.machines.flatMap((one) => (one.inside >= 0 ? [[one.inside, one.host] as const] : [])));
  // between a host and its machine there is no cable to look at
  const isCable = (cable: number) => {
    const { a = -1, b = -1 } = graph.cables[cable] ?? {};
    return hostOf.get(a) !== b && hostOf.get(b) !== a;
  };
  const runsOn = runsOnIn(graph);
  const seen = [...new Set([...down, ...slow])];
  const isSeen = new Set(seen);
  const votes = new Map<string, { thing: number | null; cable: number | null; votes: number }>();
  const vote = (thing: number | null, cable: number | null) => {
    const key = `${thing} ${cable}`;
    const own = votes.get(key);
    if (own) own.votes++;
    else votes.set(key, { thing, cable, votes: 1 });
  };
  for (const one of seen) {
    const rests = new Set(providers.closure(one));
    const cables = new Set<number>();
    for (const other of [...rests]) {
      if (other >= graph.deviceCount) continue;
      for (const between of devicesBetween(ways, other)) rests.add(between);
      for (let at = other; at !== -1; at = ways.nearest[at] ?? -1) {
        const cable = ways.nearestCable[at] ?? -1;
        if (cable >= 0 && isCable(cable)) cables.add(cable);
      }
      const heart = ways.heart[other] ?? -1;
      if (heart >= 0) rests.add(heart);
    }
    for (const other of rests) if (!rests.has(inside.get(other) ?? -1)) vote(other, null);
    for (const cable of cables) vote(null, cable);
  }
  const kinds = new Set<ThingKind>(seen.map((one) => graph.things[one]?.kind ?? 'device'));
  const slowly = new Set(slow);
  const tried = [...votes.values()]
    .map((one) => ({ ...one, signs: one.thing === null ? [] : signsOf(one.thing) }))
    .sort(
      (x, y) =>
        y.votes - x.votes ||
        y.signs.length - x.signs.length ||
        (x.thing ?? Infinity) - (y.thing ?? Infinity) ||
        (x.cable ?? 0) - (y.cable ?? 0),
    )
    .slice(0, mostTried);
  return tried
    .flatMap(({ thing, cable, signs }): Suspect[] => {
      const { fate, cause } = rehearsals.rehearse({
        things: thing === null ? [] : [thing],
        cables: cable === null ? [] : [cable],
        lostAlone: slow.length === 0,
      });
      const startsAgain = (at: number) => {
        const why = cause.get(at);
        return why?.kind === 'restart' && why.on !== null;
      };
      const explains: number[] = [];
      const missing: number[] = [];
      for (let at = 0; at < fate.length; at++) {
        const word = fates[fate[at] ?? 0];
        const isGone = word === 'down' || word === 'lost';
        if (isSeen.has(at)) {
          if (isGone || (slowly.has(at) && word === 'degraded') || startsAgain(at) || startsAgain(runsOn.get(at) ?? -1))
            explains.push(at);
        } else if (isGone && kinds.has(graph.things[at]?.kind ?? 'device')) missing.push(at);
      }
      if (explains.length === 0) return [];
      const recall = explains.length / seen.length;
      const precision = explains.length / (explains.length + missing.length);
      const square = weightOfSeen ** 2;
      const fit = ((1 + square) * precision * recall) / (square * precision + recall);
      const told = 1 - 0.5 ** signs.length;
      return [{ thing, cable, score: fit * (0.8 + 0.2 * told), explains, missing, signs }];
    })
    .sort(
      (x, y) =>
        y.score - x.score ||
        x.missing.length - y.missing.length ||
        Number(x.thing === null) - Number(y.thing === null) ||
        (x.thing ?? 0) - (y.thing ?? 0),
    );
}
