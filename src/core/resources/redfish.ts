import type { AddressFacts, PortFacts } from '../estate/facts';
import type { HarvestPart } from '../estate/harvest';
import { cleanSerial } from '../mib/entity';
import { addressOrNull, compareAddresses, isRoutableAddress, maskLength } from '../values/ipAddress';
import { isEmptyMac, parseMac } from '../values/mac';
import { booleanAt, listAt, numberAt, textAt, type Json } from './json';
import { redfishFaults, redfishMetrics, redfishParts, redfishSensors } from './redfishModules';
import { adapterPorts } from './redfishAdapters';
import { collectionPath, viewsOfSystems, type SystemView } from './redfishSystems';
import type { ResourceAnswer, ToldDevice } from './resourceAnswer';
import { plainPath, type ResourceTree } from './resourceTree';

/** Which part of an answer a resource belongs to, by the property that leads to it, for what its absence means. */
const partsByProperty: Record<string, HarvestPart> = {
  UpdateService: 'software',
  FirmwareInventory: 'software',
  LogServices: 'sensors',
  Entries: 'sensors',
  Thermal: 'sensors',
  ThermalSubsystem: 'sensors',
  ThermalMetrics: 'sensors',
  Sensors: 'sensors',
  EnvironmentMetrics: 'sensors',
  Metrics: 'sensors',
  EthernetInterfaces: 'interfaces',
  Ports: 'interfaces',
  NetworkPorts: 'interfaces',
};

/**
 * A server as its management controller tells it (DSP0266, schemas of DSP0268): chassis and modules, ports, firmware, faults. Null if
 * the tree holds neither a system nor a chassis. Missing subtrees are parts that broke off. Several systems behind one controller are several servers.
 * @param address the address of the management controller
 */
export function interpretRedfish(
  tree: ResourceTree,
  context: { address: string; credential: string },
): ResourceAnswer | null {
  const [first, ...others] = viewsOfSystems(tree).flatMap((view) => systemTold(view, context) ?? []);
  return first ? { ...first, ...(others.length > 0 && { others }) } : null;
}

function systemTold(
  { tree: { resources, gaps }, id, logs }: SystemView,
  { address, credential }: { address: string; credential: string },
): ToldDevice | null {
  const membersOf = (collection: string) =>
    listAt(resources.get(plainPath(collection)), 'Members').flatMap(
      (member) => resources.get(plainPath(textAt(member, '@odata.id'))) ?? [],
    );
  // a service may speak for a distributor of power instead of a computer
  const equipment = resources.get(collectionPath(resources, 'PowerEquipment'));
  const powerUnit = ['RackPDUs', 'FloorPDUs'].flatMap((name) => membersOf(textAt(equipment, name, '@odata.id')))[0];
  const system = membersOf(collectionPath(resources, 'Systems'))[0];
  const chassis = membersOf(collectionPath(resources, 'Chassis'))[0];
  const body = system ?? chassis ?? powerUnit;
  if (body === undefined) return null;
  const managers = membersOf(collectionPath(resources, 'Managers'));
  const name = textAt(system, 'HostName') || textAt(body, 'AssetTag') || [address, id].filter(Boolean).join(' ');
  const list = redfishParts(resources, name);
  const first = (field: string) => textAt(system, field) || textAt(powerUnit, field) || textAt(chassis, field);
  const { ports: interfaces, addresses } = portsOf(membersOf, system, managers);
  const { ports, neighbours, listens } = adapterPorts(resources, interfaces);
  const own = [...new Set([address, ...addresses.map((row) => row.address)])]
    .filter(isRoutableAddress)
    .sort(compareAddresses);
  const summary = numberAt(system, 'MemorySummary', 'TotalSystemMemoryGiB');
  const installed = list
    .filter(({ module }) => module.class === 'memory')
    .reduce((sum, { resource }) => sum + (numberAt(resources.get(resource), 'CapacityMiB') ?? 0), 0);
  const parts: ResourceAnswer['parts'] = {
    system: { state: 'whole', seconds: 0 },
    modules: { state: 'whole', seconds: 0 },
    sensors: { state: 'whole', seconds: 0 },
    software: { state: 'whole', seconds: 0 },
    interfaces: { state: 'whole', seconds: 0 },
    addresses: { state: 'whole', seconds: 0 },
    ...(listens && { lldp: { state: 'whole', seconds: 0 } }),
  };
  // what is broken is told in the words of the log: without it the same would be told in others
  const ofLogs = new Set(['LogServices', 'Entries']);
  // parts of one name are told apart by how many there are: where a page is missing nobody knows which is which
  const isCounted = list.some(({ module }) => / \(\d+\)$/.test(module.path));
  for (const { path, reason, property = '' } of gaps) {
    const part = partsByProperty[property] ?? 'modules';
    const before = parts[part];
    const addsUp = !isCounted && !ofLogs.has(property) && (before?.state !== 'failed' || before.addsUp === true);
    parts[part] = {
      state: 'failed',
      reason: `${path}: ${reason}`,
      seconds: 0,
      ...(addsUp && { addsUp: true as const }),
    };
  }
  // what is broken is judged by the parts: without them an absent fault says nothing
  if (parts.modules?.state === 'failed' && parts.sensors?.state === 'whole') parts.sensors = { ...parts.modules };
  return {
    parts,
    report: {
      device: {
        name,
        site: '',
        role: system === undefined && powerUnit !== undefined ? 'power' : 'server',
        vendor: first('Manufacturer'),
        family: '',
        model: first('Model'),
        serial: cleanSerial(first('SerialNumber'), first('Manufacturer')),
        release: textAt(powerUnit, 'FirmwareVersion'),
        bootRelease: textAt(system, 'BiosVersion'),
        address,
        addresses: own,
        objectId: '',
        description: [first('Manufacturer'), first('Model'), textAt(system, 'SystemType')].filter(Boolean).join(' '),
        contact: '',
        location: locationOf(chassis),
        memoryBytes: summary !== null && summary > 0 ? summary * 2 ** 30 : installed > 0 ? installed * 2 ** 20 : null,
        flashBytes: null,
        credential,
        signature: 'redfish',
        units: list
          .filter(({ module }) => module.class === 'chassis')
          .map(({ module }) => ({ name: module.name, model: module.model, serial: module.serial })),
        bridgeAddress: null,
        engineId: null,
        processors: list
          .filter(({ module }) => module.class === 'cpu')
          .map(({ module }) => module.model || module.name),
        ...(realUuid(textAt(system, 'UUID')) && { uuid: realUuid(textAt(system, 'UUID')) }),
        interfaces: [
          {
            kind: 'redfish',
            address,
            credential,
            release: managers.map((manager) => textAt(manager, 'FirmwareVersion')).find(Boolean) ?? '',
          },
        ],
      },
      volatile: {
        uptimeSeconds: null,
        flashFreeBytes: null,
        storage: [],
        sensors: [...redfishSensors(resources), ...redfishMetrics(resources)],
      },
      modules: list.map(({ module }) => module),
      ports,
      portAges: {},
      addresses,
      vlans: [],
      neighbours,
      services: [],
      machines: [],
      routes: [],
      peers: [],
      wlans: [],
      software: membersOf('/redfish/v1/UpdateService/FirmwareInventory').flatMap((item) => {
        const component = textAt(item, 'Name') || textAt(item, 'Id');
        // an image that waits, and does not run
        const isSpare = textAt(item, 'Status', 'State') === 'StandbyOffline';
        return component
          ? [
              {
                name: isSpare ? `${component}, standby` : component,
                version: textAt(item, 'Version'),
                kind: 'firmware' as const,
                installedAt: null,
              },
            ]
          : [];
      }),
      faults: redfishFaults(resources, list, logs),
      sightings: { forwarding: [], addresses: [] },
    },
  };
}

function locationOf(chassis: Json | undefined): string {
  const placement = ['Row', 'Rack', 'RackOffset']
    .map((field) => [field, textAt(chassis, 'Location', 'Placement', field)] as const)
    .filter(([, value]) => value)
    .map(([field, value]) => `${field === 'RackOffset' ? 'unit' : field.toLowerCase()} ${value}`);
  return [textAt(chassis, 'Location', 'Info'), ...placement].filter(Boolean).join(', ');
}

/** The system's network interfaces, and the management controller's own port with its addresses. */
function portsOf(
  membersOf: (collection: string) => Json[],
  system: Json | undefined,
  managers: Json[],
): { ports: PortFacts[]; addresses: AddressFacts[] } {
  const ports: PortFacts[] = [];
  const addresses: AddressFacts[] = [];
  const add = (item: Json, port: string) => {
    const up = textAt(item, 'LinkStatus');
    const mega = numberAt(item, 'SpeedMbps');
    const [burnt, used] = ['PermanentMACAddress', 'MACAddress'].map((field) => realMac(textAt(item, field)));
    const vlan = numberAt(item, 'VLAN', 'VLANId');
    const oper = up === 'LinkUp' ? 'up' : up === '' ? 'unknown' : 'down';
    const own = ownAddresses(item).map((row) => ({ ...row, port }));
    addresses.push(...own);
    ports.push({
      index: ports.length + 1,
      name: port,
      alias: '',
      description: textAt(item, 'Description') || textAt(item, 'Name'),
      type: 'ethernet',
      physical: true,
      admin:
        booleanAt(item, 'InterfaceEnabled') === false || textAt(item, 'Status', 'State') === 'Disabled' ? 'down' : 'up',
      oper,
      speedBps: oper === 'up' && mega ? mega * 1e6 : null,
      duplex: oper === 'up' ? duplexOf(booleanAt(item, 'FullDuplex')) : 'unknown',
      mtu: numberAt(item, 'MTUSize'),
      mac: used ?? burnt ?? null,
      ...(burnt && used && burnt !== used && { otherMac: burnt }),
      vlan: null,
      taggedVlans: vlan !== null && booleanAt(item, 'VLAN', 'VLANEnable') === true ? [vlan] : [],
      addresses: own.map((row) => (row.prefixLength === null ? row.address : `${row.address}/${row.prefixLength}`)),
      lag: null,
      stp: null,
      poe: null,
    });
  };
  const interfacesOf = (owner: Json | undefined) => membersOf(textAt(owner, 'EthernetInterfaces', '@odata.id'));
  for (const item of interfacesOf(system)) add(item, textAt(item, 'Id') || textAt(item, 'Name'));
  managers.forEach((manager, at) =>
    interfacesOf(manager).forEach((item, place) =>
      add(item, `management controller${at + place > 0 ? ` ${at + place + 1}` : ''}`),
    ),
  );
  return { ports, addresses };
}

/** Noughts, or all ones, stand where nobody set one. */
const realUuid = (text: string): string => (/^[0-]*$|^[f-]*$/i.test(text) ? '' : text.toLowerCase());

const duplexOf = (full: boolean | null): string => (full === null ? 'unknown' : full ? 'full' : 'half');

const realMac = (text: string): string | null => {
  const mac = parseMac(text);
  return mac !== null && isEmptyMac(mac) ? null : mac;
};

function ownAddresses(item: Json): { address: string; prefixLength: number | null }[] {
  const found = [
    ...listAt(item, 'IPv4Addresses').map((row) => ({
      address: addressOrNull(textAt(row, 'Address')),
      prefixLength: maskLength(textAt(row, 'SubnetMask')),
    })),
    ...listAt(item, 'IPv6Addresses').map((row) => ({
      address: addressOrNull(textAt(row, 'Address')),
      prefixLength: numberAt(row, 'PrefixLength'),
    })),
  ];
  return found.flatMap(({ address, prefixLength }) =>
    address && isRoutableAddress(address) ? [{ address, prefixLength }] : [],
  );
}
