import path from 'node:path';
import { matrixOf } from '../src/server/dependencies/matrix';
import { serviceGroups } from '../src/server/dependencies/serviceGroups';
import { queryThing } from '../src/server/query/query';
import { tablesOf } from '../src/server/query/tables/estateTables';
import { readyTalk } from '../src/server/query/thread/readyTalk';
import { openStore, type Store } from '../src/store/base/database';
import { survey as surveys } from '../src/store/base/schema';
import { mergeTalk } from '../src/store/talk/live';
import { circlesOf, type AskedPort, type AskedTalk } from '../src/core/dependency/circles';
import type { Talk } from '../src/core/flow/talk';
import { temporaryFolder } from '../e2e/support/program';

const day = 86_400;
const firstMoment = 1_790_000_000;
const hosts = 20_000;
const services = 2000;
const outside = 180_000;

/** Numbers that look like chance, and are the same in each run. */
function chances(seed: number): (below: number) => number {
  let state = seed >>> 0;
  return (below) => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return Math.floor((state / 4_294_967_296) * below);
  };
}

const inside = (host: number) => `10.72.${host >> 8}.${host & 255}`;
const stranger = (one: number) => `198.51.${(one >> 8) & 255}.${one & 255}`;

/** Talk of a day: hosts ask services of their neighbourhood mostly, and others now and then. */
export function talkOf(count: number, nth: number, seed = nth): Talk[] {
  const chance = chances(seed + 1);
  return Array.from({ length: count }, () => {
    const host = chance(hosts);
    const neighbourhood = Math.floor((host / hosts) * 100);
    const service = chance(10) < 8 ? neighbourhood * 20 + chance(20) : chance(services);
    const isOutside = chance(10) < 2;
    const at = firstMoment + nth * day + chance(day);
    const packets = 1 + chance(100_000);
    return {
      client: isOutside ? stranger(chance(outside)) : inside(host),
      server: inside(hosts + service),
      port: 1024 + (service % 40) * 50 + chance(50),
      protocol: chance(10) === 0 ? 17 : 6,
      basis: 'opening' as const,
      events: 1 + chance(50),
      packets: { toServer: packets, toClient: packets },
      octets: { toServer: packets * 90, toClient: packets * 700 },
      firstSeen: at,
      lastSeen: at + 600,
      hours: [Math.floor(at / 3600)],
    };
  });
}

const talksAtOnce = 50_000;

/** Bench of what is asked of millions of conversations, over a file of its own: to write a day of them, to read all, each view, and what comes in a minute. */
export function benchTalk(wanted = 5_000_000): Record<string, unknown> {
  const store = openStore(path.join(temporaryFolder(), 'talk'));
  let stored = 0;
  let written = 0;
  for (let nth = 0; stored < wanted; nth++) {
    mergeTalk(store.db, `exporter ${nth % 3}`, talkOf(talksAtOnce, Math.floor(nth / 6), nth), new Date());
    written += talksAtOnce;
    if (nth % 10 === 9) stored = countOf(store);
  }
  const seconds = (of: () => void): number => {
    const began = performance.now();
    of();
    return Math.round(performance.now() - began) / 1000;
  };
  const days = Math.ceil(written / talksAtOnce / 6);
  const dayTalk = Array.from({ length: 6 }, (_, lot) => talkOf(talksAtOnce, days + 1, 900 + lot)).flat();
  const told: Record<string, unknown> = { conversations: stored, 'exporters told': written };
  told['a day of 300,000 more written, s'] = seconds(() => {
    for (let from = 0; from < dayTalk.length; from += 5000)
      mergeTalk(store.db, 'exporter 1', dayTalk.slice(from, from + 5000), new Date());
  });
  let longestStep = 0;
  told['all read, s'] = seconds(() => {
    let began = performance.now();
    for (const _ of tablesOf(store).readTalk()) {
      longestStep = Math.max(longestStep, performance.now() - began);
      began = performance.now();
    }
  });
  told['longest step of it, ms'] = Math.round(longestStep);
  // one moment in the midst of it all, and one after it
  const [before, survey] = [Math.floor(days / 2), days + 2].map((nth) => surveyAt(store, nth));
  if (before === undefined || survey === undefined) throw new Error('two surveys are wanted');
  const page = (where: string, sort: string[], against: number | null = null) =>
    queryThing(store, 'conversations', { survey, against, where, sort, page: 1, size: 200 });
  const views: Record<string, () => void> = {
    'first page': () => page('', ['clientName']),
    'a word': () => page('10.72.80.7', ['clientName']),
    'by bytes': () => page('', ['-bytes']),
    'rare talk': () => page('activeHours<=3 activeHours>0', ['clientName']),
    'a port, heard lately': () => page('port=1031 lastSeen>2020-01-01', ['-lastSeen']),
    'held against a moment before': () => page('', ['clientName'], before),
    'what came since': () => page('change=added', ['-bytes'], before),
    'an earlier moment': () =>
      void queryThing(store, 'conversations', {
        survey: before,
        against: null,
        where: '',
        sort: ['clientName'],
        page: 1,
        size: 200,
      }),
    'matrix of an earlier moment': () => matrixOf(store, before, 'network', '', null),
    'matrix by network': () => matrixOf(store, survey, 'network', '', null),
    'matrix by host': () => matrixOf(store, survey, 'host', '', null),
    services: () => serviceGroups(store, survey),
  };
  told['made ready, s'] = seconds(() => {
    for (const _ of readyTalk(store, survey));
  });
  for (const [name, ask] of Object.entries(views)) {
    const first = seconds(ask);
    told[`${name}: first, then, ms`] = [first, seconds(ask)].map((one) => Math.round(one * 1000));
  }
  mergeTalk(store.db, 'exporter 2', talkOf(5000, days + 2, 990), new Date());
  let longestMade = 0;
  told["a minute's talk made ready, s"] = seconds(() => {
    let began = performance.now();
    for (const _ of readyTalk(store, survey)) {
      longestMade = Math.max(longestMade, performance.now() - began);
      began = performance.now();
    }
  });
  told['longest step of that, ms'] = Math.round(longestMade);
  for (const [name, ask] of Object.entries(views))
    told[`${name} after a minute's talk, ms`] = Math.round(seconds(ask) * 1000);
  let longest = 0;
  told['circles, s'] = seconds(() => {
    let began = performance.now();
    for (const _ of tablesOf(store).circles(survey)) {
      longest = Math.max(longest, performance.now() - began);
      began = performance.now();
    }
  });
  told['longest step of them, ms'] = Math.round(longest);
  told['memory, MB'] = Math.round(process.memoryUsage().rss / 1_048_576);
  store.close();
  return told;
}

/** Circles of 20,000 hosts, each of which talks in its neighbourhood and now and then beyond it. */
export function benchCircles(conversations = 600_000): Record<string, unknown> {
  const chance = chances(5);
  const all = Array.from({ length: hosts }, (_, id) => ({ id: String(id + 1), name: `host-${id + 1}`, site: '' }));
  const ports: AskedPort[] = Array.from({ length: services }, (_, at) => ({
    host: Math.floor((at / services) * hosts),
    protocol: 'tcp',
    port: 443,
    service: '',
    kind: '' as const,
  }));
  const client = Uint32Array.from({ length: conversations }, () => chance(hosts));
  const talk: AskedTalk = {
    client,
    // the services of a neighbourhood are those of its hundredth of all
    port: client.map((host) =>
      chance(10) < 8 ? Math.floor((host / hosts) * 100) * (services / 100) + chance(services / 100) : chance(services),
    ),
    events: client.map(() => 1 + chance(50)),
    bytes: client.map(() => chance(100_000)),
  };
  const began = performance.now();
  const { circles } = circlesOf(all, ports, talk);
  const first = performance.now();
  const again = circlesOf(all, ports, talk, circles).circles;
  const kept = new Set(circles.map(({ id }) => id));
  return {
    hosts,
    conversations,
    circles: circles.length,
    seconds: Math.round(first - began) / 1000,
    'begun from those before, s': Math.round(performance.now() - first) / 1000,
    'the same circles again': again.filter(({ id }) => kept.has(id)).length,
  };
}

/** A survey that asked nobody, so that there is a moment to look back to. */
function surveyAt({ db }: Store, nth: number): number {
  const at = new Date((firstMoment + nth * day) * 1000).toISOString();
  const values = { scopeName: '', scope: {}, state: 'sealed' as const, startedAt: at, sealedAt: at };
  return db.insert(surveys).values(values).returning({ id: surveys.id }).get().id;
}

const countOf = ({ raw }: Store): number =>
  (raw.prepare('select count(*) as count from conversation').get() as { count: number }).count;
