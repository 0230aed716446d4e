import { sharedKinds, type ServiceKind } from '../services/serviceRule';
import { compareNaturally } from '../values/naturalOrder';
import { hostKey, memberKey, type Application, type HostRef, type Member, type MemberVerdict } from './application';

/** A process on a host that serves, or asks. */
export interface Instance extends HostRef {
  /** what its host is called */
  device: string;
  site: string;
  /** its process, or `tcp/443` */
  service: string;
  /** what the rules call it; empty for nothing */
  called: string;
  kind: ServiceKind | '';
}

export interface InstanceRef extends HostRef {
  service: string;
}

/** That one instance asks another; of a side whose process nobody tells only the host is known. */
export interface InstanceTalk {
  client: InstanceRef;
  server: InstanceRef;
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

const keyOf = (one: InstanceRef): string => `${hostKey(one)} ${one.service}`;
const mostEvidence = 6;

/** What an application is made of as of a moment, and what its next round may bring. */
export function assemble(
  { rules }: Pick<Application, 'rules'>,
  instances: readonly Instance[],
  talks: readonly InstanceTalk[],
): Assembled {
  const byKey = new Map(instances.map((one) => [keyOf(one), one]));
  const verdicts = new Map(rules.map(({ member, verdict }) => [memberKey(member), verdict]));
  // a whole host is what it is there for: not what every host runs
  const verdictOf = (one: InstanceRef): MemberVerdict | undefined =>
    verdicts.get(`service ${keyOf(one)}`) ??
    (isCommon(byKey.get(keyOf(one))?.kind ?? '') ? undefined : verdicts.get(`device ${hostKey(one)}`));
  const everywhere = (service: string): MemberVerdict | undefined => verdicts.get(`service * ${service}`);
  const around = new Map<string, { other: InstanceRef; isServer: boolean; proof: string }[]>();
  const put = (from: InstanceRef, other: InstanceRef, isServer: boolean, proof: string) => {
    const key = keyOf(from);
    const own = around.get(key);
    if (own) own.push({ other, isServer, proof });
    else around.set(key, [{ other, isServer, proof }]);
  };
  for (const { client, server, proof } of talks) {
    put(client, server, true, proof);
    put(server, client, false, proof);
  }
  const parts = new Map<string, Part>();
  const add = (one: Instance, verdict: MemberVerdict) => {
    if (verdict !== 'out') parts.set(keyOf(one), { ...one, verdict, tier: 0 });
  };
  for (const one of instances) {
    const verdict = verdictOf(one);
    if (verdict) add(one, verdict);
  }
  // what is meant wherever it is: where it talks with the rest, or where there is no rest yet
  const wide = instances.filter((one) => everywhere(one.service) !== undefined && verdictOf(one) === undefined);
  const isBegun = [...parts.values()].some(({ deviceId }) => deviceId > 0);
  if (!isBegun) for (const one of wide) add(one, everywhere(one.service) ?? 'in');
  const isRest = ({ other }: { other: InstanceRef }) =>
    ['in', 'shared'].includes(parts.get(keyOf(other))?.verdict ?? '');
  for (let grew = true; grew;) {
    grew = false;
    for (const one of wide) {
      if (parts.has(keyOf(one))) continue;
      // where nobody tells which process of a host talks, it may be this one
      const own = [...(around.get(keyOf(one)) ?? []), ...(around.get(keyOf({ ...one, service: '' })) ?? [])];
      if (!own.some(isRest)) continue;
      add(one, everywhere(one.service) ?? 'in');
      grew = true;
    }
  }
  const ordered = [...parts.values()].sort(
    (x, y) => compareNaturally(x.service, y.service) || compareNaturally(x.device, y.device),
  );
  const places = new Map(ordered.map((part, at) => [keyOf(part), at]));
  const onHost = new Map<string, number[]>();
  ordered.forEach((part, at) => onHost.set(hostKey(part), [...(onHost.get(hostKey(part)) ?? []), at]));
  /** the part that an end of a conversation is; where no process is told, each on its host may be it */
  const placesOf = (one: InstanceRef): readonly number[] => {
    const place = places.get(keyOf(one));
    if (place !== undefined) return [place];
    return one.service === '' ? (onHost.get(hostKey(one)) ?? []) : [];
  };
  const within: Assembled['talks'] = [];
  for (const { client, server, proof } of talks) {
    const [from, to] = [placesOf(client), placesOf(server)];
    const words = from.length * to.length > 1 ? `${proof} (which of several there is not told)` : proof;
    for (const one of from)
      for (const other of to) if (one !== other) within.push({ client: one, server: other, proof: words });
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
    const host = { ...part, service: '' };
    // of a host whose process nobody tells what it asks is proposed too
    const near = [
      ...(around.get(key) ?? []).map((one) => ({ ...one, by: part.service || 'something' })),
      ...(keyOf(host) === key ? [] : (around.get(keyOf(host)) ?? []).map((one) => ({ ...one, by: 'something' }))),
    ];
    for (const { other, isServer, proof, by } of near) {
      if (parts.has(keyOf(other))) continue;
      const said = verdictOf(other) ?? everywhere(other.service);
      if (said !== undefined) continue;
      const known = byKey.get(keyOf(other));
      // a host on which parts run is no news
      if (!known || (known.service === '' && onHost.has(hostKey(known)))) continue;
      const member = memberOf(known);
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
        ? `${by} on ${part.device} asks it: ${proof}`
        : `it asks ${by} on ${part.device}: ${proof}`;
      if (own.evidence.length < mostEvidence && !own.evidence.includes(words)) own.evidence.push(words);
    }
  }
  return {
    parts: ordered,
    talks: within,
    proposals: together([...proposals.values()]).sort(
      (x, y) =>
        Number(x.direction === 'asks') - Number(y.direction === 'asks') ||
        Number(x.suggested === 'shared') - Number(y.suggested === 'shared') ||
        y.evidence.length - x.evidence.length ||
        compareNaturally(x.name, y.name),
    ),
  };
}

/** An instance as a member: that service on that host, or the host where no process is known. */
export const memberOf = ({ deviceId, address, service }: InstanceRef): Member =>
  deviceId === 0
    ? { kind: 'service', service, deviceId: null, address }
    : service === ''
      ? { kind: 'device', deviceId }
      : { kind: 'service', service, deviceId };

/** One service on so many hosts of which only addresses are known is proposed as a whole: nobody decides of each of a hundred cameras. */
const mostApart = 5;

function together(proposals: readonly Proposal[]): Proposal[] {
  const many = new Map<string, Proposal[]>();
  for (const one of proposals) {
    if (one.member.kind !== 'service' || !one.member.address) continue;
    const key = `${one.direction} ${one.member.service}`;
    many.set(key, [...(many.get(key) ?? []), one]);
  }
  const found = proposals.filter((one) => one.member.kind !== 'service' || !one.member.address);
  for (const own of many.values()) {
    const [first] = own;
    if (!first || first.member.kind !== 'service' || own.length <= mostApart) found.push(...own);
    else
      found.push({
        ...first,
        member: { kind: 'service', service: first.member.service, deviceId: null },
        name: `${first.member.service} on ${own.length} hosts`,
        evidence: own
          .flatMap(({ name, evidence }) => evidence.map((line) => `${name}: ${line}`))
          .slice(0, mostEvidence),
      });
  }
  return found;
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
