import type { MachineState } from '../mib/virtualMachines';
import type { VirtualRouter } from '../mib/vrrp';
import type { ToldByNeighbour } from '../mib/lldpExtensions';
import type { PortAccess } from '../mib/portAccess';
import type { PowerGroup } from '../mib/powerEthernet';
import type { PortCounters } from '../switching/portErrors';

/** The facts of one device as the versioned store keeps them. Volatile values (uptime, fill levels) are apart, since they are never versions. */

export const roles = [
  'switch',
  'router',
  'firewall',
  'server',
  'hypervisor',
  'wireless-controller',
  'access-point',
  'fabric-controller',
  'printer',
  'phone',
  'camera',
  'power',
  'virtual-machine',
  'host',
  'unknown',
] as const;
export type Role = (typeof roles)[number];

export interface DeviceFacts {
  name: string;
  site: string;
  role: Role;
  vendor: string;
  family: string;
  model: string;
  serial: string;
  release: string;
  bootRelease: string;
  /** the address that was asked */
  address: string;
  addresses: string[];
  objectId: string;
  description: string;
  contact: string;
  location: string;
  memoryBytes: number | null;
  flashBytes: number | null;
  credential: string;
  signature: string;
  units: { name: string; model: string; serial: string }[];
  bridgeAddress: string | null;
  engineId: string | null;
  /** how it is known to neighbours, subtype and id (IEEE 802.1AB, lldpLocChassisId) */
  chassisId?: string;
  processors: string[];
  /** what a signature reads beside the standards, in words */
  bootImage?: string;
  redundancyRole?: string;
  unsavedConfiguration?: string;
  /** communities it was delivered with and still answers to; absent where nobody looked or there are none */
  defaultCommunities?: string[];
  /** as the hardware tells it, lower case */
  uuid?: string;
  /** the ways in to this device, where there is another than SNMP alone */
  interfaces?: WayIn[];
}

/** One way in to a device: a server's operating system by SNMP, its management controller by Redfish. */
export interface WayIn {
  kind: WayKind;
  address: string;
  credential: string;
  /** release of what answers there, where it is another than the device's own */
  release: string;
}

export const interfaceKinds = ['snmp', 'redfish', 'restconf', 'wireless', 'fabric', 'hypervisors'] as const;
export type WayKind = (typeof interfaceKinds)[number];

/** What changes with every look, kept as the last value seen. */
export interface VolatileFacts {
  uptimeSeconds: number | null;
  /** so much later than the device its agent began, and the counters with it; absent where they began together */
  agentLaterSeconds?: number;
  flashFreeBytes: number | null;
  storage: { name: string; kind: string; sizeBytes: number; usedBytes: number | null }[];
  sensors?: SensorReading[];
  readings?: ReadingValue[];
  /** machines on each wireless network, by its name */
  wlanClients?: Record<string, number>;
  /** how many routes of each protocol there are; absent where the device tells none */
  routeCounts?: Record<string, number>;
  /** frames lost since the counters began, by port; those at nought are left out. Absent where the device counts none */
  portLosses?: Record<string, PortCounters>;
  /** since when they count, in seconds of uptime, by port; left out where that is the start of the agent */
  portsCountedSince?: Record<string, number>;
  /** watts drawn at ports, where the device tells */
  portWatts?: Record<string, number>;
  /** power over Ethernet by unit or card */
  powerGroups?: PowerGroup[];
}

/** A value that a signature asks for, as last read, with the bounds beyond which it is not well. */
export interface ReadingValue {
  name: string;
  value: number;
  unit: string;
  above?: number;
  below?: number;
}

/** One sensor as last read. */
export interface SensorReading {
  /** path of the module it belongs to and its own name */
  name: string;
  type: string;
  unit: string;
  value: number | null;
  state: string;
}

export const moduleClasses = [
  'chassis',
  'backplane',
  'container',
  'powerSupply',
  'fan',
  'sensor',
  'module',
  'port',
  'stack',
  'cpu',
  'memory',
  'drive',
  'transceiver',
  'battery',
  'energyObject',
  'other',
  'unknown',
] as const;
export type ModuleClass = (typeof moduleClasses)[number];

export interface ModuleFacts {
  /** names from the root down, joined by ` / ` */
  path: string;
  class: ModuleClass;
  name: string;
  description: string;
  vendor: string;
  model: string;
  serial: string;
  /** the owner's own inventory number, where one is set */
  assetId?: string;
  /** what people called it on the device itself */
  alias?: string;
  /** when it was made, as YYYY-MM-DD */
  madeOn?: string;
  /** lower case */
  uuid?: string;
  hardwareRevision: string;
  firmwareRevision: string;
  softwareRevision: string;
  replaceable: boolean;
  position: number;
  /** path of the module that holds this one */
  parent: string | null;
  /** a slot with nothing in it */
  empty: boolean;
  /** order in which the agent lists its modules */
  order: number;
}

export type PortKind = 'uplink' | 'edge' | 'lag' | 'virtual' | 'management' | 'unused';

export interface PortFacts {
  index: number;
  name: string;
  alias: string;
  description: string;
  type: string;
  physical: boolean;
  admin: string;
  oper: string;
  speedBps: number | null;
  duplex: string;
  mtu: number | null;
  mac: string | null;
  /** the address burnt in, where it uses another */
  otherMac?: string;
  vlan: number | null;
  taggedVlans: number[];
  /** VLANs that leave it untagged, where they are others than `vlan` alone */
  untaggedVlans?: number[];
  addresses: string[];
  /** name of the aggregate the port belongs to */
  lag: string | null;
  /** `number`: of the bridge port; `designatedPort`: the number of the port that speaks for the segment, at the designated bridge; `edge`: only end stations behind it, as far as the bridge sees */
  stp: {
    state: string;
    role: string;
    designatedBridge: string | null;
    designatedPort?: number;
    number?: number;
    edge?: boolean;
  } | null;
  /** power over Ethernet; null where the port gives none. `doubt`: why it may be that of another socket; such is not switched */
  poe: { enabled: boolean; state: string; class: number | null; doubt?: string } | null;
  /** attachment unit as IEEE 802.3 writes it, where the device tells */
  media?: string;
  autoNegotiation?: boolean;
  /** model of what is in its cage, where the device tells */
  transceiver?: string;
  /** the VLAN it offers to phones (LLDP-MED) */
  voiceVlan?: number;
  /** why the device switched it off itself, where it did */
  disabledBy?: string;
  /** what it calls itself by LLDP, subtype and id, where that is not its name (IEEE 802.1AB, lldpLocPortId) */
  lldpId?: string;
  /** whether it lets in what is plugged into it (IEEE 802.1X); absent where nobody has to ask */
  access?: PortAccess;
}

export type VirtualRouterState = VirtualRouter['state'];

/** A router that several devices carry, one at a time (VRRP, RFC 9568), as one of them tells of it. */
export interface VirtualRouterFacts {
  port: string;
  /** VRID */
  group: number;
  family: 'IPv4' | 'IPv6';
  state: VirtualRouterState;
  priority: number | null;
  mac: string | null;
  addresses: string[];
}

export interface AddressFacts {
  address: string;
  prefixLength: number | null;
  port: string;
  /** the virtual router whose address it is, where not the device's own */
  vrf?: string;
}

/** A process that listens. */
export interface ServiceFacts {
  process: string;
  path: string;
  arguments: string;
  protocol: 'tcp' | 'udp';
  /** `*` for any address of the device */
  address: string;
  port: number;
}

/** That a device talks to another over the network, by its own word. */
export interface ConversationFacts {
  /** what the device that tells is in it */
  role: 'client' | 'server';
  protocol: 'tcp' | 'udp';
  /** its own address */
  address: string;
  /** its own process; empty where it does not tell */
  process: string;
  /** address of the other end */
  peer: string;
  /** of the side that serves */
  port: number;
  /** how it is known who serves: by who listens, or by the numbers of the ports */
  basis: 'listener' | 'port';
}

/** Software or firmware that is installed. */
export interface SoftwareFacts {
  name: string;
  version: string;
  kind: 'unknown' | 'operatingSystem' | 'deviceDriver' | 'application' | 'firmware';
  installedAt: string | null;
}

/** A virtual machine as its host tells of it. */
export interface MachineFacts {
  name: string;
  uuid: string;
  system: string;
  state: MachineState;
  processors: number | null;
  memoryBytes: number | null;
  /** `virtualSwitch`: the one of its host that it is plugged into, where somebody tells */
  adapters: { mac: string | null; port: string | null; network: string | null; virtualSwitch?: string }[];
  /** the host it runs on, as a manager names it; empty where the device itself is the host */
  host: string;
  cluster: string;
}

/** How the uplinks of a virtual switch share their work; `lacp` and `aggregate` ask for a partner (IEEE 802.1AX, or set by hand). */
export const teamings = ['active-standby', 'balanced', 'aggregate', 'lacp', 'other'] as const;
export type Teaming = (typeof teamings)[number];

/** What lies between the virtual machines of a host and its cables, as a manager of hosts tells. */
export interface HostNetworkFacts {
  /** name of the host */
  host: string;
  adapters: { name: string; mac: string | null; speedBps: number | null; up: boolean }[];
  switches: { name: string; uplinks: string[]; teaming: Teaming; groups: { name: string; vlan: number | null }[] }[];
}

/** That two ports are joined, as a controller that looks after both tells; its devices by their names. `stack`: cards on the backplane of the device that tells. */
export interface ToldLinkFacts {
  a: { device: string; port: string };
  b: { device: string; port: string };
  kind: 'ethernet' | 'l3' | 'stack';
  up: boolean;
}

/** A part of a fabric, as its controller tells. */
export type FabricFacts =
  | { kind: 'node'; node: string; function: 'leaf' | 'spine'; reachable: boolean }
  | {
      kind: 'tenant';
      tenant: string;
      contexts: string[];
      domains: { domain: string; context: string; subnets: string[] }[];
      groups: { group: string; domain: string }[];
    };

/** A machine that a fabric has learned: in which group, at which port of which leaf. */
export interface FabricEndpointFacts {
  mac: string;
  addresses: string[];
  tenant: string;
  group: string;
  node: string;
  port: string;
  vlan: number;
}

export interface RouteFacts {
  destination: string;
  /** null where the network lies on the port itself */
  nextHop: string | null;
  port: string;
  protocol: string;
  vrf: string;
}

/** A routing neighbour: who it is, and whether the two talk. */
export interface PeerFacts {
  protocol: 'bgp' | 'ospf' | 'is-is';
  address: string;
  identifier: string;
  localAddress: string;
  localAs: number | null;
  remoteAs: number | null;
  state: string;
  /** established or full (twoWay is full between neighbours that need no adjacency) */
  up: boolean;
}

/** A network that access points send. Its key is never read. */
export interface WlanFacts {
  name: string;
  security: string;
  vlan: number | null;
  enabled: boolean;
  accessPoints: number;
}

/** Something that is broken, as the device tells it. */
export interface FaultFacts {
  subsystem: string;
  part: string;
  severity: 'critical' | 'warning';
  message: string;
  action: string;
  /** ISO moment; null where the device does not tell */
  since: string | null;
}

/** One end's word about a neighbour, with its port numbers already turned into names of its own ports. */
export interface NeighbourFacts {
  port: string;
  chassisId: string;
  chassisIdSubtype: string;
  portId: string;
  portIdSubtype: string;
  portDescription: string;
  systemName: string;
  systemDescription: string;
  capabilities: string[];
  managementAddresses: string[];
  /** what it says of its port and of itself beside that (LLDP-EXT-DOT1, -DOT3, -MED) */
  told?: ToldByNeighbour;
}

/** The tables from which attachments are concluded. Not versioned: they age within minutes. */
export interface SightingFacts {
  forwarding: { mac: string; port: string; vlan: number | null }[];
  addresses: { mac: string; address: string }[];
}

/** Everything that one harvest says about one device. */
export interface DeviceReport {
  device: DeviceFacts;
  volatile: VolatileFacts;
  modules: ModuleFacts[];
  ports: PortFacts[];
  /** seconds since the last change of state, by port name; not versioned */
  portAges: Record<string, number>;
  addresses: AddressFacts[];
  vlans: { vlan: number; name: string }[];
  neighbours: NeighbourFacts[];
  services: ServiceFacts[];
  software: SoftwareFacts[];
  machines: MachineFacts[];
  routes: RouteFacts[];
  peers: PeerFacts[];
  faults: FaultFacts[];
  wlans: WlanFacts[];
  /** absent where nothing tells of such things, and in what was kept by earlier releases */
  /** routes that a protocol learned; those that somebody configured are `routes` */
  learnedRoutes?: RouteFacts[];
  hostNetworks?: HostNetworkFacts[];
  toldLinks?: ToldLinkFacts[];
  fabric?: FabricFacts[];
  fabricEndpoints?: FabricEndpointFacts[];
  virtualRouters?: VirtualRouterFacts[];
  conversations?: ConversationFacts[];
  sightings: SightingFacts;
}
