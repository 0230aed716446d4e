import { sharedKinds, type ServiceKind } from '../services/serviceRule';
import { compareNaturally } from '../values/naturalOrder';
import type { Circle, HostTalk, TalkingHost } from './circle';
import { withIds } from './circleIds';
import { groupsByTalk, type WeightedPairs } from './louvain';

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
export function circlesOf(
  hosts: readonly TalkingHost[],
  ports: readonly AskedPort[],
  talk: AskedTalk,
  before: readonly Circle[] = [],
): Circles {
  // found alike in whatever order hosts are told
  const inOrder = Array.from(hosts.keys()).sort((x, y) => compareNaturally(hosts[x]?.id ?? '', hosts[y]?.id ?? ''));
  const places = new Uint32Array(hosts.length);
  inOrder.forEach((host, place) => (places[host] = place));
  const shared = sharedOf(hosts, ports, talk);
  const telling = talk.client
    .map((_, row) => row)
    .filter((row) => !shared.has(talk.port[row] ?? 0) && talk.client[row] !== ports[talk.port[row] ?? 0]?.host);
  const clientAt = (row: number) => places[talk.client[row] ?? 0] ?? 0;
  const serverAt = (row: number) => places[ports[talk.port[row] ?? 0]?.host ?? 0] ?? 0;
  const earlier = new Map(before.flatMap((circle, at) => circle.hosts.map(({ id }) => [id, at] as const)));
  const groups = groupsByTalk(
    pairsOf(telling, hosts.length, clientAt, serverAt, talk.events),
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
  for (const row of telling) {
    const [one = -1, other = -1] = [groups[clientAt(row)], groups[serverAt(row)]];
    const own = one === other ? within.get(one) : undefined;
    if (own) own.push(row);
    else if (one === other) within.set(one, [row]);
    else for (const group of [one, other]) crossing.set(group, (crossing.get(group) ?? 0) + 1);
  }
  const circles = [...members]
    .filter(([, own]) => own.length > 1)
    .map(([group, own]): Circle => {
      const rows = within.get(group) ?? [];
      const out = crossing.get(group) ?? 0;
      const asked = rankedPorts(hosts, ports, talk, rows);
      const [most] = asked;
      return {
        id: '',
        name: most ? `${serviceOf(most.port)} on ${hosts[most.port.host]?.name ?? ''}` : (own[0]?.name ?? ''),
        hosts: own,
        talks: talksOf(hosts, talk, asked),
        conversations: rows.length,
        bytes: rows.reduce((sum, row) => sum + (talk.bytes[row] ?? 0), 0),
        services: [...new Set(asked.map(({ port }) => serviceOf(port)))].sort(compareNaturally),
        inside: rows.length + out === 0 ? 0 : rows.length / (rows.length + out),
      };
    })
    .sort((x, y) => y.hosts.length - x.hosts.length || compareNaturally(x.name, y.name));
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

/** How much each two hosts have in common, host by host. */
function pairsOf(
  rows: Uint32Array,
  size: number,
  clientAt: (row: number) => number,
  serverAt: (row: number) => number,
  events: ArrayLike<number>,
): WeightedPairs {
  const lower = rows.map((row) => Math.min(clientAt(row), serverAt(row)));
  const grouped = byPort(size, lower);
  const [a, b, weight]: [number[], number[], number[]] = [[], [], []];
  const sum = new Float64Array(size);
  for (let host = 0; host < size; host++) {
    const touched: number[] = [];
    for (const at of grouped.rows.subarray(grouped.starts[host] ?? 0, grouped.starts[host + 1] ?? 0)) {
      const row = rows[at] ?? 0;
      const other = Math.max(clientAt(row), serverAt(row));
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
  return { size, a, b, weight };
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
