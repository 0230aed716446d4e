import type { ThingName } from '../../core/things/fields';
import type { MarkedRow } from './query';

/** The fields scripts rely on, in their order. Tables may show more; exports and the API always have these. */
export const scriptFields: Record<ThingName, string[]> = {
  devices: [
    'name',
    'site',
    'role',
    'vendor',
    'family',
    'model',
    'serial',
    'release',
    'address',
    'addresses',
    'objectId',
    'description',
    'contact',
    'location',
    'uptimeSeconds',
    'memoryBytes',
    'flashBytes',
    'flashFreeBytes',
    'state',
    'credential',
    'firstSeen',
    'lastAnswered',
    'units',
  ],
  modules: [
    'device',
    'path',
    'class',
    'name',
    'description',
    'vendor',
    'model',
    'serial',
    'hardwareRevision',
    'firmwareRevision',
    'softwareRevision',
    'replaceable',
    'position',
    'parent',
    'empty',
  ],
  ports: [
    'device',
    'index',
    'name',
    'alias',
    'description',
    'type',
    'admin',
    'oper',
    'speedBps',
    'duplex',
    'mtu',
    'mac',
    'vlan',
    'taggedVlans',
    'voiceVlan',
    'addresses',
    'lag',
    'poe',
    'lastChangeSeconds',
    'stp',
    'kind',
    'neighbour',
    'endpoints',
  ],
  links: ['a', 'b', 'kind', 'confidence', 'evidence', 'speedBps', 'blocked', 'issues', 'members', 'segment'],
  endpoints: ['mac', 'addresses', 'host', 'maker', 'vlan', 'device', 'port', 'via', 'firstSeen', 'lastSeen'],
  vlans: ['vlan', 'name', 'devices', 'deviceCount', 'untaggedPorts', 'taggedPorts'],
  addresses: ['address', 'prefixLength', 'device', 'port'],
  machines: ['name', 'uuid', 'state', 'system', 'processors', 'memoryBytes', 'host', 'cluster', 'adapters'],
  services: ['device', 'process', 'path', 'arguments', 'protocol', 'address', 'port'],
  software: ['device', 'name', 'version', 'kind', 'installedAt'],
  networks: ['network', 'vrf', 'devices', 'ports', 'knownAddresses'],
  routes: ['device', 'destination', 'nextHop', 'port', 'protocol', 'vrf'],
  peers: ['device', 'protocol', 'peer', 'address', 'state', 'up', 'localAs', 'remoteAs', 'identifier'],
  wlans: ['name', 'security', 'vlan', 'enabled', 'accessPoints', 'clients', 'device'],
  faults: ['device', 'subsystem', 'part', 'severity', 'message', 'action', 'since', 'firstSeen'],
  readiness: ['device', 'component', 'current', 'target', 'verdict', 'reasons'],
  ledger: [
    'serial',
    'what',
    'model',
    'class',
    'state',
    'device',
    'place',
    'site',
    'firstSeen',
    'lastSeen',
    'moves',
    'history',
  ],
  contracts: [
    'number',
    'kind',
    'supplier',
    'level',
    'contact',
    'from',
    'until',
    'parts',
    'serials',
    'note',
    'state',
    'daysLeft',
    'inService',
    'uncovered',
    'devices',
  ],
  changes: ['survey', 'subject', 'kind', 'field', 'before', 'after', 'thing', 'at'],
  visits: [
    'survey',
    'address',
    'outcome',
    'reason',
    'remedy',
    'seconds',
    'device',
    'credential',
    'phases',
    'missing',
    'path',
  ],
};

/** What the fields that hold several values by name are made of, where that is always the same. */
const partsOfFields: Record<string, string[]> = {
  poe: ['enabled', 'state', 'class', 'watts'],
  stp: ['state', 'role', 'designatedBridge'],
  neighbour: ['device', 'port', 'source'],
};
/** Fields whose parts are known only from their rows. */
const unknownParts = new Set(['a', 'b', 'phases']);

/** The columns of the fields once they are flattened; null where only the rows can tell. */
export function flatColumns(name: ThingName, columns: string[] | undefined): string[] | null {
  const wanted = columns ?? scriptFields[name];
  return wanted.some((field) => unknownParts.has(field))
    ? null
    : wanted.flatMap((field) => partsOfFields[field]?.map((part) => `${field}.${part}`) ?? [field]);
}

/** A row as scripts get it: the fields of the contract, or just those asked for, and the change marks. */
export function scriptRow(name: ThingName, row: MarkedRow, columns?: string[]): Record<string, unknown> {
  const wanted = columns ?? scriptFields[name];
  const plain = Object.fromEntries(wanted.map((field) => [field, row[field] ?? null]));
  return { ...plain, ...(row.change && { change: row.change, ...(row.before && { was: row.before }) }) };
}
