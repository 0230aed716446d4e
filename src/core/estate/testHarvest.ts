import type { InterfaceRow } from '../mib/interfaces';
import type { Harvest } from './harvest';

/** A whole, empty harvest to build upon in tests. */
export function harvestOf(more: Partial<Harvest>): Harvest {
  return {
    address: '10.72.4.2',
    credential: 'v3',
    signature: '',
    interfaces: [],
    modules: [],
    moduleInterfaces: new Map(),
    addresses: [],
    neighbourAddresses: [],
    bridge: null,
    lldp: null,
    host: null,
    clockAheadSeconds: null,
    poweringPorts: [],
    powerGroups: [],
    private: {},
    moduleMemory: new Map(),
    readings: [],
    sensors: [],
    moduleStates: [],
    running: [],
    listeners: [],
    connections: [],
    installed: [],
    routes: [],
    bgpPeers: [],
    ospfNeighbours: [],
    hypervisor: null,
    contexts: [],
    system: {
      description: 'Kestrane K-Access 48, release 7.4.9',
      objectId: '1.3.6.1.4.1.59101.1.48',
      uptimeSeconds: 1000,
      contact: '',
      name: 'rpw-plat',
      location: 'Ropewalk',
      services: 2,
      engineId: null,
    },
    parts: { system: { state: 'whole', seconds: 0 } },
    ...more,
  };
}

export function interfaceRow(ifIndex: number, name: string, more: Partial<InterfaceRow> = {}): InterfaceRow {
  return {
    ifIndex,
    name,
    alias: '',
    description: name,
    ifType: 6,
    mtu: 1500,
    speedBps: 1e9,
    mac: null,
    admin: 'up',
    oper: 'up',
    lastChangeUptimeSeconds: 0,
    connectorPresent: true,
    duplex: 'full',
    aggregate: null,
    media: '',
    autoNegotiation: null,
    lost: null,
    countedSinceUptimeSeconds: null,
    ...more,
  };
}
