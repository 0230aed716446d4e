import { chooseSignature, countedMemory, recognise, type Signature } from '../signatures/signature';
import { interfaceTypeWord, isSocket } from '../values/iana';
import { compareAddresses, isRoutableAddress } from '../values/ipAddress';
import type { Bridge } from '../mib/bridge';
import type { InterfaceRow } from '../mib/interfaces';
import type { Lldp, LldpLocalPort } from '../mib/lldp';
import type { PortCounters } from '../switching/portErrors';
import type { PoweringPort } from '../mib/powerEthernet';
import type { DeviceReport, MachineFacts, NeighbourFacts, PortFacts, Role, SightingFacts } from './facts';
import type { Harvest } from './harvest';
import { faultsOf } from './interpretFaults';
import { backplaneLinks } from './backplaneLinks';
import { learnedRoutesOf, peersOf, routeCountsOf, routesOf } from './interpretRouting';
import { conversationsOf, servicesOf } from './interpretServices';
import { moduleTree } from './moduleTree';
import { transceiversByPort } from './transceivers';
import { softwareName } from './softwareName';
import { poweringSockets, type PoweringSocket, type SocketParts } from './poweringSockets';
import { sensorReadings } from './sensorReadings';

const noChassis = { model: '', vendor: '' };

/**
 * Turns one harvest into the facts of a device: joins the tables of the several MIBs on ports, names things,
 * leaves volatile values apart. Pure; the same harvest always gives the same report.
 */
export function interpret(harvest: Harvest, signatures: Signature[]): DeviceReport {
  // what the modules tell may name a better one than was known when the first question was answered
  const signature =
    chooseSignature(signatures, harvest.system, harvest.modules.find((row) => row.class === 'chassis') ?? noChassis) ??
    signatures.find(({ id }) => id === harvest.signature);
  if (!signature) throw new Error('the signature list holds no generic signature');
  const recognition = recognise(signature, harvest.system, harvest.modules);
  const names = portNames(harvest.interfaces);
  const ports = portFacts(harvest, names);
  const { modules, pathByIndex } = moduleTree(harvest.modules);
  const moduleNames = new Map(harvest.modules.map((row) => [row.entPhysicalIndex, row]));
  const contextual = harvest.contexts.flatMap(({ context, addresses }) =>
    addresses.map((row) => ({ ...row, vrf: context })),
  );
  const memory =
    countedMemory(signature, harvest.modules, harvest.moduleMemory) ??
    (Number(harvest.private.memoryBytes ?? 0) || harvest.host?.memoryBytes || null);
  const flash = harvest.host?.storage.find(({ kind }) => kind === 'flash');
  const ownAddresses = harvest.addresses.map(({ address }) => address).filter(isRoutableAddress);
  if (!ownAddresses.includes(harvest.address) && isRoutableAddress(harvest.address)) ownAddresses.push(harvest.address);
  const uptime = harvest.system.uptimeSeconds;
  const cards = backplaneLinks(harvest.system.name || harvest.address, modules);
  return {
    device: {
      name: harvest.system.name || harvest.address,
      site: '',
      role: refineRole(recognition.role, harvest),
      vendor: recognition.vendor,
      family: recognition.family,
      model: recognition.model,
      serial: text(harvest.private.serial) || recognition.serial,
      release: text(harvest.private.release) || recognition.release,
      bootRelease: text(harvest.private.bootRelease),
      address: harvest.address,
      addresses: [...new Set(ownAddresses)].sort(compareAddresses),
      objectId: harvest.system.objectId,
      description: harvest.system.description,
      contact: harvest.system.contact,
      location: harvest.system.location,
      memoryBytes: memory,
      flashBytes: Number(harvest.private.flashBytes ?? 0) || flash?.sizeBytes || null,
      credential: harvest.credential,
      signature: recognition.signature,
      units: harvest.modules
        .filter((row) => row.class === 'chassis')
        .map(({ name, model, serial }) => ({ name, model, serial })),
      bridgeAddress: harvest.bridge?.address ?? null,
      engineId: harvest.system.engineId,
      processors: harvest.host?.processors ?? [],
      ...Object.fromEntries(
        (['bootImage', 'redundancyRole', 'unsavedConfiguration'] as const).flatMap((fact) =>
          harvest.private[fact] === undefined ? [] : [[fact, text(harvest.private[fact])]],
        ),
      ),
    },
    volatile: {
      uptimeSeconds: uptime,
      flashFreeBytes:
        harvest.private.flashFreeBytes !== undefined
          ? Number(harvest.private.flashFreeBytes)
          : flash
            ? flash.sizeBytes - flash.usedBytes
            : null,
      storage: (harvest.host?.storage ?? []).map(({ name, kind, sizeBytes, usedBytes }) => ({
        name,
        kind,
        sizeBytes,
        usedBytes,
      })),
      sensors: sensorReadings(harvest.sensors, pathByIndex),
      ...(harvest.readings.length > 0 && { readings: harvest.readings }),
      ...(harvest.interfaces.some(({ lost }) => lost !== null) && {
        portLosses: portLosses(harvest.interfaces, names),
      }),
      ...(harvest.powerGroups.length > 0 && { powerGroups: harvest.powerGroups }),
      ...(harvest.portWatts && {
        portWatts: Object.fromEntries(
          [...harvest.portWatts].flatMap(([ifIndex, watts]) =>
            names.has(ifIndex) ? [[names.get(ifIndex) ?? '', watts]] : [],
          ),
        ),
      }),
      ...((harvest.routes.length > 0 || harvest.routesLeft) && { routeCounts: routeCountsOf(harvest) }),
    },
    modules,
    ports,
    portAges: Object.fromEntries(
      harvest.interfaces.flatMap((row) => {
        const age = stateAge(row.lastChangeUptimeSeconds, uptime);
        return age === null ? [] : [[names.get(row.ifIndex) ?? row.name, age]];
      }),
    ),
    addresses: [...harvest.addresses.map((row) => ({ ...row, vrf: '' })), ...contextual]
      .filter(({ address }) => isRoutableAddress(address))
      .map(({ address, prefixLength, ifIndex, vrf }) => ({
        address,
        prefixLength,
        port: names.get(ifIndex) ?? '',
        ...(vrf && { vrf }),
      })),
    vlans: (harvest.bridge?.vlans ?? []).map(({ vlan, name }) => ({ vlan, name })),
    neighbours: neighbourFacts(harvest.lldp, harvest.interfaces, names),
    services: servicesOf(harvest),
    software: harvest.installed.map(({ name, kind, installedAt }) => ({ ...softwareName(name), kind, installedAt })),
    machines: machinesOf(harvest, names),
    routes: routesOf(harvest, names),
    learnedRoutes: learnedRoutesOf(harvest, names),
    ...(cards.length > 0 && { toldLinks: cards }),
    peers: peersOf(harvest),
    wlans: [],
    faults: faultsOf(harvest, moduleNames, pathByIndex),
    conversations: conversationsOf(harvest),
    sightings: {
      forwarding: [
        forwardingOf(harvest.bridge, names),
        ...harvest.contexts.map((context) => forwardingOf(context, names)),
      ].flat(),
      addresses: [harvest.neighbourAddresses, ...harvest.contexts.map(({ neighbourAddresses }) => neighbourAddresses)]
        .flat()
        .map(({ mac, address }) => ({ mac, address })),
    },
  };
}

function forwardingOf(
  bridge: Pick<Bridge, 'forwarding' | 'ifIndexByBridgePort'> | null,
  names: Map<number, string>,
): SightingFacts['forwarding'] {
  return (bridge?.forwarding ?? []).flatMap(({ mac, bridgePort, vlan }) => {
    const port = names.get(bridge?.ifIndexByBridgePort.get(bridgePort) ?? -1);
    return port === undefined ? [] : [{ mac, port, vlan }];
  });
}

function machinesOf({ hypervisor }: Harvest, names: Map<number, string>): MachineFacts[] {
  return (hypervisor?.machines ?? []).map(({ name, uuid, system, running, processors, memoryBytes, adapters }) => ({
    name,
    uuid,
    system,
    state: running ? 'running' : 'off',
    processors,
    memoryBytes,
    host: '',
    cluster: '',
    adapters: adapters.map(({ mac, parentIfIndex }) => ({
      mac,
      port: parentIfIndex === null ? null : (names.get(parentIfIndex) ?? null),
      network: null,
    })),
  }));
}

const text = (value: number | string | undefined) => (value === undefined ? '' : String(value).trim());

/** sysUpTime wraps after 2^32 hundredths (497 days); a last change above the uptime was before the wrap. */
const wrapSeconds = 2 ** 32 / 100;
/** sysUpTime is read first: a port that changed while the rest was read has changed after it. No device is read for longer. */
const readingSeconds = 600;

/** Seconds since a port changed its state, given both in seconds of sysUpTime. */
export function stateAge(lastChangeUptimeSeconds: number | null, uptimeSeconds: number | null): number | null {
  if (lastChangeUptimeSeconds === null || uptimeSeconds === null) return null;
  const age = uptimeSeconds - lastChangeUptimeSeconds;
  if (age < 0 && age >= -readingSeconds) return 0;
  return Math.floor(age >= 0 ? age : age + wrapSeconds);
}

/** Names of ports must tell them apart: where an agent names two alike, the ifIndex is added. */
export function portNames(interfaces: InterfaceRow[]): Map<number, string> {
  const counts = new Map<string, number>();
  for (const { name } of interfaces) counts.set(name, (counts.get(name) ?? 0) + 1);
  return new Map(
    interfaces.map(({ ifIndex, name }) => [ifIndex, (counts.get(name) ?? 0) > 1 ? `${name} #${ifIndex}` : name]),
  );
}

function portFacts(harvest: Harvest, names: Map<number, string>): PortFacts[] {
  const { bridge } = harvest;
  const bridgePortByIfIndex = new Map<number, number>();
  for (const [bridgePort, ifIndex] of bridge?.ifIndexByBridgePort ?? []) bridgePortByIfIndex.set(ifIndex, bridgePort);
  const parts = { rows: harvest.modules, interfaces: harvest.moduleInterfaces };
  const powering = poweringOfSockets(harvest.interfaces, harvest.poweringPorts, parts);
  const transceivers = transceiversByPort(harvest.modules, harvest.moduleInterfaces, names);
  const voiceVlans = voiceVlansByPort(harvest.lldp, harvest.interfaces);
  return harvest.interfaces.map((row) => {
    const bridgePort = bridgePortByIfIndex.get(row.ifIndex);
    return {
      index: row.ifIndex,
      name: names.get(row.ifIndex) ?? row.name,
      alias: row.alias,
      description: row.description,
      type: interfaceTypeWord(row.ifType),
      physical: isSocket(row.ifType) && row.connectorPresent !== false,
      admin: row.admin,
      oper: row.oper,
      speedBps: row.oper === 'up' ? row.speedBps : null,
      duplex: row.duplex,
      mtu: row.mtu,
      mac: row.mac,
      vlan: bridge && bridgePort !== undefined ? (bridge.pvid.get(bridgePort) ?? null) : null,
      taggedVlans: bridge && bridgePort !== undefined ? taggedVlans(bridge, bridgePort) : [],
      addresses: harvest.addresses
        .filter(({ ifIndex }) => ifIndex === row.ifIndex)
        .map(({ address, prefixLength }) => (prefixLength === null ? address : `${address}/${prefixLength}`)),
      lag: row.aggregate ? (names.get(row.aggregate) ?? null) : null,
      stp: bridge && bridgePort !== undefined ? spanningTree(bridge, bridgePort) : null,
      poe: poweringOf(powering.get(row.ifIndex)?.port),
      ...(row.media && { media: row.media }),
      ...(row.autoNegotiation !== null && { autoNegotiation: row.autoNegotiation }),
      ...(transceivers.has(row.ifIndex) && { transceiver: transceivers.get(row.ifIndex) ?? '' }),
      ...(harvest.portsDisabled?.has(row.ifIndex) && { disabledBy: harvest.portsDisabled.get(row.ifIndex) ?? '' }),
      ...(voiceVlans.has(row.ifIndex) && { voiceVlan: voiceVlans.get(row.ifIndex) ?? 0 }),
    };
  });
}

function portLosses(interfaces: InterfaceRow[], names: Map<number, string>): Record<string, PortCounters> {
  return Object.fromEntries(
    interfaces.flatMap(({ ifIndex, name, lost }) =>
      lost?.some((count) => count > 0) ? [[names.get(ifIndex) ?? name, lost]] : [],
    ),
  );
}

/** Which powering port each socket is, by its ifIndex. */
export const poweringOfSockets = (
  interfaces: InterfaceRow[],
  ports: PoweringPort[],
  parts?: SocketParts,
): Map<number, PoweringSocket> =>
  poweringSockets(
    ports,
    interfaces.filter((row) => isSocket(row.ifType) && row.connectorPresent !== false),
    parts,
  );

const poweringOf = (port: PoweringPort | undefined): PortFacts['poe'] =>
  port ? { enabled: port.enabled, state: port.state, class: port.class } : null;

function taggedVlans(bridge: Bridge, bridgePort: number): number[] {
  return bridge.vlans
    .filter(
      ({ egressBridgePorts, untaggedBridgePorts }) =>
        egressBridgePorts.includes(bridgePort) && !untaggedBridgePorts.includes(bridgePort),
    )
    .map(({ vlan }) => vlan);
}

/** The port role of IEEE 802.1D as far as the old MIB tells it. */
function spanningTree(bridge: Bridge, bridgePort: number): PortFacts['stp'] {
  const port = bridge.stp.ports.find((row) => row.bridgePort === bridgePort);
  if (!port) return null;
  const role =
    bridge.stp.rootBridgePort === bridgePort
      ? 'root'
      : port.state === 'disabled'
        ? 'disabled'
        : port.designatedBridge !== null && port.designatedBridge === bridge.address
          ? 'designated'
          : 'alternate';
  return {
    state: port.state,
    role,
    designatedBridge: port.designatedBridge,
    ...(port.designatedPort !== null && { designatedPort: port.designatedPort }),
    number: bridgePort,
  };
}

/** An LLDP port number is not an ifIndex: it is matched by what the local port table says it means, the number itself last. */
/** Which interface a port of LLDP is, by what it calls itself. */
function interfaceOfLocal(
  local: LldpLocalPort | undefined,
  portNumber: number,
  interfaces: InterfaceRow[],
): InterfaceRow | undefined {
  return (
    (local?.portIdSubtype === 'interfaceName' && interfaces.find((row) => row.name === local.portId)) ||
    (local?.portIdSubtype === 'interfaceAlias' && interfaces.find((row) => row.alias === local.portId)) ||
    (local?.portIdSubtype === 'macAddress' &&
      interfaces.find((row) => row.mac === local.portId && isSocket(row.ifType))) ||
    (local &&
      interfaces.find(
        (row) =>
          row.name === local.portId ||
          row.description === local.portId ||
          (local.description !== '' && row.description === local.description),
      )) ||
    (local?.portIdSubtype === 'local' && interfaces.find((row) => String(row.ifIndex) === local.portId)) ||
    interfaces.find((row) => row.ifIndex === portNumber)
  );
}

/** ifIndex → the VLAN a port offers to phones. */
function voiceVlansByPort(lldp: Lldp | null, interfaces: InterfaceRow[]): Map<number, number> {
  return new Map(
    [...(lldp?.voiceVlans ?? [])].flatMap(([portNumber, vlan]) => {
      const row = interfaceOfLocal(
        lldp?.localPorts.find((port) => port.portNumber === portNumber),
        portNumber,
        interfaces,
      );
      return row ? [[row.ifIndex, vlan] as const] : [];
    }),
  );
}

function neighbourFacts(lldp: Lldp | null, interfaces: InterfaceRow[], names: Map<number, string>): NeighbourFacts[] {
  if (!lldp) return [];
  const localName = (portNumber: number): string => {
    const local = lldp.localPorts.find((port) => port.portNumber === portNumber);
    const match = interfaceOfLocal(local, portNumber, interfaces);
    return match ? (names.get(match.ifIndex) ?? match.name) : (local?.portId ?? `port ${portNumber}`);
  };
  return lldp.neighbours.map(({ localPortNumber, ...rest }) => ({ port: localName(localPortNumber), ...rest }));
}

/** A generic answer that bridges is a switch, whatever sysServices claims; a Linux host that bridges stays a host. */
function refineRole(role: Role, harvest: Harvest): Role {
  if (role !== 'unknown' && role !== 'host' && role !== 'server') return role;
  if (harvest.hypervisor && harvest.hypervisor.machines.length > 0) return 'hypervisor';
  if (role === 'server') return role;
  const sockets = harvest.interfaces.filter((row) => isSocket(row.ifType)).length;
  if (harvest.bridge && sockets >= 5 && !harvest.host) return 'switch';
  return harvest.host && role === 'unknown' ? 'host' : role;
}
