import type { MakerName } from './makers';

/** The simulated network as it really is: what the agents' answers are generated from. */
export interface SimPort {
  index: number;
  name: string;
  description: string;
  alias: string;
  ifType: number;
  speedMbps: number;
  mac: string;
  admin: 'up' | 'down';
  oper: 'up' | 'down';
  duplex: 'full' | 'half';
  mtu: number;
  /** seconds since the state changed */
  sinceSeconds: number;
  /** when its state was changed by hand, milliseconds since the epoch */
  changedAt?: number;
  /** something at the other end keeps the link up, as long as both ends are switched on and fed */
  carrier?: boolean;
  pvid: number;
  tagged: number[];
  /** index of the aggregate */
  aggregate?: number;
  blocked?: boolean;
  /** gives power: pethPsePortDetectionStatus and classification as RFC 3621 numbers them */
  power?: { status: number; classification: number; switchedOff?: boolean };
  addresses: { address: string; length: number }[];
  /** frames lost since its counters began: in, out, thrown away in, out */
  lost?: [number, number, number, number];
  /** 2: its switch saw a loop behind it and cut it off */
  cutOff?: 2;
  /** takes part in bridging */
  bridged: boolean;
}

export interface SimModule {
  index: number;
  parent: number;
  class: number;
  position: number;
  name: string;
  description: string;
  model: string;
  serial: string;
  hardware: string;
  firmware: string;
  software: string;
  replaceable: boolean;
  /** ifIndex of the port it is, where its agent tells */
  socket?: number;
}

/** A process with the sockets it listens on. `port 0`: none. */
export interface SimProcess {
  number: number;
  name: string;
  path: string;
  parameters: string;
  listens: { protocol: 'tcp' | 'udp'; address: string; port: number }[];
}

export interface SimConnection {
  process: number;
  local: { address: string; port: number };
  remote: { address: string; port: number };
}

export interface SimMachine {
  index: number;
  name: string;
  uuid: string;
  system: string;
  running: boolean;
  processors: number;
  memoryMB: number;
  mac: string;
  /** name of the port that leads out, and the VLAN it speaks in */
  port: string;
  vlan: number;
}

/** A state that ENTITY-STATE-MIB tells of a module; what is not listed works. */
export interface SimModuleState {
  module: string;
  working: boolean;
  /** bits of EntityAlarmStatus: 2 critical, 3 major, 4 minor, 5 warning */
  alarms: number[];
  /** when, by the device's clock */
  at: Date;
}

export interface SimSensor {
  /** index in the entity table, above those of the modules */
  index: number;
  parent: number;
  name: string;
  /** EntitySensorDataType: 8 celsius, 10 rpm, 6 watts */
  type: number;
  /** EntitySensorDataScale: 9 units, 8 milli */
  scale: number;
  precision: number;
  value: number;
  broken?: boolean;
}

export interface SimRoute {
  network: string;
  length: number;
  nextHop: string | null;
  port: number;
  /** IANAipRouteProtocol: 2 local, 3 netmgmt, 13 ospf, 14 bgp */
  protocol: number;
}

export interface SimPeers {
  localAs?: number;
  bgp: { address: string; identifier: string; localAddress: string; remoteAs: number; state: number }[];
  ospf: { address: string; routerId: string; state: number }[];
}

export interface SimDevice {
  name: string;
  address: string;
  maker: MakerName;
  modelNumber: number;
  model: string;
  description: string;
  location: string;
  services: number;
  mac: string;
  release: string;
  ports: SimPort[];
  modules: SimModule[];
  /** what its power supply may give to what is plugged in, watts */
  powerBudget?: number;
  bridge: boolean;
  lldp: boolean;
  /** private objects: megabytes and text */
  own?: {
    memoryMB: number;
    flashMB: number;
    flashFreeMB: number;
    boot: string;
    bootImage?: string;
    standbyReady?: boolean;
    saved?: boolean;
    loadPercent?: number;
  };
  /** memory of supervisors by module name, megabytes */
  moduleMemoryMB?: Record<string, number>;
  host?: {
    memoryMB: number;
    storage: { name: string; type: number; megabytes: number; usedMB: number }[];
    processors: string[];
  };
  processes?: SimProcess[];
  connections?: SimConnection[];
  installed?: { name: string; type: number; at: Date }[];
  machines?: SimMachine[];
  moduleStates?: SimModuleState[];
  sensors?: SimSensor[];
  /** what an uninterruptible power supply tells of itself (RFC 1628) */
  ups?: { chargePercent: number; minutesLeft: number; loadPercent: number; onBattery: boolean };
  routes?: SimRoute[];
  peers?: SimPeers;
  /** routers that it carries together with another, one of them at a time */
  standby?: { port: number; group: number; address: string; isMaster: boolean; priority: number }[];
  /** virtual routers, each asked in its own SNMP context */
  contexts?: {
    name: string;
    addresses: { address: string; length: number; port: number }[];
    neighbours: { address: string; mac: string; port: number }[];
  }[];
  access: 'v3' | 'v2c' | 'restconf';
  /** further addresses on which the agent answers */
  alsoAt?: string[];
  /** how far its clock is ahead, seconds */
  clockAheadSeconds?: number;
  uptimeSeconds: number;
}

export interface Cable {
  a: { device: string; port: string };
  b: { device: string; port: string };
  /** the end that does not hear the other */
  deaf?: string;
}

/** A machine that is no inventoried device. */
export interface Guest {
  name: string;
  mac: string;
  address: string | null;
  vlan: number;
  device: string;
  port: string;
  /** speaks LLDP as a phone or access point */
  lldp?: 'phone';
  /** has a web page, and nothing that can be read */
  answersHttps?: boolean;
}

export interface SimEstate {
  devices: SimDevice[];
  cables: Cable[];
  guests: Guest[];
}
