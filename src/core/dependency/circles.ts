import { sharedKinds, type ServiceKind } from '../services/serviceRule';
import { compareNaturally } from '../values/naturalOrder';
import { groupsByTalk } from './louvain';

/** A host as talk knows it: a device by its number, or an address that no device has. */
export interface TalkingHost {
  /** `12`, or `10.72.2.9` */
  id: string;
  name: string;
  site: string;
}

/** That one host asks another, on a port. */
export interface HostTalk {
  client: string;
  server: string;
  protocol: string;
  port: number;
  /** what listens there, by the rules; empty where nobody knows */
  service: string;
  kind: ServiceKind | '';
  /** connections, or surveys it was seen in */
  events: number;
  bytes: number;
}

/** Hosts that belong together because they talk. */
export interface Circle {
  /** stays the same from survey to survey, as long as most of its hosts do */
  id: string;
  name: string;
  hosts: TalkingHost[];
  /** within it, those that are asked most first */
  talks: HostTalk[];
  /** of all that its hosts say to others but those that everybody asks, the share that stays within, 0 to 1 */
  inside: number;
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
/** A circle stays the same one where it has so much in common with what it was (P. Jaccard, 1901). */
const sameShare = 0.3;

/**
 * Circles of hosts by their talk. What is asked by nearly everybody, or by several as something that is for everybody (names, time, directory, backup, logs), is set apart first, with its talk.
 * @param before circles of the survey before: hosts begin in them, and what has most in common with one keeps its id
 */
export function circlesOf(
  hosts: readonly TalkingHost[],
  talks: readonly HostTalk[],
  before: readonly Circle[] = [],
): Circles {
  const inOrder = [...hosts].sort((x, y) => compareNaturally(x.id, y.id));
  const numbers = new Map(inOrder.map(({ id }, at) => [id, at]));
  const known = talks.filter(({ client, server }) => client !== server && numbers.has(client) && numbers.has(server));
  const shared = sharedOf(inOrder, known);
  const isShared = (talk: HostTalk) => shared.has(`${talk.server} ${talk.protocol}/${talk.port}`);
  const telling = known.filter((talk) => !isShared(talk));
  const weights = new Map<number, number>();
  for (const { client, server, events } of telling) {
    const [one, other] = [numbers.get(client) ?? 0, numbers.get(server) ?? 0].sort((x, y) => x - y) as [number, number];
    const key = one * inOrder.length + other;
    // ten times as many connections are not ten times as much in common
    weights.set(key, (weights.get(key) ?? 0) + 1 + Math.log2(1 + events));
  }
  const keys = [...weights.keys()].sort((x, y) => x - y);
  const earlier = new Map(before.flatMap((circle, at) => circle.hosts.map(({ id }) => [id, at] as const)));
  const groups = groupsByTalk(
    {
      size: inOrder.length,
      a: keys.map((key) => Math.floor(key / inOrder.length)),
      b: keys.map((key) => key % inOrder.length),
      weight: keys.map((key) => weights.get(key) ?? 0),
    },
    before.length > 0 ? inOrder.map(({ id }) => earlier.get(id) ?? -1) : undefined,
  );
  const members = new Map<number, TalkingHost[]>();
  inOrder.forEach((host, at) => {
    const group = groups[at] ?? 0;
    const own = members.get(group);
    if (own) own.push(host);
    else members.set(group, [host]);
  });
  const groupOf = (id: string) => groups[numbers.get(id) ?? 0] ?? -1;
  const within = new Map<number, HostTalk[]>();
  const crossing = new Map<number, number>();
  for (const talk of telling) {
    const [one, other] = [groupOf(talk.client), groupOf(talk.server)];
    if (one === other) within.set(one, [...(within.get(one) ?? []), talk]);
    else for (const group of [one, other]) crossing.set(group, (crossing.get(group) ?? 0) + 1);
  }
  const circles = [...members]
    .filter(([, own]) => own.length > 1)
    .map(([group, own]): Circle => {
      const own_talks = within.get(group) ?? [];
      const out = crossing.get(group) ?? 0;
      return {
        id: '',
        name: nameOf(own, own_talks),
        hosts: own,
        talks: ranked(own_talks),
        inside: own_talks.length + out === 0 ? 0 : own_talks.length / (own_talks.length + out),
      };
    })
    .sort((x, y) => y.hosts.length - x.hosts.length || compareNaturally(x.name, y.name));
  return { circles: withIds(circles, before), shared: [...shared.values()].sort(bySharing) };
}

const bySharing = (x: SharedHost, y: SharedHost): number =>
  y.clients - x.clients || compareNaturally(x.host.name, y.host.name) || compareNaturally(x.service, y.service);

/** By host and port: what is for everybody. */
function sharedOf(hosts: readonly TalkingHost[], talks: readonly HostTalk[]): Map<string, SharedHost> {
  const byId = new Map(hosts.map((host) => [host.id, host]));
  const asked = new Map<string, { clients: Set<string>; talk: HostTalk }>();
  for (const talk of talks) {
    const key = `${talk.server} ${talk.protocol}/${talk.port}`;
    const own = asked.get(key) ?? { clients: new Set<string>(), talk };
    asked.set(key, own);
    own.clients.add(talk.client);
  }
  const found = new Map<string, SharedHost>();
  for (const [key, { clients, talk }] of asked) {
    const isForAll = clients.size >= sharedLeast && clients.size >= sharedShare * hosts.length;
    const isOfKind = talk.kind !== '' && sharedKinds.has(talk.kind) && clients.size >= sharedOfKind;
    const host = byId.get(talk.server);
    if (host && (isForAll || isOfKind))
      found.set(key, { host, service: talk.service || `${talk.protocol}/${talk.port}`, clients: clients.size });
  }
  return found;
}

/** Talk by server and port, with all who ask, most asked first. */
const ranked = (talks: readonly HostTalk[]): HostTalk[] => {
  const clients = new Map<string, number>();
  const key = ({ server, protocol, port }: HostTalk) => `${server} ${protocol}/${port}`;
  for (const talk of talks) clients.set(key(talk), (clients.get(key(talk)) ?? 0) + 1);
  return [...talks].sort(
    (x, y) =>
      (clients.get(key(y)) ?? 0) - (clients.get(key(x)) ?? 0) ||
      compareNaturally(x.server, y.server) ||
      x.port - y.port ||
      compareNaturally(x.client, y.client),
  );
};

/** After what most within it ask. */
function nameOf(hosts: readonly TalkingHost[], talks: readonly HostTalk[]): string {
  const [most] = ranked(talks);
  const names = new Map(hosts.map(({ id, name }) => [id, name]));
  if (!most) return hosts[0]?.name ?? '';
  return `${most.service || `${most.protocol}/${most.port}`} on ${names.get(most.server) ?? most.server}`;
}

/** Each keeps the id of the earlier one it has most in common with; a new one is called after its first host. */
function withIds(circles: readonly Circle[], before: readonly Circle[]): Circle[] {
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
