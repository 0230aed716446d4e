import { sharedKinds, type ServiceKind } from '../services/serviceRule';
import { atOnce, rowsInStep, type Steps } from '../steps';
import { GrowingNumbers } from '../tables/growingNumbers';
import { naturalKey } from '../values/naturalKey';
import { compareNaturally } from '../values/naturalOrder';
import type { Circle, HostTalk, TalkingHost } from './circle';
import { withIds } from './circleIds';
import { groupsInSteps, type WeightedPairs } from './louvain';

/** A port of a host that is asked. */
export interface AskedPort {
  /** by its place among hosts */
  host: number;
  protocol: string;
  port: number;
  /** what listens there, by the rules; empty where nobody knows */
  service: string;
  kind: ServiceKind | '';
}

/** Who asks what, a row each: millions of them are a few arrays. */
export interface AskedTalk {
  /** by its place among hosts */
  client: Uint32Array;
  /** by its place among ports */
  port: Uint32Array;
  /** connections, or surveys it was seen in */
  events: ArrayLike<number>;
  bytes: ArrayLike<number>;
}

/** What everybody asks, set apart: it says nothing of who belongs together. */
export interface SharedHost {
  host: TalkingHost;
  /** as what it is asked: `Name server`, `tcp/9000` */
  service: string;
  clients: number;
}

export interface Circles {
  circles: Circle[];
  shared: SharedHost[];
}

/** Asked on one port by so large a share of all hosts, and by so many at least, something is for everybody. */
const [sharedShare, sharedLeast] = [0.4, 12];
/** Of a kind that serves everybody, by so many at least. */
const sharedOfKind = 3;
const mostTalks = 400;

/**
 * Circles of hosts by their talk. What is asked by nearly everybody, or by several as something that is for everybody (names, time, directory, backup, logs), is set apart first, with its talk.
 * @param before circles of the survey before: hosts begin in them, and what has most in common with one keeps its id
 */
export const circlesOf = (
  hosts: readonly TalkingHost[],
  ports: readonly AskedPort[],
  talk: AskedTalk,
  before: readonly Circle[] = [],
): Circles => atOnce(circlesInSteps(hosts, ports, talk, before));

/** The same a step at a time: millions of rows take seconds. */
export function* circlesInSteps(
  hosts: readonly TalkingHost[],
  ports: readonly AskedPort[],
  talk: AskedTalk,
  before: readonly Circle[] = [],
): Steps<Circles> {
  // found alike in whatever order hosts are told
  const keys = hosts.map(({ id }) => naturalKey(id));
  const inOrder = Array.from(hosts.keys()).sort((x, y) =>
    (keys[x] ?? '') < (keys[y] ?? '') ? -1 : keys[x] === keys[y] ? x - y : 1,
  );
  const places = new Uint32Array(hosts.length);
  inOrder.forEach((host, place) => (places[host] = place));
  yield;
  const shared = sharedOf(hosts, ports, talk);
  yield;
  const telling = tellingRows(ports, talk, shared);
  yield;
  const [clientAt, serverAt] = [new Uint32Array(telling.length), new Uint32Array(telling.length)];
  const events = new Float64Array(telling.length);
  for (let at = 0; at < telling.length; at++) {
    const row = telling[at] ?? 0;
    clientAt[at] = places[talk.client[row] ?? 0] ?? 0;
    serverAt[at] = places[ports[talk.port[row] ?? 0]?.host ?? 0] ?? 0;
    events[at] = talk.events[row] ?? 0;
    if (at % rowsInStep === rowsInStep - 1) yield;
  }
  const earlier = new Map(before.flatMap((circle, at) => circle.hosts.map(({ id }) => [id, at] as const)));
  const pairs = yield* pairsOf(hosts.length, clientAt, serverAt, events);
  const groups = yield* groupsInSteps(
    pairs,
    before.length > 0 ? inOrder.map((host) => earlier.get(hosts[host]?.id ?? '') ?? -1) : undefined,
  );
  const members = new Map<number, TalkingHost[]>();
  inOrder.forEach((host, place) => {
    const own = members.get(groups[place] ?? 0);
    const one = hosts[host];
    if (own && one) own.push(one);
    else if (one) members.set(groups[place] ?? 0, [one]);
  });
  const within = new Map<number, number[]>();
  const crossing = new Map<number, number>();
  for (let at = 0; at < telling.length; at++) {
    const [one, other] = [groups[clientAt[at] ?? 0] ?? 0, groups[serverAt[at] ?? 0] ?? 0];
    if (one === other) {
      const own = within.get(one);
      if (own) own.push(telling[at] ?? 0);
      else within.set(one, [telling[at] ?? 0]);
    } else {
      crossing.set(one, (crossing.get(one) ?? 0) + 1);
      crossing.set(other, (crossing.get(other) ?? 0) + 1);
    }
    if (at % rowsInStep === rowsInStep - 1) yield;
  }
  const circles: Circle[] = [];
  let told = 0;
  for (const [group, own] of members) {
    if (own.length < 2) continue;
    const rows = within.get(group) ?? [];
    const out = crossing.get(group) ?? 0;
    const asked = rankedPorts(hosts, ports, talk, rows);
    const [most] = asked;
    circles.push({
      id: '',
      name: most ? `${serviceOf(most.port)} on ${hosts[most.port.host]?.name ?? ''}` : (own[0]?.name ?? ''),
      hosts: own,
      talks: talksOf(hosts, talk, asked),
      conversations: rows.length,
      bytes: rows.reduce((sum, row) => sum + (talk.bytes[row] ?? 0), 0),
      services: [...new Set(asked.map(({ port }) => serviceOf(port)))].sort(compareNaturally),
      inside: rows.length + out === 0 ? 0 : rows.length / (rows.length + out),
    });
    told += rows.length;
    if (told < rowsInStep) continue;
    told = 0;
    yield;
  }
  circles.sort((x, y) => y.hosts.length - x.hosts.length || compareNaturally(x.name, y.name));
  return { circles: withIds(circles, before), shared: [...shared.values()].sort(bySharing) };
}

const serviceOf = ({ service, protocol, port }: AskedPort): string => service || `${protocol}/${port}`;

const bySharing = (x: SharedHost, y: SharedHost): number =>
  y.clients - x.clients || compareNaturally(x.host.name, y.host.name) || compareNaturally(x.service, y.service);

/** Rows by what is asked, and how many of them ask each. @returns by port: where its rows begin; all rows in that order */
function byPort(size: number, port: Uint32Array): { starts: Uint32Array; rows: Uint32Array } {
  const starts = new Uint32Array(size + 1);
  for (const one of port) starts[one + 1] = (starts[one + 1] ?? 0) + 1;
  for (let one = 0; one < size; one++) starts[one + 1] = (starts[one + 1] ?? 0) + (starts[one] ?? 0);
  const next = starts.slice();
  const rows = new Uint32Array(port.length);
  port.forEach((one, row) => {
    rows[next[one] ?? 0] = row;
    next[one] = (next[one] ?? 0) + 1;
  });
  return { starts, rows };
}

/** What is for everybody, by port. */
function sharedOf(
  hosts: readonly TalkingHost[],
  ports: readonly AskedPort[],
  { client, port }: AskedTalk,
): Map<number, SharedHost> {
  const found = new Map<number, SharedHost>();
  const { starts, rows } = byPort(ports.length, port);
  const lastAsked = new Int32Array(hosts.length).fill(-1);
  ports.forEach((one, at) => {
    let clients = 0;
    for (const row of rows.subarray(starts[at] ?? 0, starts[at + 1] ?? 0)) {
      const asker = client[row] ?? 0;
      if (asker === one.host || lastAsked[asker] === at) continue;
      lastAsked[asker] = at;
      clients++;
    }
    const isForAll = clients >= sharedLeast && clients >= sharedShare * hosts.length;
    const isOfKind = one.kind !== '' && sharedKinds.has(one.kind) && clients >= sharedOfKind;
    const host = hosts[one.host];
    if (host && (isForAll || isOfKind)) found.set(at, { host, service: serviceOf(one), clients });
  });
  return found;
}

/** Rows of what tells who belongs together: not what is for everybody, nor what a host asks itself. */
function tellingRows(
  ports: readonly AskedPort[],
  { client, port }: AskedTalk,
  shared: ReadonlyMap<number, SharedHost>,
): Uint32Array {
  const host = Int32Array.from(ports, (one, at) => (shared.has(at) ? -1 : one.host));
  const rows = new Uint32Array(client.length);
  let size = 0;
  for (let row = 0; row < client.length; row++) {
    const asked = host[port[row] ?? 0] ?? -1;
    if (asked >= 0 && asked !== client[row]) rows[size++] = row;
  }
  return rows.subarray(0, size);
}

/** How much each two hosts have in common, host by host. */
function* pairsOf(size: number, client: Uint32Array, server: Uint32Array, events: Float64Array): Steps<WeightedPairs> {
  const lower = new Uint32Array(client.length);
  for (let row = 0; row < lower.length; row++) lower[row] = Math.min(client[row] ?? 0, server[row] ?? 0);
  const { starts, rows } = byPort(size, lower);
  yield;
  const [a, b] = [new GrowingNumbers(), new GrowingNumbers()];
  const weight: number[] = [];
  const sum = new Float64Array(size);
  let told = 0;
  for (let host = 0; host < size; host++) {
    const touched: number[] = [];
    if ((starts[host + 1] ?? 0) > told + rowsInStep) {
      told = starts[host + 1] ?? 0;
      yield;
    }
    for (let at = starts[host] ?? 0; at < (starts[host + 1] ?? 0); at++) {
      const row = rows[at] ?? 0;
      const other = Math.max(client[row] ?? 0, server[row] ?? 0);
      if (sum[other] === 0) touched.push(other);
      // ten times as many connections are not ten times as much in common
      sum[other] = (sum[other] ?? 0) + 1 + Math.log2(1 + (events[row] ?? 0));
    }
    for (const other of touched.sort((x, y) => x - y)) {
      a.push(host);
      b.push(other);
      weight.push(sum[other] ?? 0);
      sum[other] = 0;
    }
  }
  return { size, a: a.all(), b: b.all(), weight };
}

interface PortAsked {
  port: AskedPort;
  rows: number[];
}

/** What some rows ask, with all that do, most asked first. */
function rankedPorts(
  hosts: readonly TalkingHost[],
  ports: readonly AskedPort[],
  talk: AskedTalk,
  rows: readonly number[],
): PortAsked[] {
  const found = new Map<number, number[]>();
  for (const row of rows) {
    const own = found.get(talk.port[row] ?? 0);
    if (own) own.push(row);
    else found.set(talk.port[row] ?? 0, [row]);
  }
  const server = ({ port }: PortAsked) => hosts[port.host]?.id ?? '';
  return [...found]
    .flatMap(([at, own]): PortAsked[] => (ports[at] ? [{ port: ports[at], rows: own }] : []))
    .sort(
      (x, y) => y.rows.length - x.rows.length || compareNaturally(server(x), server(y)) || x.port.port - y.port.port,
    );
}

function talksOf(hosts: readonly TalkingHost[], talk: AskedTalk, asked: readonly PortAsked[]): HostTalk[] {
  const found: HostTalk[] = [];
  for (const { port, rows } of asked) {
    if (found.length >= mostTalks) break;
    const own = rows
      .slice(0, mostTalks)
      .map((row) => ({
        client: hosts[talk.client[row] ?? 0]?.id ?? '',
        server: hosts[port.host]?.id ?? '',
        protocol: port.protocol,
        port: port.port,
        service: port.service,
        events: talk.events[row] ?? 0,
        bytes: talk.bytes[row] ?? 0,
      }))
      .sort((x, y) => compareNaturally(x.client, y.client));
    found.push(...own);
  }
  return found.slice(0, mostTalks);
}
