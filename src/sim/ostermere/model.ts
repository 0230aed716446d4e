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
  pvid: number;
  tagged: number[];
  /** index of the aggregate */
  aggregate?: number;
  blocked?: boolean;
  /** gives power: pethPsePortDetectionStatus and classification as RFC 3621 numbers them */
  power?: { status: number; classification: number };
  addresses: { address: string; length: number }[];
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
  bridge: boolean;
  lldp: boolean;
  /** private objects: megabytes and text */
  own?: { memoryMB: number; flashMB: number; flashFreeMB: number; boot: string };
  host?: { memoryMB: number; storage: { name: string; type: number; megabytes: number; usedMB: number }[]; processors: string[] };
  access: 'v3' | 'v2c';
  uptimeSeconds: number;
  silentAfter?: number;
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
}

export interface SimEstate {
  devices: SimDevice[];
  cables: Cable[];
  guests: Guest[];
}
