import { compareNaturally } from '../values/naturalOrder';
import type { PortFacts } from '../estate/facts';
import type { ToldByNeighbour } from '../mib/lldpExtensions';
import type { Claim } from './claim';
import type { DeviceIndex } from './deviceIndex';
import { bridgingMismatches, cableMismatches, frameMismatch, withHeardOf } from './linkIssues';
import { evidenceSources, inOrder, linkKey, type Confidence, type LinkEnd, type LinkFacts } from './links';

/** What was said of one link, before it is put together. */
interface Gathered {
  a: LinkEnd;
  b: LinkEnd;
  claims: Claim[];
  /** members by their pair */
  members: Map<string, { a: string; b: string }>;
}

/**
 * One link of all that is said of the same two ports. Claims about members of aggregates at both ends (IEEE 802.1AX) are one link of the aggregates. Both ends say so: confirmed,
 * also where one says it by neighbour report and the other by spanning tree; one end, or a controller that looks after both: claimed; none: concluded. What contradicts it stays, and is told at each of the links.
 * Linear in the number of claims.
 */
export function mergeClaims(claims: readonly Claim[], index: DeviceIndex): LinkFacts[] {
  const gathered = new Map<string, Gathered>();
  for (const claim of claims) {
    const [first, second] = [index.port(claim.a.deviceId, claim.a.port), index.port(claim.b.deviceId, claim.b.port)];
    const aggregates = first?.lag && second?.lag && !claim.segment;
    const [left, right] = aggregates
      ? [
          { ...claim.a, port: first.lag ?? '' },
          { ...claim.b, port: second.lag ?? '' },
        ]
      : [claim.a, claim.b];
    const [a, b] = inOrder(left, right);
    const key = linkKey(a, b);
    let link = gathered.get(key);
    if (!link) gathered.set(key, (link = { a, b, claims: [], members: new Map() }));
    link.claims.push(claim);
    if (!aggregates) continue;
    const pair = a === left ? { a: claim.a.port, b: claim.b.port } : { a: claim.b.port, b: claim.a.port };
    link.members.set(`${pair.a} ${pair.b}`, pair);
  }
  const links = [...gathered.values()].map((link) => linkOf(link, index));
  tellContradictions(links);
  return links;
}

function linkOf({ a, b, claims, members }: Gathered, index: DeviceIndex): LinkFacts {
  const sorted = [...claims].sort(
    (x, y) =>
      evidenceSources.indexOf(x.source) - evidenceSources.indexOf(y.source) ||
      compareNaturally(x.byName, y.byName) ||
      compareNaturally(x.detail, y.detail),
  );
  const saying = new Set(sorted.flatMap(({ by }) => (by === null ? [] : [by])));
  const confidence: Confidence =
    saying.has(a.deviceId) && saying.has(b.deviceId) ? 'confirmed' : saying.size > 0 ? 'claimed' : 'concluded';
  const [pa, pb] = [index.port(a.deviceId, a.port), index.port(b.deviceId, b.port)];
  const isAggregate = pa?.type === 'lag' && pb?.type === 'lag';
  const pairs = isAggregate ? membersOf(a, b, members, index) : [];
  const link: LinkFacts = {
    a,
    b,
    confidence,
    kind: isAggregate
      ? 'lag'
      : claims.find(({ kind }) => kind === undefined)
        ? 'ethernet'
        : (claims[0]?.kind ?? 'ethernet'),
    evidence: sorted.map(({ source, byName: by, detail }) => ({ source, by, detail })),
    speedBps: speedOf(isAggregate, pa, pb, pairs, index, a, b),
    blocked: [pa, pb].some((port) => port?.stp?.state === 'blocking'),
    issues: [],
    ...(pairs.length > 0 && { members: pairs }),
    ...(claims.every(({ segment }) => segment) && { segment: true as const }),
  };
  if (link.segment) return link;
  if (isAggregate) {
    for (const pair of pairs) {
      const [ma, mb] = asBothSay(index, { ...a, port: pair.a }, { ...b, port: pair.b });
      if (ma && mb)
        link.issues.push(...cableMismatches({ a: { ...a, port: pair.a }, b: { ...b, port: pair.b } }, ma, mb));
    }
  }
  const [sa, sb] = asBothSay(index, a, b);
  if (!isAggregate && sa && sb) link.issues.push(...cableMismatches(link, sa, sb));
  if (sa && sb && link.kind !== 'l3' && link.kind !== 'virtual') link.issues.push(...bridgingMismatches(link, sa, sb));
  const [ofA, ofB] = [heard(index, b, a), heard(index, a, b)];
  if (!isAggregate && sa && sb) link.issues.push(...frameMismatch(link, [sa, ofA], [sb, ofB]));
  // one whose agent tells no aggregates may say to its neighbour that it has one
  const [inA, inB] = [Boolean(pa?.lag) || ofA?.aggregated === true, Boolean(pb?.lag) || ofB?.aggregated === true];
  if (pa && pb && !isAggregate && inA !== inB && carries(index, a) && carries(index, b)) {
    const [in_, out] = inA ? [a, b] : [b, a];
    link.issues.push({
      kind: 'aggregation',
      words: `aggregation differs: ${in_.device} ${in_.port} is a member of ${pa.lag ?? pb.lag ?? 'an aggregate'}, ${out.device} ${out.port} of none`,
    });
  }
  // spanning tree may say the same: that one of them does not hear the other's report is odd all the same
  if (new Set(sorted.filter(({ source }) => source === 'lldp').map(({ by }) => by)).size === 1)
    link.issues.push(...oneSidedIssue(link, sorted, index));
  return link;
}

/** What the device at one end hears of the port at the other. */
const heard = (index: DeviceIndex, by: LinkEnd, of: LinkEnd): ToldByNeighbour | undefined =>
  index
    .byId(by.deviceId)
    ?.neighbours.find((one) => one.told && one.port === by.port && index.ofNeighbour(one)?.id === of.deviceId)?.told;

/** The ports of both ends, each with what the other hears of it. */
function asBothSay(index: DeviceIndex, a: LinkEnd, b: LinkEnd): (PortFacts | undefined)[] {
  return [
    [a, b],
    [b, a],
  ].map(([own, other]) => {
    const port = own && index.port(own.deviceId, own.port);
    return port && other ? withHeardOf(port, heard(index, other, own)) : undefined;
  });
}

const carrying = new Set(['switch', 'router', 'firewall']);
const carries = (index: DeviceIndex, { deviceId }: LinkEnd) => carrying.has(index.byId(deviceId)?.device.role ?? '');

/** Ports of both aggregates: in pairs where somebody said who is joined to whom, else each for itself. */
function membersOf(a: LinkEnd, b: LinkEnd, told: Gathered['members'], index: DeviceIndex): { a: string; b: string }[] {
  const known = [...told.values()];
  const rest = (end: LinkEnd, taken: Set<string>) =>
    (index.byId(end.deviceId)?.ports ?? [])
      .filter(({ lag, name }) => lag === end.port && !taken.has(name))
      .map(({ name }) => name);
  const alone = [
    ...rest(a, new Set(known.map((pair) => pair.a))).map((port) => ({ a: port, b: '' })),
    ...rest(b, new Set(known.map((pair) => pair.b))).map((port) => ({ a: '', b: port })),
  ];
  return [...known, ...alone].sort(
    (x, y) => compareNaturally(x.a || '\uffff', y.a || '\uffff') || compareNaturally(x.b, y.b),
  );
}

function speedOf(
  isAggregate: boolean,
  a: PortFacts | undefined,
  b: PortFacts | undefined,
  pairs: { a: string; b: string }[],
  index: DeviceIndex,
  ea: LinkEnd,
  eb: LinkEnd,
): number | null {
  const told = [a?.speedBps, b?.speedBps].filter((speed): speed is number => typeof speed === 'number' && speed > 0);
  if (told.length > 0 || !isAggregate) return told.length > 0 ? Math.min(...told) : null;
  // an aggregate that tells no speed has that of its members that are up, at the end that has less
  const sum = (end: LinkEnd, side: 'a' | 'b') =>
    pairs.reduce((total, pair) => {
      const member = pair[side] ? index.port(end.deviceId, pair[side]) : undefined;
      return total + (member?.oper === 'up' ? (member.speedBps ?? 0) : 0);
    }, 0);
  return Math.min(sum(ea, 'a'), sum(eb, 'b')) || null;
}

/** One report alone is only odd when both ends answered and the one that keeps still speaks LLDP elsewhere: then it should have heard this one too. */
function oneSidedIssue({ a, b }: LinkFacts, claims: readonly Claim[], index: DeviceIndex): LinkFacts['issues'] {
  const by = claims.find(({ source }) => source === 'lldp')?.by;
  const [near, far] = a.deviceId === by ? [a, b] : [b, a];
  const [speaker, silent] = [index.byId(near.deviceId), index.byId(far.deviceId)];
  if (!speaker?.answered || !silent?.answered || silent.neighbours.length === 0) return [];
  return [{ kind: 'oneSided', words: `${far.device} does not hear ${near.device} on ${far.port}` }];
}

/**
 * A cable has two ends: of links that an end itself tells and that share a port, at most one can be as it is told. Where the port itself hears several, something lies between that
 * passes their reports on.
 */
function tellContradictions(links: LinkFacts[]): void {
  const byPort = new Map<string, { link: LinkFacts; own: LinkEnd; far: LinkEnd }[]>();
  for (const link of links) {
    if (link.segment || link.kind === 'l3' || link.kind === 'virtual' || link.confidence === 'concluded') continue;
    for (const [own, far] of [
      [link.a, link.b],
      [link.b, link.a],
    ] as const) {
      const key = `${own.deviceId} ${own.port}`;
      byPort.set(key, [...(byPort.get(key) ?? []), { link, own, far }]);
    }
  }
  for (const told of byPort.values()) {
    if (told.length < 2) continue;
    for (const { link, own, far } of told) {
      const others = told
        .filter((other) => other.link !== link)
        .map((other) => `${other.far.device} ${other.far.port}`);
      const heardHere = told.every((other) => other.link.evidence.some(({ by }) => by === own.device));
      if (heardHere) {
        if (link.issues.some(({ kind }) => kind === 'shared')) continue;
        link.issues.push({
          kind: 'shared',
          words: `${own.device} hears ${far.device} ${far.port} and ${others.join(', ')} on ${own.port}: something that nobody asked lies between`,
        });
      } else
        link.issues.push({
          kind: 'contradiction',
          words: `contradiction: ${own.device} ${own.port} is told to lead to ${far.device} ${far.port}, and to ${others.join(', ')}`,
        });
    }
  }
}
