/** The facts of one device as the versioned store keeps them. Volatile values (uptime, fill levels) are apart, since they are never versions. */

export const roles = [
  'switch', 'router', 'firewall', 'server', 'hypervisor', 'wireless-controller', 'access-point', 'fabric-controller',
  'printer', 'phone', 'camera', 'power', 'virtual-machine', 'host', 'unknown',
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
  processors: string[];
}

/** What changes with every look, kept as the last value seen. */
export interface VolatileFacts {
  uptimeSeconds: number | null;
  flashFreeBytes: number | null;
  storage: { name: string; kind: string; sizeBytes: number; usedBytes: number }[];
}

export const moduleClasses = [
  'chassis', 'backplane', 'container', 'powerSupply', 'fan', 'sensor', 'module', 'port', 'stack', 'cpu',
  'memory', 'drive', 'transceiver', 'other', 'unknown',
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
  vlan: number | null;
  taggedVlans: number[];
  addresses: string[];
  /** name of the aggregate the port belongs to */
  lag: string | null;
  stp: { state: string; role: string; designatedBridge: string | null } | null;
  /** power over Ethernet; null where the port gives none */
  poe: { enabled: boolean; state: string; class: number | null } | null;
}

export interface AddressFacts {
  address: string;
  prefixLength: number | null;
  port: string;
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
  sightings: SightingFacts;
}
