import type { AddressFacts, PortFacts, Role } from '../estate/facts';
import { isNeededAtOnce, type ServiceKind } from '../services/serviceRule';
import type { LinkFacts } from '../topology/links';
import { Prefixes } from '../values/prefixes';
import { networkOf } from '../values/ipAddress';
import type {
  ClusterHost,
  DependenceGraph,
  GatewayGroup,
  HostedMachine,
  Layer,
  Need,
  NeedKind,
  Thing,
  ThingKind,
} from './graph';
import { forwardsOf, standingsOf } from './network';
import { serviceId } from './serviceId';

/** What an estate tells of that from which it follows who rests on whom. */
export interface EstateFacts {
  devices: readonly { deviceId: number; name: string; role: Role; memoryBytes: number | null; routes: boolean }[];
  links: readonly Pick<LinkFacts, 'a' | 'b' | 'kind'>[];
  portOf: (deviceId: number, port: string) => PortFacts | undefined;
  endpoints: Iterable<{
    mac: string;
    name: string;
    deviceId: number | null;
    port: string;
    via: string;
    vlan: number | null;
    addresses: readonly string[];
    /** the device whose MAC it is */
    ownDeviceId: number | null;
  }>;
  addresses: readonly (AddressFacts & { deviceId: number })[];
  /** routers that several carry together: the addresses of each and its carriers */
  virtualRouters: readonly { addresses: readonly string[]; deviceId: number }[];
  machines: readonly {
    id: string;
    name: string;
    hostId: number | null;
    cluster: string;
    memoryBytes: number | null;
    isRunning: boolean;
    /** the device that runs in it */
    insideId: number | null;
  }[];
  /** listeners */
  listeners: readonly {
    deviceId: number;
    process: string;
    protocol: string;
    port: number;
    kind: ServiceKind | '';
    isForAll: boolean;
  }[];
  talks: readonly Talks[];
  /** what people put together: the services of each by what they are, of which so many must go on */
  applications?: readonly StatedApplication[];
  /** what people say */
  stated?: readonly StatedNeed[];
}

/** A service on a host, or an endpoint by its address where no device is known: its number is 0 then. */
export interface StatedPart {
  deviceId: number;
  address: string;
  service: string;
  /** how it is known to be a part, each reason by itself */
  proof: readonly string[];
}

export interface StatedApplication {
  id: string;
  name: string;
  /** `service` empty: the host as a whole */
  groups: readonly { called: string; parts: readonly StatedPart[]; atLeast: number }[];
}

/** That one process asks another, or an endpoint by its address where no device is known: its number is 0 then. */
export interface Talks {
  client: { deviceId: number; process: string };
  server: { deviceId: number; address: string; process: string };
  protocol: string;
  port: number;
  /** how it is known and when it was last seen, in words */
  proof: string;
}

/** A thing by its kind and id. */
export interface ThingName {
  kind: ThingKind;
  id: string;
}

export interface StatedNeed {
  of: ThingName;
  from: readonly ThingName[];
  atLeast: number;
  kind: NeedKind;
  proof: string;
}

/** What hangs on a port and is heard through what is plugged in there. */
const passedOn: Record<string, ReadonlySet<Role>> = {
  wireless: new Set<Role>(['access-point']),
  virtual: new Set<Role>(['hypervisor', 'server', 'host']),
  phone: new Set<Role>(['phone']),
};
const routing = new Set<Role>(['router', 'firewall', 'switch', 'virtual-machine']);

export interface EstateGraph {
  graph: DependenceGraph;
  /** number of a thing by its kind and id; -1 where there is none */
  numberOf: (name: ThingName) => number;
  /** by cable: the place of its link */
  linkOf: readonly number[];
}

/** Puts together who rests on whom, from what devices, managers of hosts and captures tell, and what people say. */
export function estateGraph(facts: EstateFacts): EstateGraph {
  const things: Thing[] = [];
  const numbers = new Map<string, number>();
  const add = (kind: ThingKind, id: string, name: string): number => {
    const key = `${kind} ${id}`;
    const known = numbers.get(key);
    if (known !== undefined) return known;
    numbers.set(key, things.length);
    things.push({ kind, id, name });
    return things.length - 1;
  };
  const numberOf = ({ kind, id }: ThingName) => numbers.get(`${kind} ${id}`) ?? -1;
  const placeOf = (deviceId: number | null) =>
    deviceId === null ? -1 : numberOf({ kind: 'device', id: String(deviceId) });
  const roles: Role[] = [];
  for (const { deviceId, name, role } of facts.devices) {
    add('device', String(deviceId), name);
    roles.push(role);
  }
  const deviceCount = things.length;
  const cables: { a: number; b: number }[] = [];
  const linkOf: number[] = [];
  /** by device and port: who is at the other end */
  const beyond = new Map<string, number>();
  facts.links.forEach(({ a, b }, at) => {
    const [from, to] = [placeOf(a.deviceId), placeOf(b.deviceId)];
    if (from < 0 || to < 0 || from === to) return;
    cables.push({ a: from, b: to });
    linkOf.push(at);
    beyond.set(`${from} ${a.port}`, to);
    beyond.set(`${to} ${b.port}`, from);
  });
  const hangs: number[] = [];
  const hangsOn = (thing: number, at: number) => (hangs[thing] = at);
  const needs: Need[] = [];
  const gateways = new GatewayFinder(facts, placeOf);
  const groups = new Map<string, Omit<GatewayGroup, 'layer'> & { layer: number | null; things: number[] }>();
  // endpoints that are parts of applications, by their addresses
  const asked = new Set(
    (facts.applications ?? []).flatMap(({ groups: own }) =>
      own.flatMap(({ parts }) => parts.flatMap(({ deviceId, address }) => (deviceId > 0 ? [] : [address]))),
    ),
  );
  const talkedTo = new Set(facts.talks.flatMap(({ server }) => (server.deviceId > 0 ? [] : [server.address])));
  const atAddress = new Map<string, number>();
  for (const { mac, name, deviceId, port, via, vlan, addresses, ownDeviceId } of facts.endpoints) {
    const own = placeOf(ownDeviceId);
    const at = placeOf(deviceId);
    // people know a part by the address they named, and talk by the one that is asked
    const called =
      addresses.find((address) => asked.has(address)) ?? addresses.find((address) => talkedTo.has(address));
    const thing = add('endpoint', mac, name || (called ?? mac));
    for (const address of addresses)
      if ((asked.has(address) || talkedTo.has(address)) && !atAddress.has(address)) atAddress.set(address, thing);
    if (own >= 0) {
      hangsOn(thing, own);
    } else if (at >= 0) {
      const through = beyond.get(`${at} ${port}`);
      const passes = through !== undefined && passedOn[via]?.has(roles[through] ?? 'unknown');
      hangsOn(thing, passes ? through : at);
    }
    if (at < 0) continue;
    const found = gateways.of(addresses);
    if (!found || found.devices.includes(own)) continue;
    const key = `${at} ${vlan ?? ''} ${found.network}`;
    const group = groups.get(key) ?? {
      layer: vlan,
      at,
      gateways: found.devices,
      things: [] as number[],
      network: found.network,
      isVirtual: found.isVirtual,
    };
    groups.set(key, group);
    group.things.push(own >= 0 && !routing.has(roles[own] ?? 'unknown') ? own : thing);
  }
  const { layers, layerOf } = layersOf(
    facts,
    linkOf,
    new Set([...groups.values()].flatMap(({ layer }) => layer ?? [])),
  );
  const gatewayGroups = [...groups.values()].map(({ layer, things: members, ...group }): GatewayGroup => ({
    ...group,
    things: [...new Set(members)],
    layer: layer === null ? -1 : (layerOf.get(layer) ?? -1),
  }));
  const { machines, clusterHosts } = machinesOf(facts, add, placeOf);
  addServices(facts, add, placeOf, numberOf, (device) => things[device]?.name ?? '', atAddress, needs);
  addPower(facts, placeOf, needs);
  addApplications(facts, add, placeOf, numberOf, atAddress, needs);
  for (const { of, from, ...stated } of facts.stated ?? []) {
    const thing = numberOf(of);
    const givers = from.map(numberOf).filter((one) => one >= 0);
    if (thing >= 0 && givers.length > 0)
      needs.push({ ...stated, of: thing, from: givers, atLeast: Math.min(stated.atLeast, givers.length) });
  }
  return {
    numberOf,
    linkOf,
    graph: {
      things,
      deviceCount,
      cables,
      bridges: Uint8Array.from(roles, (role) => Number(role === 'switch')),
      forwards: forwardsOf(roles),
      standing: standingsOf(roles),
      hangsOn: Int32Array.from(things, (_, thing) => hangs[thing] ?? -1),
      needs,
      layers,
      gatewayGroups,
      clusterHosts,
      machines,
    },
  };
}

/** Who routes for an address: whoever carries a virtual router of its network, else all that route and have an address in it. */
class GatewayFinder {
  readonly #prefixes: Prefixes;
  readonly #devices = new Map<string, number[]>();
  readonly #virtual: ReadonlySet<string>;

  constructor(facts: EstateFacts, placeOf: (deviceId: number) => number) {
    const routes = new Map(
      facts.devices.map(({ deviceId, role, routes: has }) => [deviceId, has && routing.has(role)]),
    );
    const networks = new Map<number, Set<string>>();
    const inNetwork = new Map<string, Set<number>>();
    for (const { deviceId, address, prefixLength, vrf } of facts.addresses) {
      if (prefixLength === null || vrf) continue;
      const network = networkOf(address, prefixLength);
      networks.set(deviceId, (networks.get(deviceId) ?? new Set()).add(network));
      if (routes.get(deviceId)) inNetwork.set(network, (inNetwork.get(network) ?? new Set()).add(deviceId));
    }
    const carried = new Map<string, Set<number>>();
    const all = new Prefixes([...inNetwork.keys()]);
    for (const { addresses, deviceId } of facts.virtualRouters)
      for (const address of addresses) {
        const network = all.longestWith(address);
        if (network) carried.set(network, (carried.get(network) ?? new Set()).add(deviceId));
      }
    for (const [network, devices] of inNetwork) {
      // what has one network alone routes nowhere
      const routers = [...(carried.get(network) ?? devices)].filter((device) => (networks.get(device)?.size ?? 0) > 1);
      const places = routers.map(placeOf).filter((place) => place >= 0);
      if (places.length > 0)
        this.#devices.set(
          network,
          places.sort((x, y) => x - y),
        );
    }
    this.#prefixes = new Prefixes([...this.#devices.keys()]);
    this.#virtual = new Set(carried.keys());
  }

  of(addresses: readonly string[]): { network: string; devices: number[]; isVirtual: boolean } | null {
    for (const address of addresses) {
      const network = this.#prefixes.longestWith(address);
      const devices = network ? this.#devices.get(network) : undefined;
      if (network && devices) return { network, devices, isVirtual: this.#virtual.has(network) };
    }
    return null;
  }
}

/** Which cables carry which of some VLANs; a port that tells none may carry any. */
function layersOf({ links, portOf }: EstateFacts, linkOf: readonly number[], vlans: ReadonlySet<number>) {
  const wanted = [...vlans].sort((x, y) => x - y);
  const layers: { vlan: number; cables: number[] }[] = wanted.map((vlan) => ({ vlan, cables: [] }));
  const layerOf = new Map(wanted.map((vlan, at) => [vlan, at]));
  const carriedBy = (deviceId: number, port: string): ReadonlySet<number> | null => {
    const facts = portOf(deviceId, port);
    if (!facts || (facts.vlan === null && facts.taggedVlans.length === 0)) return null;
    return new Set([
      ...(facts.vlan === null ? [] : [facts.vlan]),
      ...facts.taggedVlans,
      ...(facts.untaggedVlans ?? []),
    ]);
  };
  linkOf.forEach((link, cable) => {
    const one = links[link];
    if (!one || one.kind === 'l3') return;
    const [near, far] = [carriedBy(one.a.deviceId, one.a.port), carriedBy(one.b.deviceId, one.b.port)];
    for (const layer of layers)
      if ((near === null || near.has(layer.vlan)) && (far === null || far.has(layer.vlan))) layer.cables.push(cable);
  });
  return { layers: layers as Layer[], layerOf };
}

function machinesOf(
  facts: EstateFacts,
  add: (kind: ThingKind, id: string, name: string) => number,
  placeOf: (deviceId: number | null) => number,
): { machines: HostedMachine[]; clusterHosts: ClusterHost[] } {
  const machines: HostedMachine[] = [];
  const used = new Map<number, number | null>();
  const clusters = new Map<number, string>();
  for (const { id, name, hostId, cluster, memoryBytes, isRunning, insideId } of facts.machines) {
    const host = placeOf(hostId);
    if (host >= 0 && cluster) clusters.set(host, cluster);
    if (!isRunning) continue;
    const machine = add('machine', id, name);
    if (host < 0) continue;
    machines.push({ machine, host, bytes: memoryBytes, inside: placeOf(insideId) });
    const before = used.get(host) ?? 0;
    used.set(host, before === null || memoryBytes === null ? null : before + memoryBytes);
  }
  const memory = new Map(facts.devices.map(({ deviceId, memoryBytes }) => [placeOf(deviceId), memoryBytes]));
  return {
    machines,
    clusterHosts: [...clusters].map(([device, cluster]): ClusterHost => {
      const own = memory.get(device) ?? null;
      const taken = used.get(device) ?? 0;
      return { device, cluster, roomBytes: own === null || taken === null ? null : Math.max(0, own - taken) };
    }),
  };
}

/** Services run on devices; who asks one asks any like it: those it talks to, and those that stand in for them. */
function addServices(
  facts: EstateFacts,
  add: (kind: ThingKind, id: string, name: string) => number,
  placeOf: (deviceId: number) => number,
  numberOf: (name: ThingName) => number,
  nameOf: (device: number) => string,
  atAddress: ReadonlyMap<string, number>,
  needs: Need[],
): void {
  const kinds = new Map<number, ServiceKind | ''>();
  /** by port and process: all services that serve it */
  const ports = new Map<number, Set<string>>();
  for (const { deviceId, process, protocol, port, kind, isForAll } of facts.listeners) {
    const host = placeOf(deviceId);
    if (host < 0 || !isForAll) continue;
    const before = numberOf({ kind: 'service', id: serviceId(deviceId, process, protocol, port) });
    const service = add(
      'service',
      serviceId(deviceId, process, protocol, port),
      `${process || `${protocol}/${port}`} on ${nameOf(host)}`,
    );
    if (before < 0) needs.push({ of: service, from: [host], atLeast: 1, kind: 'runs on', proof: 'its listener' });
    if (!kinds.get(service)) kinds.set(service, kind);
    ports.set(service, (ports.get(service) ?? new Set()).add(`${protocol}/${port}`));
  }
  const service = (deviceId: number, process: string, protocol: string, port: number) =>
    numberOf({ kind: 'service', id: serviceId(deviceId, process, protocol, port) });
  /** by service: others of the same process that it talks with, and how that is known */
  const peers = new Map<number, Map<number, Set<string>>>();
  const asked = new Map<string, { client: number; place: string; servers: Map<number, Set<string>> }>();
  for (const { client, server, protocol, port, proof } of facts.talks) {
    const from = client.process === '' ? -1 : service(client.deviceId, client.process, '', 0);
    const known = server.deviceId > 0 ? service(server.deviceId, server.process, protocol, port) : -1;
    const other = server.deviceId > 0 ? placeOf(server.deviceId) : (atAddress.get(server.address) ?? -1);
    const to = known >= 0 ? known : other;
    if (from < 0 || to < 0 || from === to) continue;
    if (known >= 0 && client.process === server.process && client.deviceId !== server.deviceId) {
      for (const [one, other] of [
        [from, to],
        [to, from],
      ] as const)
        put(peers, one, other, proof);
      continue;
    }
    const place = `${protocol}/${port}`;
    const key = `${from} ${server.process} ${place}`;
    const group = asked.get(key) ?? { client: from, place, servers: new Map() };
    asked.set(key, group);
    group.servers.set(to, (group.servers.get(to) ?? new Set()).add(proof));
  }
  const endpoints = new Set(atAddress.values());
  for (const { client, place, servers } of asked.values()) {
    const standIns = [...servers.keys()].flatMap((one) =>
      [...(peers.get(one)?.keys() ?? [])].filter((peer) => ports.get(peer)?.has(place)),
    );
    const from = [...new Set([...servers.keys(), ...standIns])].filter((one) => one !== client).sort((x, y) => x - y);
    if (from.length === 0) continue;
    // of what nobody knows more than an address of, it is only known that it is asked
    const isNeeded = from.some((one) => !endpoints.has(one) && isNeededAtOnce(kinds.get(one) ?? ''));
    needs.push({
      of: client,
      from,
      atLeast: isNeeded ? 1 : 0,
      kind: 'talks to',
      proof: place,
      each: from.map((one) => {
        const heard = servers.get(one);
        return heard ? heardOf(heard) : [`stands in: it serves ${place} too`];
      }),
    });
  }
  for (const [one, others] of peers) {
    const from = [...others.keys()].sort((x, y) => x - y);
    const proof = 'the same process, and they talk to each other';
    const each = from.map((other) => [proof, ...heardOf(others.get(other) ?? [])]);
    needs.push({ of: one, from, atLeast: 0, kind: 'replicates with', proof, each });
  }
}

function put(peers: Map<number, Map<number, Set<string>>>, one: number, other: number, proof: string): void {
  const own = peers.get(one) ?? new Map<number, Set<string>>();
  peers.set(one, own);
  own.set(other, (own.get(other) ?? new Set()).add(proof));
}

/** So many conversations are told of two; the rest is counted. */
const mostHeard = 3;

/** How two are heard to talk: the first of their conversations in words. */
function heardOf(proofs: Iterable<string>): string[] {
  const all = [...proofs].sort();
  const more = all.length - mostHeard;
  return [...all.slice(0, mostHeard), ...(more > 0 ? [`and ${more} more`] : [])];
}

/** An application goes on while enough of each of its services do. */
function addApplications(
  facts: EstateFacts,
  add: (kind: ThingKind, id: string, name: string) => number,
  placeOf: (deviceId: number) => number,
  numberOf: (name: ThingName) => number,
  atAddress: ReadonlyMap<string, number>,
  needs: Need[],
): void {
  for (const { id, name, groups } of facts.applications ?? []) {
    const application = add('application', id, name);
    for (const { called, parts, atLeast } of groups) {
      const from = new Map<number, readonly string[]>();
      for (const { deviceId, address, service, proof } of parts) {
        const own = deviceId > 0 && service ? numberOf({ kind: 'service', id: `${deviceId} ${service}` }) : -1;
        const host = deviceId > 0 ? placeOf(deviceId) : (atAddress.get(address) ?? -1);
        const part = own >= 0 ? own : host;
        if (part >= 0 && !from.has(part)) from.set(part, proof);
      }
      if (from.size > 0)
        needs.push({
          of: application,
          from: [...from.keys()],
          atLeast: Math.min(atLeast, from.size),
          kind: 'member of',
          proof: called,
          each: [...from.values()],
        });
    }
  }
}

/** Who gets power by the cable: the device at the other end of a port that gives it. */
function addPower(facts: EstateFacts, placeOf: (deviceId: number) => number, needs: Need[]): void {
  const feeds = new Map<number, { from: Set<number>; ports: string[] }>();
  for (const { a, b } of facts.links)
    for (const [near, far] of [
      [a, b],
      [b, a],
    ] as const) {
      const port = facts.portOf(near.deviceId, near.port);
      if (!port?.poe?.enabled || port.poe.state !== 'delivering') continue;
      const [from, of] = [placeOf(near.deviceId), placeOf(far.deviceId)];
      if (from < 0 || of < 0) continue;
      const own = feeds.get(of) ?? { from: new Set<number>(), ports: [] };
      feeds.set(of, own);
      own.from.add(from);
      own.ports.push(`${near.device} ${near.port}`);
    }
  for (const [of, { from, ports }] of feeds)
    needs.push({
      of,
      from: [...from],
      atLeast: 1,
      kind: 'powered by',
      proof: `power over Ethernet from ${ports.join(', ')}`,
    });
}
