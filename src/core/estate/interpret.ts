import { chooseSignature, countedMemory, recognise, type Signature } from '../signatures/signature';
import { interfaceTypeWord, isEthernetSocket, isSocket } from '../values/iana';
import { compareAddresses, isRoutableAddress } from '../values/ipAddress';
import type { Bridge, VlanRow } from '../mib/bridge';
import type { InterfaceRow } from '../mib/interfaces';
import { lldpKey, type Lldp } from '../mib/lldp';
import type { PortCounters } from '../switching/portErrors';
import type { PoweringSocket } from './poweringSockets';
import { agentUptime } from '../mib/system';
import { applianceIdentity, applianceReadings } from './appliances';
import type { DeviceReport, MachineFacts, NeighbourFacts, PortFacts, Role, SightingFacts } from './facts';
import type { ContextHarvest, Harvest } from './harvest';
import { faultsOf } from './interpretFaults';
import { backplaneLinks } from './backplaneLinks';
import { learnedRoutesOf, peersOf, routeCountsOf, routesOf, virtualRoutersOf } from './interpretRouting';
import { conversationsOf, servicesOf } from './interpretServices';
import { lldpPorts } from './lldpPorts';
import { moduleTree } from './moduleTree';
import { transceiversByPort } from './transceivers';
import { softwareName } from './softwareName';
import { poweringOfSockets } from './poweringOfSockets';
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
  const lldpRows = harvest.lldp
    ? lldpPorts(harvest.lldp, harvest.interfaces, harvest.bridge)
    : new Map<number, InterfaceRow>();
  const ports = portFacts(harvest, names, lldpRows);
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
  // how much of it the counter of 32 bits has forgotten
  const runsFor = upFor(harvest);
  const agentRunsFor = agentUptime(harvest.system);
  const forgotten = (agentRunsFor ?? 0) - (uptime ?? 0);
  // in whole minutes: the two are told by different answers
  const agentLater = agentRunsFor === null ? 0 : Math.round(((runsFor ?? 0) - agentRunsFor) / 60) * 60;
  const identity = applianceIdentity(harvest, {
    role: refineRole(recognition.role, harvest),
    vendor: recognition.vendor,
    model: recognition.model,
    serial: text(harvest.private.serial) || recognition.serial,
    release: text(harvest.private.release) || recognition.release,
  });
  const virtualRouters = virtualRoutersOf(harvest, names);
  const cards = backplaneLinks(harvest.system.name || harvest.address, modules);
  return {
    device: {
      name: harvest.system.name || harvest.address,
      site: '',
      ...identity,
      family: recognition.family,
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
      ...(harvest.lldp &&
        isTelling(harvest.lldp) && { chassisId: lldpKey(harvest.lldp.chassisIdSubtype, harvest.lldp.chassisId) }),
      processors: harvest.host?.processors ?? [],
      ...Object.fromEntries(
        (['bootImage', 'redundancyRole', 'unsavedConfiguration'] as const).flatMap((fact) =>
          harvest.private[fact] === undefined ? [] : [[fact, text(harvest.private[fact])]],
        ),
      ),
    },
    volatile: {
      uptimeSeconds: runsFor,
      ...(agentLater > 0 && { agentLaterSeconds: agentLater }),
      flashFreeBytes:
        harvest.private.flashFreeBytes !== undefined
          ? Number(harvest.private.flashFreeBytes)
          : flash
            ? flash.usedBytes === null
              ? null
              : flash.sizeBytes - flash.usedBytes
            : null,
      storage: (harvest.host?.storage ?? []).map(({ name, kind, sizeBytes, usedBytes }) => ({
        name,
        kind,
        sizeBytes,
        usedBytes,
      })),
      sensors: [...sensorReadings(harvest.sensors, pathByIndex), ...applianceReadings(harvest)],
      ...(harvest.readings.length > 0 && { readings: harvest.readings }),
      ...(harvest.interfaces.some(({ lost }) => lost !== null) && {
        portLosses: portLosses(harvest.interfaces, names),
      }),
      ...(harvest.interfaces.some(({ countedSinceUptimeSeconds }) => countedSinceUptimeSeconds) && {
        portsCountedSince: Object.fromEntries(
          harvest.interfaces.flatMap(({ ifIndex, name, countedSinceUptimeSeconds: since }) =>
            since ? [[names.get(ifIndex) ?? name, since + forgotten]] : [],
          ),
        ),
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
    addresses: [
      ...harvest.addresses.map((row) => ({ ...row, vrf: harvest.interfaceVrfs?.get(row.ifIndex) ?? '' })),
      ...contextual,
    ]
      .filter(({ address }) => isRoutableAddress(address))
      .map(({ address, prefixLength, ifIndex, vrf }) => ({
        address,
        prefixLength,
        port: names.get(ifIndex) ?? '',
        ...(vrf && { vrf }),
      })),
    vlans: (harvest.bridge?.vlans ?? []).map(({ vlan, name }) => ({ vlan, name })),
    neighbours: neighbourFacts(harvest.lldp, lldpRows, names),
    services: servicesOf(harvest),
    software: harvest.installed.map(({ name, kind, installedAt }) => ({ ...softwareName(name), kind, installedAt })),
    machines: machinesOf(harvest, names),
    routes: routesOf(harvest, names),
    learnedRoutes: learnedRoutesOf(harvest, names),
    ...(cards.length > 0 && { toldLinks: cards }),
    peers: peersOf(harvest),
    ...(virtualRouters.length > 0 && { virtualRouters }),
    wlans: [],
    faults: faultsOf(harvest, moduleNames, pathByIndex, names),
    conversations: conversationsOf(harvest),
    sightings: {
      forwarding: [
        harvest.bridge ? forwardingOf(harvest.bridge, harvest.interfaces, names) : [],
        ...harvest.contexts.map((context) =>
          forwardingOf(withBasePorts(context, harvest.bridge), harvest.interfaces, names),
        ),
      ].flat(),
      addresses: [harvest.neighbourAddresses, ...harvest.contexts.map(({ neighbourAddresses }) => neighbourAddresses)]
        .flat()
        // the zone of a link-local address is a number of the one who heard it, and means nothing at the machine
        .map(({ mac, address }) => ({ mac, address: address.split('%')[0] ?? address })),
    },
  };
}

/**
 * Machines by port. Where no row of dot1dBasePortTable tells which interface a bridge port is, it is the one of that number if all numbers in doubt are those of sockets and
 * aggregates, and no other row says otherwise; else the machine is at the bridge port as such, which nobody knows the socket of.
 */
function forwardingOf(
  bridge: Pick<Bridge, 'forwarding' | 'ifIndexByBridgePort'>,
  interfaces: readonly InterfaceRow[],
  names: Map<number, string>,
): SightingFacts['forwarding'] {
  const known = bridge.ifIndexByBridgePort;
  const bridging = new Set(
    interfaces.filter(({ ifType }) => isEthernetSocket(ifType) || ifType === lag).map(({ ifIndex }) => ifIndex),
  );
  const alike =
    [...known].every(([port, ifIndex]) => port === ifIndex) &&
    bridge.forwarding.every(({ bridgePort }) => known.has(bridgePort) || bridging.has(bridgePort));
  return bridge.forwarding.map(({ mac, bridgePort, vlan }) => {
    const ifIndex = known.get(bridgePort) ?? (alike ? bridgePort : undefined);
    const port = ifIndex === undefined ? undefined : names.get(ifIndex);
    return { mac, port: port ?? `bridge port ${bridgePort}`, vlan };
  });
}

/** A context that tells no base ports has those of the device. */
const withBasePorts = (context: ContextHarvest, bridge: Bridge | null): ContextHarvest =>
  context.ifIndexByBridgePort.size > 0 || !bridge
    ? context
    : { ...context, ifIndexByBridgePort: bridge.ifIndexByBridgePort };

/** ieee8023adLag */
const lag = 161;

function machinesOf({ hypervisor }: Harvest, names: Map<number, string>): MachineFacts[] {
  return (hypervisor?.machines ?? []).map(({ name, uuid, system, state, processors, memoryBytes, adapters }) => ({
    name,
    uuid,
    system,
    state,
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

/** An id that is empty, or all noughts, tells nobody apart. */
const isTelling = ({ chassisId }: Lldp): boolean => /[^0:.\s]/.test(chassisId);

const text = (value: number | string | undefined) => (value === undefined ? '' : String(value).trim());

/** sysUpTime wraps after 2^32 hundredths (497 days); a last change above the uptime was before the wrap. */
const wrapSeconds = 2 ** 32 / 100;
/** sysUpTime is read first: a port that changed while the rest was read has changed after it. No device is read for longer. */
const readingSeconds = 600;

/** For how long the device runs: as long as its agent, or longer, where the host tells of itself (hrSystemUptime): agents are begun anew without it. */
function upFor({ system, host }: Pick<Harvest, 'system' | 'host'>): number | null {
  const agent = agentUptime(system);
  const whole = host?.upForSeconds ?? null;
  return agent === null || whole === null ? (agent ?? whole) : Math.max(agent, whole);
}

/** Seconds since a port changed its state, given both in seconds of sysUpTime. */
export function stateAge(lastChangeUptimeSeconds: number | null, uptimeSeconds: number | null): number | null {
  if (lastChangeUptimeSeconds === null || uptimeSeconds === null) return null;
  const age = uptimeSeconds - lastChangeUptimeSeconds;
  if (age < 0 && age >= -readingSeconds) return 0;
  return Math.floor(age >= 0 ? age : age + wrapSeconds);
}

/** Names of ports must tell them apart: where an agent names two alike, the ifIndex is added, as often as it takes for one that no other is called. */
export function portNames(interfaces: InterfaceRow[]): Map<number, string> {
  const counts = new Map<string, number>();
  for (const { name } of interfaces) counts.set(name, (counts.get(name) ?? 0) + 1);
  const taken = new Set([...counts].flatMap(([name, count]) => (count === 1 ? [name] : [])));
  return new Map(
    interfaces.map(({ ifIndex, name }) => {
      if ((counts.get(name) ?? 0) === 1) return [ifIndex, name];
      let own = `${name} #${ifIndex}`;
      while (taken.has(own)) own = `${own} #${ifIndex}`;
      taken.add(own);
      return [ifIndex, own];
    }),
  );
}

function portFacts(harvest: Harvest, names: Map<number, string>, lldpRows: Map<number, InterfaceRow>): PortFacts[] {
  const { bridge } = harvest;
  const bridgePortByIfIndex = new Map<number, number>();
  for (const [bridgePort, ifIndex] of bridge?.ifIndexByBridgePort ?? []) bridgePortByIfIndex.set(ifIndex, bridgePort);
  const parts = { rows: harvest.modules, interfaces: harvest.moduleInterfaces };
  const powering = poweringOfSockets(harvest.interfaces, harvest.poweringPorts, parts);
  const transceivers = transceiversByPort(harvest.modules, harvest.moduleInterfaces, names);
  const voiceVlans = new Map(
    [...(harvest.lldp?.voiceVlans ?? [])].flatMap(([portNumber, vlan]) => {
      const row = lldpRows.get(portNumber);
      return row ? [[row.ifIndex, vlan] as const] : [];
    }),
  );
  const called = lldpIds(harvest.lldp, lldpRows, names);
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
      ...vlansOf(bridge, bridgePort),
      addresses: harvest.addresses
        .filter(({ ifIndex }) => ifIndex === row.ifIndex)
        .map(({ address, prefixLength }) => (prefixLength === null ? address : `${address}/${prefixLength}`)),
      lag: row.aggregate ? (names.get(row.aggregate) ?? null) : null,
      stp: bridge && bridgePort !== undefined ? spanningTree(bridge, bridgePort) : null,
      poe: poweringOf(powering.get(row.ifIndex)),
      ...(row.media && { media: row.media }),
      ...(row.autoNegotiation !== null && { autoNegotiation: row.autoNegotiation }),
      ...(transceivers.has(row.ifIndex) && { transceiver: transceivers.get(row.ifIndex) ?? '' }),
      ...(harvest.portsDisabled?.has(row.ifIndex) && { disabledBy: harvest.portsDisabled.get(row.ifIndex) ?? '' }),
      ...(voiceVlans.has(row.ifIndex) && { voiceVlan: voiceVlans.get(row.ifIndex) ?? 0 }),
      ...(harvest.portAccess?.has(row.ifIndex) && { access: harvest.portAccess.get(row.ifIndex) ?? 'open' }),
      ...(called.has(row.ifIndex) && { lldpId: called.get(row.ifIndex) ?? '' }),
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

const poweringOf = (socket: PoweringSocket | undefined): PortFacts['poe'] =>
  socket
    ? {
        enabled: socket.port.enabled,
        state: socket.port.state,
        class: socket.port.class,
        ...(socket.doubt !== null && { doubt: socket.doubt }),
      }
    : null;

/** The VLAN that untagged frames come into (PVID), and those that leave with their tag; others that leave without one are told where there are any. */
function vlansOf(
  bridge: Bridge | null,
  bridgePort: number | undefined,
): Pick<PortFacts, 'vlan' | 'taggedVlans' | 'untaggedVlans'> {
  if (!bridge || bridgePort === undefined) return { vlan: null, taggedVlans: [] };
  const vlan = bridge.pvid.get(bridgePort) ?? null;
  const member = bridge.vlans.filter(({ egressBridgePorts }) => egressBridgePorts.includes(bridgePort));
  const isUntagged = ({ untaggedBridgePorts }: VlanRow) => untaggedBridgePorts.includes(bridgePort);
  const untagged = member.filter(isUntagged).map((row) => row.vlan);
  return {
    vlan,
    taggedVlans: member.filter((row) => !isUntagged(row)).map((row) => row.vlan),
    ...(untagged.some((other) => other !== vlan) && { untaggedVlans: untagged }),
  };
}

/**
 * The port role of IEEE 802.1Q as the bridge itself tells it; else as far as the old MIB tells it: what is designated by this very bridge but not by this port stands behind another port of it
 * (backup); what forwards and is not the root port is designated, whoever is told.
 */
function spanningTree(bridge: Bridge, bridgePort: number): PortFacts['stp'] {
  const port = bridge.stp.ports.find((row) => row.bridgePort === bridgePort);
  if (!port) return null;
  const own = port.designatedBridge !== null && port.designatedBridge === bridge.address;
  const role =
    port.role && port.state !== 'disabled' && port.state !== 'broken'
      ? port.role
      : bridge.stp.rootBridgePort === bridgePort
        ? 'root'
        : port.state === 'disabled' || port.state === 'broken'
          ? 'disabled'
          : own && port.state === 'blocking' && port.designatedPort !== null && port.designatedPort !== bridgePort
            ? 'backup'
            : own || (port.state === 'forwarding' && port.designatedBridge === null)
              ? 'designated'
              : port.designatedBridge === null
                ? 'unknown'
                : 'alternate';
  return {
    state: port.state,
    role,
    designatedBridge: port.designatedBridge,
    ...(port.designatedPort !== null && { designatedPort: port.designatedPort }),
    number: bridgePort,
    ...(port.edge !== undefined && { edge: port.edge }),
  };
}

function neighbourFacts(
  lldp: Lldp | null,
  ports: Map<number, InterfaceRow>,
  names: Map<number, string>,
): NeighbourFacts[] {
  if (!lldp) return [];
  const localName = (portNumber: number): string => {
    const row = ports.get(portNumber);
    if (row) return names.get(row.ifIndex) ?? row.name;
    const local = lldp.localPorts.find((port) => port.portNumber === portNumber);
    return local?.portId || `port ${portNumber}`;
  };
  return lldp.neighbours.map(({ localPortNumber, ...rest }) => ({ port: localName(localPortNumber), ...rest }));
}

/** ifIndex → what the port calls itself by LLDP, where that is not its name: others know it by that alone. */
function lldpIds(lldp: Lldp | null, ports: Map<number, InterfaceRow>, names: Map<number, string>): Map<number, string> {
  return new Map(
    (lldp?.localPorts ?? []).flatMap(({ portNumber, portIdSubtype, portId }) => {
      const row = ports.get(portNumber);
      if (!row || portId === '' || portId === (names.get(row.ifIndex) ?? row.name)) return [];
      return [[row.ifIndex, lldpKey(portIdSubtype, portId)] as const];
    }),
  );
}

/** A generic answer that bridges is a switch, whatever sysServices claims; a Linux host that bridges stays a host. */
function refineRole(role: Role, harvest: Harvest): Role {
  if (role !== 'unknown' && role !== 'host' && role !== 'server') return role;
  if (harvest.hypervisor && harvest.hypervisor.machines.length > 0) return 'hypervisor';
  if (role === 'server') return role;
  const sockets = harvest.interfaces.filter((row) => isEthernetSocket(row.ifType)).length;
  if (harvest.bridge && sockets >= 5 && !harvest.host) return 'switch';
  return harvest.host && role === 'unknown' ? 'host' : role;
}
