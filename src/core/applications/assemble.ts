import { sharedKinds, type ServiceKind } from '../services/serviceRule';
import { compareNaturally } from '../values/naturalOrder';
import { memberKey, type Application, type Member, type MemberVerdict } from './application';

/** A process on a host that serves, or asks. */
export interface Instance {
  deviceId: number;
  device: string;
  site: string;
  /** its process, or `tcp/443` */
  service: string;
  /** what the rules call it; empty for nothing */
  called: string;
  kind: ServiceKind | '';
}

/** That one instance asks another; of a side whose process nobody tells only the host is known. */
export interface InstanceTalk {
  client: { deviceId: number; service: string };
  server: { deviceId: number; service: string };
  /** how often and when, in words */
  proof: string;
}

/** An instance that is part of an application, and by which rule. */
export interface Part extends Instance {
  verdict: Exclude<MemberVerdict, 'out'>;
  /** 0 for what is asked from outside, more for what stands behind it */
  tier: number;
}

/** Something that parts of it talk with, and nobody has said what it is to the application. */
export interface Proposal {
  member: Member;
  name: string;
  called: string;
  kind: ServiceKind | '';
  /** it is asked by parts, or asks them */
  direction: 'asked' | 'asks';
  /** what it most likely is */
  suggested: MemberVerdict;
  /** in words, a line each */
  evidence: string[];
}

export interface Assembled {
  parts: Part[];
  proposals: Proposal[];
  /** talk between parts, by their places */
  talks: { client: number; server: number; proof: string }[];
}

/** What every host runs. */
export const isCommon = (kind: ServiceKind | ''): boolean =>
  kind === 'control' || (kind !== '' && sharedKinds.has(kind));

const keyOf = (deviceId: number, service: string): string => `${deviceId} ${service}`;
const mostEvidence = 6;

/** What an application is made of as of a moment, and what its next round may bring. */
export function assemble(
  { rules }: Pick<Application, 'rules'>,
  instances: readonly Instance[],
  talks: readonly InstanceTalk[],
): Assembled {
  const byKey = new Map(instances.map((one) => [keyOf(one.deviceId, one.service), one]));
  const verdicts = new Map(rules.map(({ member, verdict }) => [memberKey(member), verdict]));
  // a whole host is what it is there for: not what every host runs
  const verdictOf = (deviceId: number, service: string): MemberVerdict | undefined =>
    verdicts.get(`service ${deviceId} ${service}`) ??
    (isCommon(byKey.get(keyOf(deviceId, service))?.kind ?? '') ? undefined : verdicts.get(`device ${deviceId}`));
  const everywhere = (service: string): MemberVerdict | undefined => verdicts.get(`service * ${service}`);
  const around = new Map<
    string,
    { other: { deviceId: number; service: string }; isServer: boolean; proof: string }[]
  >();
  const put = (
    from: { deviceId: number; service: string },
    other: { deviceId: number; service: string },
    isServer: boolean,
    proof: string,
  ) => {
    const key = keyOf(from.deviceId, from.service);
    around.set(key, [...(around.get(key) ?? []), { other, isServer, proof }]);
  };
  for (const { client, server, proof } of talks) {
    put(client, server, true, proof);
    put(server, client, false, proof);
  }
  const parts = new Map<string, Part>();
  const add = (one: Instance, verdict: MemberVerdict) => {
    if (verdict !== 'out') parts.set(keyOf(one.deviceId, one.service), { ...one, verdict, tier: 0 });
  };
  for (const one of instances) {
    const verdict = verdictOf(one.deviceId, one.service);
    if (verdict) add(one, verdict);
  }
  // what is meant wherever it is: where it talks with the rest, or where there is no rest yet
  const wide = instances.filter(
    (one) => everywhere(one.service) !== undefined && verdictOf(one.deviceId, one.service) === undefined,
  );
  if (parts.size === 0) for (const one of wide) add(one, everywhere(one.service) ?? 'in');
  for (let grew = true; grew;) {
    grew = false;
    for (const one of wide) {
      const key = keyOf(one.deviceId, one.service);
      if (parts.has(key)) continue;
      const talksWithRest = (around.get(key) ?? []).some(({ other }) =>
        ['in', 'shared'].includes(parts.get(keyOf(other.deviceId, other.service))?.verdict ?? ''),
      );
      if (!talksWithRest) continue;
      add(one, everywhere(one.service) ?? 'in');
      grew = true;
    }
  }
  const ordered = [...parts.values()].sort(
    (x, y) => compareNaturally(x.service, y.service) || compareNaturally(x.device, y.device),
  );
  const places = new Map(ordered.map((part, at) => [keyOf(part.deviceId, part.service), at]));
  const within: Assembled['talks'] = [];
  for (const { client, server, proof } of talks) {
    const [from, to] = [
      places.get(keyOf(client.deviceId, client.service)),
      places.get(keyOf(server.deviceId, server.service)),
    ];
    if (from !== undefined && to !== undefined && from !== to) within.push({ client: from, server: to, proof });
  }
  // those of one process that talk to each other stand beside each other
  const isAlike = ({ client, server }: { client: number; server: number }) =>
    ordered[client]?.service === ordered[server]?.service;
  const tiers = tiersOf(
    ordered.length,
    within.filter((one) => !isAlike(one)),
  );
  const alike = within.filter(isAlike);
  for (let moved = true; moved;) {
    moved = false;
    for (const { client, server } of alike) {
      const most = Math.max(tiers[client] ?? 0, tiers[server] ?? 0);
      moved ||= tiers[client] !== most || tiers[server] !== most;
      tiers[client] = tiers[server] = most;
    }
  }
  ordered.forEach((part, at) => (part.tier = tiers[at] ?? 0));

  const proposals = new Map<string, Proposal>();
  for (const [key, part] of parts) {
    if (part.verdict !== 'in') continue;
    for (const { other, isServer, proof } of around.get(key) ?? []) {
      if (parts.has(keyOf(other.deviceId, other.service))) continue;
      const said = verdictOf(other.deviceId, other.service) ?? everywhere(other.service);
      if (said !== undefined) continue;
      const known = byKey.get(keyOf(other.deviceId, other.service));
      if (!known) continue;
      const member: Member =
        known.service === ''
          ? { kind: 'device', deviceId: other.deviceId }
          : { kind: 'service', service: known.service, deviceId: other.deviceId };
      const id = `${isServer ? 'asked' : 'asks'} ${memberKey(member)}`;
      const own = proposals.get(id) ?? {
        member,
        name: `${known.service || 'something'} on ${known.device}`,
        called: known.called,
        kind: known.kind,
        direction: isServer ? ('asked' as const) : ('asks' as const),
        suggested: known.kind !== '' && sharedKinds.has(known.kind) ? ('shared' as const) : ('in' as const),
        evidence: [],
      };
      proposals.set(id, own);
      const words = isServer
        ? `${part.service} on ${part.device} asks it: ${proof}`
        : `it asks ${part.service} on ${part.device}: ${proof}`;
      if (own.evidence.length < mostEvidence && !own.evidence.includes(words)) own.evidence.push(words);
    }
  }
  return {
    parts: ordered,
    talks: within,
    proposals: [...proposals.values()].sort(
      (x, y) =>
        Number(x.direction === 'asks') - Number(y.direction === 'asks') ||
        Number(x.suggested === 'shared') - Number(y.suggested === 'shared') ||
        y.evidence.length - x.evidence.length ||
        compareNaturally(x.name, y.name),
    ),
  };
}

/** How far behind what is asked from outside each part stands: one more than the furthest that asks it. What asks each other in a ring stands together. */
export function tiersOf(size: number, talks: readonly { client: number; server: number }[]): number[] {
  const asks: number[][] = Array.from({ length: size }, () => []);
  for (const { client, server } of talks) asks[client]?.push(server);
  const ring = ringsOf(size, asks);
  const tier = Array.from({ length: size }, () => 0);
  // rings are numbered from the back: what is asked has a lower number than who asks it
  const order = Array.from({ length: size }, (_, at) => at).sort((x, y) => (ring[y] ?? 0) - (ring[x] ?? 0));
  const ofRing = new Map<number, number>();
  for (const at of order) ofRing.set(ring[at] ?? 0, 0);
  for (const at of order)
    for (const to of asks[at] ?? []) {
      if (ring[to] === ring[at]) continue;
      const behind = (ofRing.get(ring[at] ?? 0) ?? 0) + 1;
      if (behind > (ofRing.get(ring[to] ?? 0) ?? 0)) ofRing.set(ring[to] ?? 0, behind);
    }
  for (let at = 0; at < size; at++) tier[at] = ofRing.get(ring[at] ?? 0) ?? 0;
  return tier;
}

/** Strongly connected parts (R. Tarjan, 1972), numbered so that what is reached comes before what reaches it. Without recursion. */
function ringsOf(size: number, asks: readonly (readonly number[])[]): number[] {
  const ring = Array.from({ length: size }, () => -1);
  const entered = Array.from({ length: size }, () => -1);
  const lowest = Array.from({ length: size }, () => 0);
  const next = Array.from({ length: size }, () => 0);
  const open: number[] = [];
  let [clock, rings] = [0, 0];
  for (let root = 0; root < size; root++) {
    if (entered[root] !== -1) continue;
    const way = [root];
    entered[root] = lowest[root] = clock++;
    open.push(root);
    while (way.length > 0) {
      const at = way.at(-1) ?? 0;
      const to = asks[at]?.[next[at] ?? 0];
      if (to !== undefined) {
        next[at] = (next[at] ?? 0) + 1;
        if (entered[to] === -1) {
          entered[to] = lowest[to] = clock++;
          open.push(to);
          way.push(to);
        } else if (ring[to] === -1) lowest[at] = Math.min(lowest[at] ?? 0, entered[to] ?? 0);
        continue;
      }
      way.pop();
      const above = way.at(-1);
      if (above !== undefined) lowest[above] = Math.min(lowest[above] ?? 0, lowest[at] ?? 0);
      if (lowest[at] !== entered[at]) continue;
      for (let member = open.pop(); member !== undefined; member = open.pop()) {
        ring[member] = rings;
        if (member === at) break;
      }
      rings++;
    }
  }
  return ring;
}
