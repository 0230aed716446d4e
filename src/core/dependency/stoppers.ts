import { farEnd, nothingAway, passesOn, type Away } from './cabling';
import { devicesBetween, onlyWays, type OnlyWays } from './onlyWays';
import { Providers } from './providers';
import { fates, type Rehearsals } from './rehearse';

/** The smallest sets whose loss stops a thing: single ones, and pairs of which neither alone does. */
export interface Stoppers {
  ones: number[];
  pairs: [number, number][];
  /** whether there are more pairs than were looked for */
  areMore: boolean;
}

/** More pairs help nobody. */
const mostPairs = 200;
/** Where a thing rests on more than these, pairs are looked for among the first, or not at all, and that is told. */
const mostCarriers = 150;
const mostRested = 3000;

/**
 * What stops a thing. Whatever stops it takes something away from each set that carries it: so one of every pair stands in any such set, as the first of each kind of those it needs and one way from each of them to the heart of the
 * network. With that one away, the other is found as a single one. Each pair is rehearsed before it is told. What parts the heart of the network from its larger half stops everything and nothing: it is not told.
 */
export function stoppersOf(
  rehearsals: Rehearsals,
  thing: number,
  providers = new Providers(rehearsals.graph),
): Stoppers {
  const { graph, ways, hearts } = rehearsals;
  const rests = providers.closure(thing);
  const middles = new Set(rests.map((one) => ways.heart[one] ?? -1).filter((heart) => heart >= 0));
  const stops = (...things: number[]) => {
    const { fate } = rehearsals.rehearse({ things, lostAlone: true });
    const isParted = [...middles].some((heart) => fates[fate[heart] ?? 0] === 'lost');
    return fates[fate[thing] ?? 0] === 'lost' && !isParted;
  };
  const nothing = nothingAway(graph.cabling);
  const first = carriersOf(rehearsals, providers, thing, null, nothing, hearts);
  const ones = first.filter((one) => one !== thing && stops(one)).sort((x, y) => x - y);
  const single = new Set(ones);
  const pairs = new Map<string, [number, number]>();
  const known = rests.length > mostRested ? [] : first.slice(0, mostCarriers);
  let areMore = known.length < first.length;
  for (const one of known) {
    if (single.has(one) || one === thing) continue;
    const away = nothingAway(graph.cabling);
    if (one < graph.deviceCount) away.devices[one] = 1;
    const left = hearts.includes(one) ? rehearsals.heartsWith(away) : hearts;
    const without = onlyWays(graph.cabling, away, left);
    const { fate } = rehearsals.rehearse({ things: [one], lostAlone: true });
    for (const second of carriersOf(rehearsals, providers, thing, fate, away, left)) {
      if (second === one || second === thing || single.has(second)) continue;
      const pair: [number, number] = one < second ? [one, second] : [second, one];
      const key = pair.join(' ');
      if (pairs.has(key) || !mayStop(providers, rests, thing, pair, without) || !stops(...pair)) continue;
      if (pairs.size >= mostPairs) {
        areMore = true;
        break;
      }
      pairs.set(key, pair);
    }
  }
  return { ones, pairs: [...pairs.values()].sort((x, y) => x[0] - y[0] || x[1] - y[1]), areMore };
}

/** Whether a thing falls with two others as far as needs and single ways tell: it spares asking of those that surely do not. */
function mayStop(
  providers: Providers,
  rests: readonly number[],
  thing: number,
  [first, second]: [number, number],
  without: OnlyWays,
): boolean {
  const { deviceCount } = providers.graph;
  const gone = new Set([first, second]);
  for (const one of rests) {
    if (one >= deviceCount) continue;
    if (gone.has(without.heart[one] ?? -1)) return true;
    if ((without.depth[one] ?? 0) < 0 || devicesBetween(without, one).some((between) => gone.has(between)))
      gone.add(one);
  }
  for (let grew = true; grew;) {
    grew = false;
    for (const one of rests) {
      if (gone.has(one)) continue;
      if (!providers.of(one).some(({ from, atLeast }) => from.filter((other) => !gone.has(other)).length < atLeast))
        continue;
      gone.add(one);
      grew = true;
    }
  }
  return gone.has(thing);
}

/** Everything whose loss alone could stop one of some things: what carries each of them while nothing is down. */
export function carriersOfAll(rehearsals: Rehearsals, things: readonly number[], providers: Providers): Set<number> {
  const nothing = nothingAway(rehearsals.graph.cabling);
  const { hearts } = rehearsals;
  return new Set(things.flatMap((thing) => carriersOf(rehearsals, providers, thing, null, nothing, hearts)));
}

/** One set that carries a thing: of those it needs so many as it needs that stand, and a way from each to the heart of its network. @param fate what stands; all where it is not given */
function carriersOf(
  { graph }: Rehearsals,
  providers: Providers,
  thing: number,
  fate: Uint8Array | null,
  away: Away,
  hearts: readonly number[],
): number[] {
  const stands = (one: number) => fate === null || !['lost', 'down'].includes(fates[fate[one] ?? 0] ?? '');
  const found = new Set([thing]);
  for (const one of found)
    for (const { from, atLeast } of providers.of(one)) {
      let wanted = atLeast;
      for (const other of from) {
        if (wanted === 0) break;
        if (!stands(other)) continue;
        found.add(other);
        wanted--;
      }
    }
  const { cabling } = graph;
  const towards = new Int32Array(cabling.size).fill(-1);
  for (const heart of hearts) towards[heart] = heart;
  const queue = [...hearts];
  for (const at of queue)
    for (let place = cabling.starts[at] ?? 0; place < (cabling.starts[at + 1] ?? 0); place++) {
      const cable = cabling.cable[place] ?? 0;
      const to = farEnd(cabling, cable, at);
      if (towards[to] !== -1 || away.cables[cable] || away.devices[to] || !passesOn(cabling, at, to)) continue;
      towards[to] = at;
      queue.push(to);
    }
  for (const one of [...found]) {
    if (one >= graph.deviceCount) continue;
    for (let at = one, next = towards[at] ?? -1; ; at = next, next = towards[at] ?? -1) {
      found.add(at);
      if (next === -1 || next === at) break;
    }
  }
  return [...found];
}
