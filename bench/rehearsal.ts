import { prepareGraph, type Need, type Thing } from '../src/core/dependency/graph';
import { fates, Rehearsals } from '../src/core/dependency/rehearse';
import { stoppersOf } from '../src/core/dependency/stoppers';
import { Providers } from '../src/core/dependency/providers';
import { suspectsFor } from '../src/core/dependency/suspects';

export interface Made {
  things: Thing[];
  deviceCount: number;
  cables: { a: number; b: number }[];
  needs: Need[];
  hangsOn: Int32Array;
  /** by device: 0 for servers, which are no way between their switches */
  forwards: Uint8Array;
}

/** The same numbers each time. */
function numbers(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return Math.floor((state / 2 ** 32) * below);
  };
}

/** A campus: a core of four, distribution pairs, access switches on both or one of a pair, rings of stops; endpoints, services on servers, any of which several stand in for each other, applications. */
export function campus(size: number, seed = 7): Made {
  const pick = numbers(seed);
  const things: Thing[] = [];
  const cables: Made['cables'] = [];
  const needs: Need[] = [];
  const add = (kind: Thing['kind']) => things.push({ kind, id: String(things.length), name: `t${things.length}` }) - 1;
  const join = (a: number, b: number) => cables.push({ a, b });
  const core = [0, 1, 2, 3].map(() => add('device'));
  for (const a of core) for (const b of core) if (a < b) join(a, b);
  const access: number[] = [];
  const pairs: [number, number][] = [];
  while (things.length < size * 0.35) {
    const pair: [number, number] = [add('device'), add('device')];
    pairs.push(pair);
    join(pair[0], pair[1]);
    join(pair[0], core[pick(4)] ?? 0);
    join(pair[1], core[pick(4)] ?? 0);
    for (let nth = 0; nth < 40; nth++) {
      const one = add('device');
      access.push(one);
      join(one, pair[0]);
      if (pick(4) > 0) join(one, pair[1]);
    }
    // a ring of stops between the two, with a spur
    let last = pair[0];
    for (let nth = 0; nth < 8; nth++) {
      const stop = add('device');
      join(last, stop);
      access.push(stop);
      last = stop;
      if (nth === 4) join(stop, add('device'));
    }
    join(last, pair[1]);
  }
  const servers = Array.from({ length: Math.round(size * 0.05) }, () => {
    const server = add('device');
    const pair = pairs[pick(pairs.length)] ?? [0, 1];
    join(server, pair[0]);
    if (pick(3) > 0) join(server, pair[1]);
    return server;
  });
  const deviceCount = things.length;
  const hangs: number[] = [];
  while (things.length < size * 0.75) hangs[add('endpoint')] = access[pick(access.length)] ?? 0;
  const need = (of: number, from: number[], atLeast: number, kind: Need['kind']) =>
    needs.push({ of, from: [...new Set(from)], atLeast: Math.min(atLeast, new Set(from).size), kind, proof: '' });
  // what everybody asks, each served twice
  const shared = [0, 1, 2].map(() =>
    [0, 1].map(() => {
      const one = add('service');
      need(one, [servers[pick(servers.length)] ?? 0], 1, 'runs on');
      return one;
    }),
  );
  // an application is a dozen services: some stand in for each other, and each asks those behind it
  while (things.length < size - 12) {
    const own: number[] = [];
    for (let nth = 0; nth < 12; nth++) {
      const service = add('service');
      need(service, [servers[pick(servers.length)] ?? 0], 1, 'runs on');
      need(service, shared[pick(3)] ?? [], 1, 'talks to');
      for (let behind = 0; behind + 1 < own.length; behind += 1) {
        const pair = [own[behind] ?? 0, own[behind + 1] ?? 0];
        need(service, pair, pick(5) === 0 ? 2 : pick(4) === 0 ? 0 : 1, 'talks to');
      }
      own.push(service);
    }
    const application = add('application');
    for (let nth = 0; nth < 12; nth += 3) need(application, own.slice(nth, nth + 3), 1 + pick(2), 'member of');
  }
  return {
    things,
    deviceCount,
    cables,
    needs,
    hangsOn: Int32Array.from(things, (_, at) => hangs[at] ?? -1),
    forwards: Uint8Array.from({ length: deviceCount }, (_, at) => Number(!servers.includes(at))),
  };
}

export const graphOf = ({ things, deviceCount, cables, needs, hangsOn, forwards }: Made) =>
  prepareGraph({
    things,
    deviceCount,
    cables,
    needs,
    hangsOn,
    bridges: new Uint8Array(deviceCount).fill(1),
    forwards,
    standing: Uint8Array.from({ length: deviceCount }, (_, at) => Number(at < 4)),
    layers: [],
    gatewayGroups: [],
    clusterHosts: [],
    machines: [],
  });

/** Whom a device of the core reaches, asking neighbour after neighbour with sets: nothing of what is measured. */
function reachedFrom(
  start: number,
  around: readonly (readonly [number, number])[][],
  gone: ReadonlySet<number>,
  forwards: Uint8Array,
  cut = -1,
) {
  const seen = new Set([start]);
  for (const at of seen)
    for (const [to, cable] of forwards[at] ? (around[at] ?? []) : []) if (cable !== cut && !gone.has(to)) seen.add(to);
  return seen;
}

const aroundOf = ({ deviceCount, cables }: Made) => {
  const around: (readonly [number, number])[][] = Array.from({ length: deviceCount }, () => []);
  cables.forEach(({ a, b }, cable) => {
    around[a]?.push([b, cable]);
    around[b]?.push([a, cable]);
  });
  return around;
};

/** What is lost, asked step by step until nothing more is. */
function lostTruth(made: Made, down: readonly number[]): Set<number> {
  const around = aroundOf(made);
  const gone = new Set(down);
  const start = [0, 1, 2, 3].find((one) => !gone.has(one)) ?? 0;
  const reached = reachedFrom(start, around, gone, made.forwards);
  const lost = new Set(down);
  for (let device = 0; device < made.deviceCount; device++) if (!reached.has(device)) lost.add(device);
  made.hangsOn.forEach((at, thing) => at >= 0 && lost.has(at) && lost.add(thing));
  for (let grew = true; grew;) {
    grew = false;
    for (const { of, from, atLeast } of made.needs)
      if (!lost.has(of) && from.filter((one) => !lost.has(one)).length < atLeast) {
        lost.add(of);
        grew = true;
      }
  }
  return lost;
}

/** What has fewer to choose from: a device that more single devices or cables part from the core than before; a need with fewer; and what needs such alone. */
function degradedTruth(made: Made, down: readonly number[], lost: ReadonlySet<number>): Set<number> {
  const around = aroundOf(made);
  const gone = new Set(down);
  const heart = [0, 1, 2, 3].find((one) => !gone.has(one)) ?? 0;
  const singles = (without: ReadonlySet<number>): Int32Array => {
    const counts = new Int32Array(made.deviceCount);
    for (let one = 0; one < made.deviceCount; one++) {
      if (one === heart || without.has(one)) continue;
      const reached = reachedFrom(heart, around, new Set([...without, one]), made.forwards);
      for (let device = 0; device < counts.length; device++)
        if (device !== one && !reached.has(device)) counts[device] = (counts[device] ?? 0) + 1;
    }
    for (let cut = 0; cut < made.cables.length; cut++) {
      const reached = reachedFrom(heart, around, without, made.forwards, cut);
      for (let device = 0; device < counts.length; device++)
        if (!reached.has(device)) counts[device] = (counts[device] ?? 0) + 1;
    }
    return counts;
  };
  const [then, now] = [singles(new Set()), singles(gone)];
  const worse = new Set<number>();
  for (let device = 0; device < made.deviceCount; device++)
    if (!lost.has(device) && (now[device] ?? 0) > (then[device] ?? 0)) worse.add(device);
  made.hangsOn.forEach((at, thing) => at >= 0 && worse.has(at) && !lost.has(thing) && worse.add(thing));
  for (const { of, from } of made.needs) if (!lost.has(of) && from.some((one) => lost.has(one))) worse.add(of);
  for (let grew = true; grew;) {
    grew = false;
    for (const { of, from, atLeast } of made.needs)
      if (!lost.has(of) && !worse.has(of) && from.filter((one) => !lost.has(one) && !worse.has(one)).length < atLeast) {
        worse.add(of);
        grew = true;
      }
  }
  return worse;
}

const score = (found: ReadonlySet<number>, truth: ReadonlySet<number>) => {
  const hit = [...found].filter((one) => truth.has(one)).length;
  return {
    precision: found.size === 0 ? 1 : hit / found.size,
    recall: truth.size === 0 ? 1 : hit / truth.size,
  };
};

const median = (values: number[]): number => [...values].sort((x, y) => x - y)[Math.floor(values.length / 2)] ?? 0;
const worst = (values: number[]): number => Math.round(Math.max(...values));

/** Bench of rehearsals: whether what is lost and degraded is the truth, and how long rehearsals, suspects and cuts of two take on 50,000 things and 200,000 edges. */
export function benchRehearsal(): Record<string, unknown> {
  const chosen = (made: Made, seed: number, count: number): number[] => {
    const pick = numbers(seed);
    return [
      ...new Set(Array.from({ length: count }, () => (pick(2) ? pick(made.deviceCount) : pick(made.things.length)))),
    ].filter((one) => one > 0);
  };
  const exact = { lost: { precision: 1, recall: 1 }, degraded: { precision: 1, recall: 1 } };
  const least = (into: { precision: number; recall: number }, one: { precision: number; recall: number }) => {
    into.precision = Math.min(into.precision, one.precision);
    into.recall = Math.min(into.recall, one.recall);
  };
  const fateSet = (fate: Uint8Array, word: string) =>
    new Set(Array.from(fate, (one, at) => (fates[one] === word ? at : -1)).filter((at) => at >= 0));
  for (let seed = 1; seed <= 12; seed++) {
    const made = campus(900, seed);
    const down = chosen(made, seed * 31, 1 + (seed % 3));
    const { fate } = new Rehearsals(graphOf(made)).rehearse({ things: down });
    const lost = lostTruth(made, down);
    least(exact.degraded, score(fateSet(fate, 'degraded'), degradedTruth(made, down, lost)));
    for (const one of down) lost.delete(one);
    least(exact.lost, score(fateSet(fate, 'lost'), lost));
  }

  const made = campus(50_000);
  const edges =
    made.cables.length +
    made.hangsOn.filter((at) => at >= 0).length +
    made.needs.reduce((sum, { from }) => sum + from.length, 0);
  const graph = graphOf(made);
  const providers = new Providers(graph);
  const built = performance.now();
  const rehearsals = new Rehearsals(graph);
  const prepareMs = performance.now() - built;
  const times: Record<'rehearsal' | 'suspects' | 'cuts', number[]> = { rehearsal: [], suspects: [], cuts: [] };
  for (let seed = 1; seed <= 15; seed++) {
    const down = chosen(made, seed * 17, 1 + (seed % 4));
    const began = performance.now();
    const { fate } = rehearsals.rehearse({ things: down });
    times.rehearsal.push(performance.now() - began);
    const truth = lostTruth(made, down);
    for (const one of down) truth.delete(one);
    least(exact.lost, score(fateSet(fate, 'lost'), truth));
    const seen = [...fateSet(fate, 'lost')].slice(0, 6);
    if (seen.length > 0) {
      const asked = performance.now();
      suspectsFor(rehearsals, { down: seen }, () => [], providers);
      times.suspects.push(performance.now() - asked);
    }
  }
  let pairs = 0;
  for (let nth = 0; nth < 5; nth++) {
    const application = made.things.findLastIndex(
      ({ kind }, at) => kind === 'application' && at < made.things.length - nth * 500,
    );
    const began = performance.now();
    pairs += stoppersOf(rehearsals, application, providers).pairs.length;
    times.cuts.push(performance.now() - began);
  }
  return {
    things: made.things.length,
    edges,
    exact,
    prepareMs: Math.round(prepareMs),
    rehearsalMs: { median: Math.round(median(times.rehearsal)), worst: worst(times.rehearsal) },
    suspectsMs: { median: Math.round(median(times.suspects)), worst: worst(times.suspects) },
    cutsOfTwoMs: { median: Math.round(median(times.cuts)), worst: worst(times.cuts), pairs },
  };
}
