import type { Harvest, HarvestPart, PartState } from '../estate/harvest';
import { cleanSerial, physicalClasses, type PhysicalClass, type PhysicalRow } from '../mib/entity';
import type { EntityAlarm, EntityStateRow } from '../mib/entityState';
import type { AdminState, InterfaceRow, OperState } from '../mib/interfaces';
import type { InterfaceAddress, NeighbourAddress } from '../mib/ip';
import type { ChassisIdSubtype, Lldp, LldpCapability, PortIdSubtype } from '../mib/lldp';
import { truthUnit, type SensorRow, type SensorType } from '../mib/sensor';
import { addressOrNull, maskLength } from '../values/ipAddress';
import { isEmptyMac, parseMac } from '../values/mac';
import { booleanAt, listAt, numberAt, objectAt, textAt, type Json } from './json';
import { wholePart } from './resourceAnswer';
import { alarmsOfModel, bridgeOfModel, routesOfModel } from './restconfTables';

/** The resources that are asked, below `/data`, and the part of a harvest each gives. */
export const restconfResources = {
  system: 'ietf-system:system',
  systemState: 'ietf-system:system-state',
  interfaces: 'ietf-interfaces:interfaces',
  /** where configuration and state are still apart (RFC 7223) */
  interfacesState: 'ietf-interfaces:interfaces-state',
  hardware: 'ietf-hardware:hardware',
  lldp: 'ieee802-dot1ab-lldp:lldp',
  routing: 'ietf-routing:routing',
  bridges: 'ieee802-dot1q-bridge:bridges',
  alarms: 'ietf-alarms:alarms',
} as const;
export type RestconfResource = keyof typeof restconfResources;

/** `null`: the device has no such module; text: why it could not be had. */
export type RestconfAnswers = Partial<Record<RestconfResource, { body: Json } | { missing: string }>>;

const partOf: Record<RestconfResource, HarvestPart[]> = {
  system: ['system'],
  systemState: ['system'],
  interfaces: ['interfaces', 'addresses', 'neighbourAddresses'],
  interfacesState: ['interfaces', 'addresses', 'neighbourAddresses'],
  hardware: ['modules', 'sensors'],
  lldp: ['lldp'],
  routing: ['routing'],
  bridges: ['bridge'],
  alarms: ['alarms'],
};
/** Models that few devices have: one without says nothing of such things, not that there are none. */
const seldom = new Set<string>(['routing', 'bridges', 'alarms'] satisfies RestconfResource[]);

/**
 * The typed rows of a harvest from the IETF's models, written as RFC 7951 has it: ietf-interfaces (RFC 8343) with ietf-ip (RFC 8344), ietf-hardware (RFC 8348),
 * ietf-system (RFC 7317), ieee802-dot1ab-lldp. Null where not even a name or an interface is told.
 */
export function harvestFromRestconf(
  answers: RestconfAnswers,
  { address, credential }: { address: string; credential: string },
): Harvest | null {
  const body = (resource: RestconfResource): Json => {
    const answer = answers[resource];
    if (!answer || !('body' in answer)) return null;
    return (
      objectAt(answer.body, restconfResources[resource]) ??
      objectAt(answer.body, restconfResources[resource].split(':')[1] ?? '') ??
      null
    );
  };
  const system = body('system');
  const platform = objectAt(body('systemState'), 'platform') ?? null;
  const list = mergedInterfaces(listAt(body('interfaces'), 'interface'), listAt(body('interfacesState'), 'interface'));
  const name = textAt(system, 'hostname');
  if (!name && list.length === 0) return null;
  const started = Date.parse(textAt(body('systemState'), 'clock', 'boot-datetime'));
  const numbers = interfaceNumbers(list);
  const aggregates = aggregatesOf(list);
  const rows = list.map((item) => interfaceRow(item, numbers, started, aggregates));
  const numberOf = (item: Json) => numbers.get(textAt(item, 'name')) ?? 0;
  const hardware = listAt(body('hardware'), 'component');
  const { modules, sensors, states } = hardwareRows(hardware);
  const parts: Harvest['parts'] = { system: wholePart };
  for (const [resource, answer] of Object.entries(answers) as [
    RestconfResource,
    NonNullable<RestconfAnswers[RestconfResource]>,
  ][]) {
    if (seldom.has(resource) && 'body' in answer && answer.body === null) continue;
    const state: PartState = 'missing' in answer ? { state: 'failed', reason: answer.missing, seconds: 0 } : wholePart;
    for (const part of partOf[resource]) if (part !== 'system' && parts[part]?.state !== 'failed') parts[part] = state;
  }
  const activeAlarms = alarmsOfModel(body('alarms'));
  const now = Date.parse(textAt(body('systemState'), 'clock', 'current-datetime'));
  return {
    address,
    credential,
    signature: '',
    system: {
      description: [
        textAt(platform, 'os-name'),
        textAt(platform, 'os-release') && `release ${textAt(platform, 'os-release')}`,
        textAt(platform, 'machine'),
      ]
        .filter(Boolean)
        .join(', '),
      objectId: '',
      uptimeSeconds:
        Number.isNaN(started) || Number.isNaN(now) ? null : Math.max(0, Math.floor((now - started) / 1000)),
      contact: textAt(system, 'contact'),
      name,
      location: textAt(system, 'location'),
      services: null,
      engineId: null,
    },
    interfaces: rows,
    modules,
    moduleInterfaces: new Map(),
    sensors,
    moduleStates: states,
    addresses: list.flatMap((item) => addressesOf(item, numberOf(item))),
    neighbourAddresses: list.flatMap((item) => neighboursOf(item, numberOf(item))),
    bridge: bridgeOfModel(body('bridges'), list, numbers),
    lldp: lldpOf(body('lldp')),
    host: null,
    clockAheadSeconds: null,
    poweringPorts: [],
    powerGroups: [],
    running: [],
    listeners: [],
    connections: [],
    installed: [],
    routes: routesOfModel(body('routing'), numbers),
    ...(activeAlarms.length > 0 && { activeAlarms }),
    bgpPeers: [],
    ospfNeighbours: [],
    hypervisor: null,
    contexts: [],
    private: {},
    moduleMemory: new Map(),
    readings: [],
    parts,
  };
}

/** Interfaces of the newer model, or those of the state tree with what the configuration adds. */
function mergedInterfaces(configured: Json[], state: Json[]): Json[] {
  if (state.length === 0) return configured;
  const byName = new Map(configured.map((item) => [textAt(item, 'name'), objectAt(item)]));
  return state.map((item) => ({ ...byName.get(textAt(item, 'name')), ...objectAt(item) }));
}

/** By name, `if-index` (RFC 8343) where every interface has one of its own, else its place in the list. */
function interfaceNumbers(list: Json[]): Map<string, number> {
  const told = list.map((item) => numberAt(item, 'if-index'));
  const areOwn = told.every((number) => number !== null && number > 0) && new Set(told).size === told.length;
  return new Map(list.map((item, at) => [textAt(item, 'name'), areOwn ? (told[at] ?? 0) : at + 1]));
}

/** A moment as seconds since the device started; 0 where it lies before; null where either is not told. */
function sinceStart(moment: string, started: number): number | null {
  const at = Date.parse(moment);
  return Number.isNaN(at) || Number.isNaN(started) ? null : Math.max(0, Math.floor((at - started) / 1000));
}

/** Identities of iana-if-type that occur here, as their ifType numbers. */
const ifTypes: Record<string, number> = {
  ethernetCsmacd: 6,
  fibreChannel: 56,
  infiniband: 199,
  ds1: 18,
  softwareLoopback: 24,
  ieee8023adLag: 161,
  l2vlan: 135,
  l3ipvlan: 136,
  tunnel: 131,
  propVirtual: 53,
  bridge: 209,
};
const adminStates: Record<string, AdminState> = { up: 'up', down: 'down', testing: 'testing' };
const operStates: Record<string, OperState> = {
  up: 'up',
  down: 'down',
  testing: 'testing',
  dormant: 'dormant',
  'not-present': 'notPresent',
  'lower-layer-down': 'lowerLayerDown',
};

function interfaceRow(
  item: Json,
  numbers: Map<string, number>,
  started: number,
  aggregates: Map<string, string>,
): InterfaceRow {
  const name = textAt(item, 'name');
  const aggregate = aggregates.get(name);
  const ifIndex = numbers.get(name) ?? 0;
  const mac = parseMac(textAt(item, 'phys-address'));
  return {
    ifIndex,
    name: name || String(ifIndex),
    alias: textAt(item, 'description'),
    description: name,
    ifType: ifTypes[identity(textAt(item, 'type'))] ?? 1,
    mtu: numberAt(item, 'ietf-ip:ipv4', 'mtu') ?? numberAt(item, 'mtu'),
    speedBps: numberAt(item, 'speed'),
    mac: mac !== null && isEmptyMac(mac) ? null : mac,
    // `enabled` is true where it is not given (RFC 8343)
    admin: adminStates[textAt(item, 'admin-status')] ?? ((booleanAt(item, 'enabled') ?? true) ? 'up' : 'down'),
    oper: operStates[textAt(item, 'oper-status')] ?? 'unknown',
    lastChangeUptimeSeconds: sinceStart(textAt(item, 'last-change'), started),
    connectorPresent: null,
    duplex: 'unknown',
    aggregate: aggregate === undefined ? null : (numbers.get(aggregate) ?? null),
    media: '',
    autoNegotiation: null,
    lost: lostFrames(item),
    countedSinceUptimeSeconds: sinceStart(textAt(item, 'statistics', 'discontinuity-time'), started),
  };
}

/** Member → aggregate, by name. */
const aggregatesOf = (list: Json[]): Map<string, string> =>
  new Map(
    list
      .filter((item) => ifTypes[identity(textAt(item, 'type'))] === 161)
      .flatMap((item) =>
        listAt(item, 'lower-layer-if').flatMap((lower) =>
          typeof lower === 'string' ? [[lower, textAt(item, 'name')] as const] : [],
        ),
      ),
  );

/** Counters of RFC 8343, under `statistics`. */
function lostFrames(item: Json): InterfaceRow['lost'] {
  const counts = ['in-errors', 'out-errors', 'in-discards', 'out-discards'].map((name) =>
    numberAt(item, 'statistics', name),
  );
  return counts.every((count) => count === null)
    ? null
    : (counts.map((count) => count ?? 0) as unknown as InterfaceRow['lost']);
}

/** `iana-if-type:ethernetCsmacd` → `ethernetCsmacd` */
const identity = (text: string) => text.split(':').at(-1) ?? '';

function addressesOf(item: Json, ifIndex: number): InterfaceAddress[] {
  return ['ietf-ip:ipv4', 'ietf-ip:ipv6'].flatMap((family) =>
    listAt(item, family, 'address').flatMap((row) => {
      const address = addressOrNull(textAt(row, 'ip'));
      const prefixLength = numberAt(row, 'prefix-length') ?? maskLength(textAt(row, 'netmask'));
      return address ? [{ address, ifIndex, prefixLength }] : [];
    }),
  );
}

function neighboursOf(item: Json, ifIndex: number): NeighbourAddress[] {
  return ['ietf-ip:ipv4', 'ietf-ip:ipv6'].flatMap((family) =>
    listAt(item, family, 'neighbor').flatMap((row) => {
      const address = addressOrNull(textAt(row, 'ip'));
      const mac = parseMac(textAt(row, 'link-layer-address'));
      return address && mac ? [{ address, mac, ifIndex }] : [];
    }),
  );
}

/** Classes of iana-hardware that ENTITY calls otherwise. */
const classes: Record<string, PhysicalClass> = {
  'power-supply': 'powerSupply',
  'energy-object': 'energyObject',
  'storage-drive': 'storageDrive',
};
const sensorTypes: Record<string, SensorType> = {
  'volts-AC': 'voltsAC',
  'volts-DC': 'voltsDC',
  amperes: 'amperes',
  watts: 'watts',
  hertz: 'hertz',
  celsius: 'celsius',
  'percent-RH': 'percentRH',
  rpm: 'rpm',
  cmm: 'cmm',
  'truth-value': 'truthvalue',
};
const sensorUnits: Partial<Record<SensorType, string>> = {
  voltsAC: 'V',
  voltsDC: 'V',
  amperes: 'A',
  watts: 'W',
  hertz: 'Hz',
  celsius: '°C',
  percentRH: '%',
  rpm: '/min',
  cmm: 'm³/min',
  truthvalue: truthUnit,
};
const scales = [
  'yocto',
  'zepto',
  'atto',
  'femto',
  'pico',
  'nano',
  'micro',
  'milli',
  'units',
  'kilo',
  'mega',
  'giga',
  'tera',
  'exa',
  'peta',
  'zetta',
  'yotta',
];
const alarmBits: Record<string, EntityAlarm> = {
  'under-repair': 'underRepair',
  critical: 'critical',
  major: 'major',
  minor: 'minor',
  warning: 'warning',
  indeterminate: 'indeterminate',
  unknown: 'unknown',
};

function hardwareRows(components: Json[]): { modules: PhysicalRow[]; sensors: SensorRow[]; states: EntityStateRow[] } {
  const indexOf = new Map(components.map((item, at) => [textAt(item, 'name'), at + 1]));
  const classOf = (item: Json): PhysicalClass => {
    const written = identity(textAt(item, 'class'));
    return classes[written] ?? physicalClasses.find((known) => known === written) ?? 'unknown';
  };
  const modules = components.map((item, at): PhysicalRow => ({
    entPhysicalIndex: at + 1,
    description: textAt(item, 'description'),
    containedIn: indexOf.get(textAt(item, 'parent')) ?? 0,
    class: classOf(item),
    position: numberAt(item, 'parent-rel-pos') ?? -1,
    name: textAt(item, 'alias') || textAt(item, 'name'),
    hardwareRevision: textAt(item, 'hardware-rev'),
    firmwareRevision: textAt(item, 'firmware-rev'),
    softwareRevision: textAt(item, 'software-rev'),
    serial: cleanSerial(textAt(item, 'serial-num')),
    vendor: textAt(item, 'mfg-name'),
    model: textAt(item, 'model-name'),
    assetId: textAt(item, 'asset-id'),
    replaceable: booleanAt(item, 'is-fru') ?? false,
  }));
  const sensors = components.flatMap((item, at): SensorRow[] => {
    const sensor = objectAt(item, 'sensor-data');
    const raw = numberAt(item, 'sensor-data', 'value');
    if (!sensor) return [];
    const type = sensorTypes[textAt(item, 'sensor-data', 'value-type')] ?? 'other';
    const scale = scales.indexOf(textAt(item, 'sensor-data', 'value-scale'));
    const exponent =
      3 * ((scale < 0 ? 8 : scale) - 8) - Math.max(0, numberAt(item, 'sensor-data', 'value-precision') ?? 0);
    const oper = textAt(item, 'sensor-data', 'oper-status');
    const state =
      oper === 'nonoperational' ? 'nonoperational' : oper === 'unavailable' || raw === null ? 'unavailable' : 'ok';
    return [
      {
        entPhysicalIndex: at + 1,
        type,
        unit: sensorUnits[type] ?? textAt(item, 'sensor-data', 'units-display'),
        // both ends of the range tell that the value lies beyond (RFC 8348, sensor-value)
        value: state === 'ok' && raw !== null && Math.abs(raw) < 1_000_000_000 ? Number(`${raw}e${exponent}`) : null,
        state,
      },
    ];
  });
  const states = components.flatMap((item, at): EntityStateRow[] => {
    if (!objectAt(item, 'state')) return [];
    const admin = textAt(item, 'state', 'admin-state');
    const oper = textAt(item, 'state', 'oper-state');
    const alarms = textAt(item, 'state', 'alarm-state')
      .split(/\s+/)
      .flatMap((word) => alarmBits[word] ?? []);
    const changed = textAt(item, 'state', 'state-last-changed');
    return [
      {
        entPhysicalIndex: at + 1,
        admin:
          admin === 'locked' || admin === 'unlocked' ? admin : admin === 'shutting-down' ? 'shuttingDown' : 'unknown',
        oper: oper === 'disabled' || oper === 'enabled' || oper === 'testing' ? oper : 'unknown',
        alarms,
        standby: 'unknown',
        changedAt: Number.isNaN(Date.parse(changed)) ? null : new Date(changed).toISOString(),
      },
    ];
  });
  return { modules, sensors, states };
}

const chassisSubtypes: Record<string, ChassisIdSubtype> = {
  'chassis-component': 'component',
  'interface-alias': 'interfaceAlias',
  'port-component': 'portComponent',
  'mac-address': 'macAddress',
  'network-address': 'networkAddress',
  'interface-name': 'interfaceName',
  local: 'local',
};
const portSubtypes: Record<string, PortIdSubtype> = {
  'interface-alias': 'interfaceAlias',
  'port-component': 'portComponent',
  'mac-address': 'macAddress',
  'network-address': 'networkAddress',
  'interface-name': 'interfaceName',
  'agent-circuit-id': 'agentCircuitId',
  local: 'local',
};
const capabilities: Record<string, LldpCapability> = {
  other: 'other',
  repeater: 'repeater',
  bridge: 'bridge',
  'wlan-access-point': 'wlanAccessPoint',
  router: 'router',
  telephone: 'telephone',
  'docsis-cable-device': 'docsisCableDevice',
  'station-only': 'stationOnly',
};

function lldpOf(lldp: Json): Lldp | null {
  const ports = listAt(lldp, 'port');
  if (ports.length === 0) return null;
  const own = objectAt(lldp, 'local-system-data') ?? lldp;
  const id = (subtype: string, text: string) => (subtype === 'mac-address' ? (parseMac(text) ?? text) : text);
  return {
    chassisIdSubtype: chassisSubtypes[textAt(own, 'chassis-id-subtype')] ?? 'unknown',
    chassisId: id(textAt(own, 'chassis-id-subtype'), textAt(own, 'chassis-id')),
    localPorts: ports.map((port, at) => ({
      portNumber: at + 1,
      portIdSubtype: 'interfaceName',
      portId: textAt(port, 'name'),
      description: textAt(port, 'port-desc'),
    })),
    neighbours: ports.flatMap((port, at) =>
      listAt(port, 'remote-systems-data').map((remote) => ({
        localPortNumber: at + 1,
        chassisIdSubtype: chassisSubtypes[textAt(remote, 'chassis-id-subtype')] ?? 'unknown',
        chassisId: id(textAt(remote, 'chassis-id-subtype'), textAt(remote, 'chassis-id')),
        portIdSubtype: portSubtypes[textAt(remote, 'port-id-subtype')] ?? 'unknown',
        portId: id(textAt(remote, 'port-id-subtype'), textAt(remote, 'port-id')),
        portDescription: textAt(remote, 'port-desc'),
        systemName: textAt(remote, 'system-name'),
        systemDescription: textAt(remote, 'system-description'),
        capabilities: textAt(remote, 'system-capabilities-enabled')
          .split(/\s+/)
          .flatMap((word) => capabilities[word] ?? []),
        managementAddresses: listAt(remote, 'management-address').flatMap(
          (row) => addressOrNull(textAt(row, 'address')) ?? [],
        ),
      })),
    ),
  };
}
