import { parsePrefix, prefixContains } from '../values/ipAddress';
import type { Attachment, BridgedWay, BridgedWays } from './layer2';
import type { RoutedWays, RouteHop, RoutingDevice } from './layer3';

/** An end of a trace: a device, or a machine that hangs on one. */
export interface TraceEnd {
  words: string;
  mac: string | null;
  address: string | null;
  vlan: number | null;
  /** where it hangs, or itself; null where that is not known */
  attached: Attachment | null;
  /** how it hangs there, where it is not by a cable of its own: “by radio” */
  how: string;
}

export interface TraceHop {
  deviceId: number;
  device: string;
  does: 'bridges' | 'routes';
  in: string | null;
  out: string | null;
  /** the VLAN in which frames leave it */
  vlan: number | null;
  /** the link by which they do; null where the next device is reached on a way that is not known */
  link: string | null;
  /** of a router: the route it takes, in words */
  route: string;
  /** what proves the hop, and what speaks against it */
  notes: { words: string; against: boolean }[];
}

export interface Trace {
  from: TraceEnd;
  to: TraceEnd;
  hops: TraceHop[];
  /** where knowledge ends; null where the trace arrives */
  gap: string | null;
  /** what had to be taken for granted */
  notes: string[];
}

export interface TraceKnowledge {
  bridged: BridgedWays;
  routed: RoutedWays;
  nameOf: (deviceId: number) => string;
  /** the VLAN that most machines of a network are in; null where nobody tells */
  vlanOf: (network: string) => number | null;
  /** the port on which the forwarding table of a device lists a MAC; null where it does not, or is not kept */
  listedAt: (deviceId: number, mac: string) => string | null;
}

const inside = (network: string, address: string) =>
  network.includes(':') === address.includes(':') && prefixContains(parsePrefix(network), address);

/** From one end to the other: bridged within a network, else over the gateway and from router to router, each part hop by hop. */
export function trace(from: TraceEnd, to: TraceEnd, knowledge: TraceKnowledge): Trace {
  const told: Trace = { from, to, hops: [], gap: null, notes: [] };
  const own = startsAtRouter(from, knowledge);
  const gateways = from.address === null ? null : knowledge.routed.gatewaysOf(from.address);
  const near =
    to.address === null ||
    (gateways !== null && inside(gateways.network, to.address)) ||
    (from.attached !== null && from.attached.deviceId === to.attached?.deviceId && from.vlan === to.vlan);
  if (near || from.address === null) return bridge(told, knowledge);
  if (own) return route(told, own, '', [], knowledge);
  if (!gateways) {
    if (from.vlan !== null && from.vlan === to.vlan) return bridge(told, knowledge);
    return {
      ...told,
      hops: ownHop(from, knowledge),
      gap: `no device that tells its routes has an address in the network of ${from.words}: its gateway is not known`,
    };
  }
  const legs = gateways.devices.map(({ device, row }) => ({
    device,
    row,
    way: from.attached
      ? knowledge.bridged.way(from.attached, { deviceId: device.deviceId, port: null }, from.vlan)
      : null,
  }));
  const [best] = [...legs].sort(
    (x, y) =>
      Number(x.way?.gap != null) - Number(y.way?.gap != null) || (x.way?.hops.length ?? 0) - (y.way?.hops.length ?? 0),
  );
  if (!best) return { ...told, gap: 'its gateway is not known' };
  if (legs.length > 1)
    told.notes.push(
      `${legs.map(({ device }) => device.name).join(' and ')} have an address in ${gateways.network}: any of them may be the gateway; followed is the way over ${best.device.name}`,
    );
  if (!best.way) told.notes.push(`where ${from.words} hangs is not known: the trace begins at its gateway`);
  else if (best.way.gap !== null)
    return { ...told, hops: hopsOf(best.way, from.vlan, knowledge, from.mac, 'in'), gap: best.way.gap };
  return route(
    told,
    best.device,
    best.row.vrf ?? '',
    best.way ? hopsOf(best.way, from.vlan, knowledge, from.mac, 'in') : [],
    knowledge,
  );
}

/** The device itself where it has routes of its own. */
function startsAtRouter({ attached, mac }: TraceEnd, { routed }: TraceKnowledge): RoutingDevice | null {
  if (!attached || attached.port !== null || mac !== null) return null;
  return routed.devices.find(({ deviceId, routes }) => deviceId === attached.deviceId && routes.length > 0) ?? null;
}

const ownHop = ({ attached, vlan }: TraceEnd, knowledge: TraceKnowledge): TraceHop[] =>
  attached
    ? hopsOf(
        { hops: [{ deviceId: attached.deviceId, in: attached.port, out: null, link: null }], gap: null },
        vlan,
        knowledge,
        null,
        'in',
      )
    : [];

function bridge(told: Trace, knowledge: TraceKnowledge): Trace {
  const { from, to } = told;
  const lost = !from.attached ? from : !to.attached ? to : null;
  if (!from.attached || !to.attached)
    return { ...told, hops: ownHop(from, knowledge), gap: `where ${lost?.words ?? ''} hangs is not known` };
  if (from.vlan !== null && to.vlan !== null && from.vlan !== to.vlan) {
    const network = from.address === null ? null : (knowledge.routed.gatewaysOf(from.address)?.network ?? null);
    if (network && to.address && inside(network, to.address))
      return {
        ...told,
        hops: ownHop(from, knowledge),
        gap: `${from.words} and ${to.words} are both in ${network}, so neither asks a gateway, yet one is in VLAN ${from.vlan} and the other in VLAN ${to.vlan}: no frame gets across`,
      };
    return {
      ...told,
      hops: ownHop(from, knowledge),
      gap: `${from.words} is in VLAN ${from.vlan}, ${to.words} in VLAN ${to.vlan}: who routes between the two is not known${from.address === null ? ` as long as no address of ${from.words} is` : ''}`,
    };
  }
  const vlan = from.vlan ?? to.vlan;
  const way = knowledge.bridged.way(from.attached, to.attached, vlan);
  return { ...told, hops: hopsOf(way, vlan, knowledge, to.mac, 'out'), gap: way.gap };
}

/** From a router on, over others, to where the destination hangs. */
function route(told: Trace, first: RoutingDevice, vrf: string, before: TraceHop[], knowledge: TraceKnowledge): Trace {
  const { to } = told;
  const { routed, bridged, nameOf, vlanOf } = knowledge;
  if (to.address === null) return told;
  // the far end may be a router itself, under another of its addresses
  const way =
    to.attached?.deviceId === first.deviceId && to.attached.port === null
      ? { hops: [], gap: null }
      : routed.way(first.deviceId, vrf, to.address);
  let hops =
    before.length > 0
      ? before
      : hopsOf(
          { hops: [{ deviceId: first.deviceId, in: null, out: null, link: null }], gap: null },
          null,
          knowledge,
          null,
          'in',
        );
  for (const [at, hop] of way.hops.entries()) {
    const here = hops.at(-1);
    if (here) Object.assign(here, { does: 'routes', route: routeWords(hop) });
    if (hop.also.length > 0)
      told.notes.push(
        `${nameOf(hop.deviceId)} may as well take ${hop.also.map(({ nextHop, port }) => nextHop ?? port).join(', ')}`,
      );
    const next = way.hops[at + 1];
    const nextAddress = hop.route.nextHop;
    if (nextAddress === null) break;
    const owner = routed.ownerOf(nextAddress, hop.vrf)?.device;
    if (!owner || owner.deviceId === hop.deviceId) break;
    const network = routed.gatewaysOf(nextAddress)?.network ?? null;
    hops = joined(
      hops,
      legOf(
        bridged,
        { deviceId: hop.deviceId, port: null },
        { deviceId: owner.deviceId, port: null },
        network === null ? null : vlanOf(network),
        told,
      ),
      knowledge,
      null,
    );
    const arrived = hops.at(-1);
    if (arrived) arrived.does = 'routes';
    if (!next) break;
  }
  if (way.gap !== null) return { ...told, hops, gap: way.gap };
  const last = hops.at(-1);
  if (!to.attached || !last) return { ...told, hops, gap: `where ${to.words} hangs is not known` };
  if (last.deviceId === to.attached.deviceId && to.attached.port === null) return { ...told, hops };
  const leg = bridged.way({ deviceId: last.deviceId, port: null }, to.attached, to.vlan);
  return { ...told, hops: joined(hops, { way: leg, vlan: to.vlan }, knowledge, to.mac), gap: leg.gap };
}

/** Between two routers: in the VLAN of their network, or over whatever joins them. */
function legOf(
  bridged: BridgedWays,
  from: Attachment,
  to: Attachment,
  vlan: number | null,
  told: Trace,
): { way: BridgedWay; vlan: number | null } {
  const way = bridged.way(from, to, vlan);
  if (way.gap === null) return { way, vlan };
  const any = bridged.way(from, to, null);
  if (any.gap === null) return { way: any, vlan: null };
  told.notes.push(any.gap);
  return {
    way: {
      hops: [
        { deviceId: from.deviceId, in: from.port, out: null, link: null },
        { deviceId: to.deviceId, in: null, out: to.port, link: null },
      ],
      gap: null,
    },
    vlan: null,
  };
}

/** A leg on to what is there: the device in which both meet is one hop. */
function joined(
  hops: TraceHop[],
  { way, vlan }: { way: BridgedWay; vlan: number | null },
  knowledge: TraceKnowledge,
  mac: string | null,
): TraceHop[] {
  const next = hopsOf(way, vlan, knowledge, mac, 'out');
  const [here, first] = [hops.at(-1), next[0]];
  if (!here || !first) return hops;
  return [
    ...hops.slice(0, -1),
    { ...here, out: first.out, link: first.link, vlan: first.vlan, notes: [...here.notes, ...first.notes] },
    ...next.slice(1),
  ];
}

function hopsOf(
  { hops }: BridgedWay,
  vlan: number | null,
  { nameOf, listedAt }: TraceKnowledge,
  mac: string | null,
  side: 'in' | 'out',
): TraceHop[] {
  return hops.map((hop) => {
    const listed = mac === null ? null : listedAt(hop.deviceId, mac);
    const expected = hop[side];
    const notes =
      mac === null || listed === null || expected === null
        ? []
        : [
            listed === expected
              ? { words: 'its table lists it there', against: false }
              : { words: `its table lists ${mac} on ${listed}, not on ${expected}`, against: true },
          ];
    return {
      deviceId: hop.deviceId,
      device: nameOf(hop.deviceId),
      does: 'bridges',
      in: hop.in,
      out: hop.out,
      vlan,
      link: hop.link,
      route: '',
      notes,
    };
  });
}

function routeWords({ vrf, route: { destination, nextHop, protocol, port } }: RouteHop): string {
  return `${destination}${vrf ? ` of virtual router ${vrf}` : ''} ${nextHop === null ? `on ${port}` : `to ${nextHop}`} (${protocol})`;
}
