import type { FieldKind, FilterField } from '../filter/predicate';

/** A field of a thing: its name in the API and in filters, how it compares, and how a table heads it. */
export interface ThingField extends FilterField {
  label: string;
  /** topic in the column chooser */
  topic: string;
  /** shown when nobody has chosen columns */
  shown?: boolean;
  /** width in a table, pixels */
  width: number;
  /** compared between two surveys; volatile fields are not */
  compared?: boolean;
  /** the values of several rows make a sum that means something */
  addsUp?: boolean;
  /** a row may have several values */
  list?: boolean;
  /** a text like 2026-11-23 that stands for a day of the calendar */
  isDay?: boolean;
}

export interface Thing {
  name: ThingName;
  /** title of the table */
  title: string;
  fields: ThingField[];
  /** fields that name a row, for the default order */
  order: string;
}

export const thingNames = [
  'devices', 'modules', 'ports', 'links', 'endpoints', 'machines', 'services', 'software', 'vlans', 'addresses', 'networks', 'routes', 'peers', 'wlans', 'faults', 'readiness', 'ledger', 'contracts', 'changes', 'visits',
] as const;
export type ThingName = (typeof thingNames)[number];

type Short = [name: string, kind: FieldKind, label: string, topic: string, width: number, flags?: string];

/** Flags: `s` shown by default, `c` compared between surveys, `a` adds up, `l` is a list, `v` has values of a short fixed list, `d` is a day, `o` names another thing. */
const fields = (list: Short[]): ThingField[] =>
  list.map(([name, kind, label, topic, width, flags = '']) => ({
    name, kind, label, topic, width, ...(flags.includes('s') && { shown: true }), ...(flags.includes('c') && { compared: true }), ...(flags.includes('a') && { addsUp: true }), ...(flags.includes('l') && { list: true }), ...(flags.includes('v') && { listed: true }), ...(flags.includes('d') && { isDay: true }), ...(flags.includes('o') && { ofOther: true }),
  }));

export const things: Record<ThingName, Thing> = {
  devices: {
    name: 'devices', title: 'Devices', order: 'name',
    fields: fields([
      ['name', 'text', 'Name', 'Identity', 150, 'sc'],
      ['role', 'text', 'Role', 'Identity', 130, 'sc'],
      ['site', 'text', 'Site', 'Identity', 60, 'sc'],
      ['vendor', 'text', 'Maker', 'Identity', 100, 'c'],
      ['family', 'text', 'Family', 'Identity', 100, 'c'],
      ['model', 'text', 'Model', 'Identity', 110, 'sc'],
      ['serial', 'text', 'Serial', 'Identity', 150, 'sc'],
      ['release', 'release', 'Release', 'Software', 105, 'sc'],
      ['releasedAt', 'date', 'Release is of', 'Software', 105],
      ['releaseAgeSeconds', 'seconds', 'Release age', 'Software', 90],
      ['bootRelease', 'release', 'Boot release', 'Software', 95, 'c'],
      ['bootImage', 'text', 'Boot image', 'Software', 150, 'c'],
      ['redundancyRole', 'text', 'Redundancy', 'Health', 100, 'c'],
      ['unsavedConfiguration', 'text', 'Configuration', 'Health', 100, 'c'],
      ['address', 'address', 'Address', 'Addresses', 110, 'sc'],
      ['addresses', 'address', 'All addresses', 'Addresses', 200, 'cl'],
      ['state', 'text', 'State', 'Health', 100, 'cv'],
      ['memoryBytes', 'bytes', 'Memory', 'Hardware', 85, 'ca'],
      ['flashBytes', 'bytes', 'Flash', 'Hardware', 85, 'ca'],
      ['flashFreeBytes', 'bytes', 'Flash free', 'Hardware', 85, 'a'],
      ['powerBudgetWatts', 'number', 'Power budget, W', 'Power', 110, 'a'],
      ['powerDrawnWatts', 'number', 'Power drawn, W', 'Power', 110, 'a'],
      ['powerUsedPercent', 'number', 'Power used, %', 'Power', 100],
      ['uptimeSeconds', 'seconds', 'Up for', 'Health', 80],
      ['firstSeen', 'date', 'First seen', 'Time', 125],
      ['lastAnswered', 'date', 'Last answered', 'Time', 125],
      ['pluggedInto', 'text', 'Plugged into', 'Identity', 130, 'o'],
      ['cutsDevices', 'number', 'Cuts off devices', 'Spare', 110],
      ['cutsEndpoints', 'number', 'Cuts off endpoints', 'Spare', 120],
      ['location', 'text', 'Location', 'Identity', 190, 'c'],
      ['room', 'text', 'Room', 'Identity', 110],
      ['contact', 'text', 'Contact', 'Identity', 170, 'c'],
      ['description', 'text', 'Description', 'Identity', 260, 'c'],
      ['objectId', 'text', 'Object id', 'Identity', 190, 'c'],
      ['credential', 'text', 'Credential', 'Asking', 130],
      ['askedBy', 'text', 'Asked by', 'Asking', 90],
      ['cover', 'text', 'Cover', 'Cover', 80, 'vo'],
      ['coverUntil', 'date', 'Cover until', 'Cover', 115],
      ['coveredBy', 'text', 'Covered by', 'Cover', 130, 'lo'],
      ['group', 'text', 'Groups', 'Groups', 130, 'l'],
      ['maintenance', 'boolean', 'In maintenance', 'Groups', 100],
      ['maintenanceUntil', 'date', 'Maintenance until', 'Groups', 125],
    ]),
  },
  modules: {
    name: 'modules', title: 'Modules', order: 'device',
    fields: fields([
      ['device', 'text', 'Device', 'Place', 140, 's'],
      ['site', 'text', 'Site', 'Place', 60],
      ['path', 'text', 'Path', 'Place', 260, 's'],
      ['class', 'text', 'Class', 'Identity', 125, 'sc'],
      ['name', 'text', 'Name', 'Identity', 130, 'c'],
      ['description', 'text', 'Description', 'Identity', 180, 'c'],
      ['vendor', 'text', 'Maker', 'Identity', 90, 'c'],
      ['model', 'text', 'Model', 'Identity', 100, 'sc'],
      ['serial', 'text', 'Serial', 'Identity', 130, 'sc'],
      ['hardwareRevision', 'text', 'Hardware', 'Revisions', 80, 'c'],
      ['firmwareRevision', 'release', 'Firmware', 'Revisions', 90, 'sc'],
      ['softwareRevision', 'release', 'Software', 'Revisions', 90, 'c'],
      ['replaceable', 'boolean', 'Replaceable', 'Identity', 90, 'c'],
      ['position', 'number', 'Position', 'Place', 70, 'c'],
      ['parent', 'text', 'Held by', 'Place', 200],
      ['empty', 'boolean', 'Empty', 'Place', 60, 'c'],
      ['holds', 'text', 'Is for', 'Place', 100],
      ['cover', 'text', 'Cover', 'Cover', 80, 'vo'],
      ['coverUntil', 'date', 'Cover until', 'Cover', 115],
      ['coveredBy', 'text', 'Covered by', 'Cover', 130, 'lo'],
    ]),
  },
  ports: {
    name: 'ports', title: 'Ports', order: 'device',
    fields: fields([
      ['device', 'text', 'Device', 'Place', 120],
      ['name', 'text', 'Port', 'Identity', 62, 's'],
      ['alias', 'text', 'Alias', 'Identity', 150, 'sc'],
      ['description', 'text', 'Description', 'Identity', 180, 'c'],
      ['pluggedIn', 'text', 'Plugged in', 'Guests', 150, 's'],
      ['how', 'text', 'How we know', 'Guests', 190, 's'],
      ['machines', 'number', 'Machines', 'Guests', 80, 'a'],
      ['lastSeen', 'date', 'Guest last seen', 'Guests', 125],
      ['farEnd', 'text', 'Neighbour', 'Guests', 150, 'o'],
      ['newNeighbour', 'text', 'New neighbour', 'Guests', 190],
      ['kind', 'text', 'Kind', 'Identity', 82, 'c'],
      ['type', 'text', 'Type', 'Identity', 80, 'c'],
      ['admin', 'text', 'Admin', 'State', 62, 'cv'],
      ['oper', 'text', 'State', 'State', 70, 'cv'],
      ['speedBps', 'bitsPerSecond', 'Speed', 'State', 58, 'sc'],
      ['duplex', 'text', 'Duplex', 'State', 62, 'sc'],
      ['media', 'text', 'Media', 'State', 100, 'c'],
      ['transceiver', 'text', 'Transceiver', 'State', 100],
      ['autoNegotiation', 'boolean', 'Negotiates', 'State', 80],
      ['mtu', 'number', 'MTU', 'State', 60, 'c'],
      ['vlan', 'number', 'VLAN', 'VLAN', 54, 'sc'],
      ['taggedVlans', 'number', 'Tagged', 'VLAN', 120, 'cl'],
      ['voiceVlan', 'number', 'Voice VLAN', 'VLAN', 85, 'c'],
      ['lag', 'text', 'LAG', 'Identity', 60, 'c'],
      ['power', 'text', 'Power', 'State', 130, 'c'],
      ['watts', 'number', 'Power drawn, W', 'State', 105, 'a'],
      ['disabledBy', 'text', 'Disabled by', 'State', 150, 'c'],
      ['stpState', 'text', 'Spanning tree', 'Spanning tree', 100, 'vo'],
      ['stpRole', 'text', 'Role in it', 'Spanning tree', 90, 'vo'],
      ['mac', 'mac', 'MAC', 'Identity', 140, 'c'],
      ['addresses', 'address', 'Addresses', 'Identity', 140, 'cl'],
      ['lastChangeSeconds', 'seconds', 'Since', 'State', 58, 's'],
      ['stateChanges', 'number', 'State changes', 'State', 95],
      ['errors', 'number', 'Errors', 'State', 75, 'a'],
      ['discards', 'number', 'Discards', 'State', 80, 'a'],
      ['outlet', 'text', 'Outlet', 'Place', 100],
      ['panel', 'text', 'Patch panel', 'Place', 100],
      ['room', 'text', 'Room', 'Place', 110],
      ['site', 'text', 'Site', 'Place', 60],
      ['group', 'text', 'Groups', 'Groups', 130, 'l'],
    ]),
  },
  links: {
    name: 'links', title: 'Links', order: 'from',
    fields: fields([
      ['from', 'text', 'From', 'Ends', 130, 's'],
      ['fromPort', 'text', 'Port', 'Ends', 70, 's'],
      ['to', 'text', 'To', 'Ends', 130, 's'],
      ['toPort', 'text', 'Port', 'Ends', 70, 's'],
      ['speedBps', 'bitsPerSecond', 'Speed', 'State', 70, 'sc'],
      ['confidence', 'text', 'Confidence', 'Evidence', 110, 'scv'],
      ['kind', 'text', 'Kind', 'State', 80, 'c'],
      ['blocked', 'boolean', 'Blocked', 'State', 70, 'c'],
      ['issueWords', 'text', 'Findings', 'Evidence', 300, 'sc'],
      ['cutsDevices', 'number', 'Cuts off devices', 'Spare', 110],
      ['cutsEndpoints', 'number', 'Cuts off endpoints', 'Spare', 120],
      ['spareLostSince', 'date', 'Without spare since', 'Spare', 130],
      ['spareLostBy', 'text', 'Spare lost with', 'Spare', 260],
      ['evidenceWords', 'text', 'Evidence', 'Evidence', 340, 's'],
    ]),
  },
  endpoints: {
    name: 'endpoints', title: 'Endpoints', order: 'mac',
    fields: fields([
      ['mac', 'mac', 'MAC', 'Identity', 160, 's'],
      ['addresses', 'address', 'Addresses', 'Identity', 130, 'scl'],
      ['host', 'text', 'Host', 'Identity', 130, 'sc'],
      ['maker', 'text', 'Maker', 'Identity', 110, 's'],
      ['vlan', 'number', 'VLAN', 'Place', 60, 'sc'],
      ['device', 'text', 'On device', 'Place', 120, 'sc'],
      ['site', 'text', 'Site', 'Place', 60],
      ['port', 'text', 'Port', 'Place', 60, 'sc'],
      ['via', 'text', 'Via', 'Place', 90, 'scv'],
      ['basis', 'text', 'Known by', 'Place', 120, 'vo'],
      ['tenant', 'text', 'Tenant', 'Fabric', 100],
      ['endpointGroup', 'text', 'Endpoint group', 'Fabric', 120],
      ['outlet', 'text', 'Outlet', 'Place', 100],
      ['panel', 'text', 'Patch panel', 'Place', 100],
      ['room', 'text', 'Room', 'Place', 110],
      ['firstSeen', 'date', 'First seen', 'Time', 125, 's'],
      ['lastSeen', 'date', 'Last seen', 'Time', 125],
    ]),
  },
  vlans: {
    name: 'vlans', title: 'VLANs', order: 'vlan',
    fields: fields([
      ['vlan', 'number', 'VLAN', 'Identity', 70, 's'],
      ['name', 'text', 'Name', 'Identity', 160, 'sc'],
      ['devices', 'text', 'On devices', 'Reach', 320, 'sl'],
      ['deviceCount', 'number', 'Devices', 'Reach', 80, 's'],
      ['untaggedPorts', 'number', 'Untagged ports', 'Reach', 110, 'sa'],
      ['taggedPorts', 'number', 'Tagged ports', 'Reach', 110, 'sa'],
    ]),
  },
  addresses: {
    name: 'addresses', title: 'Addresses', order: 'address',
    fields: fields([
      ['address', 'address', 'Address', 'Identity', 150, 's'],
      ['prefixLength', 'number', 'Length', 'Identity', 70, 'sc'],
      ['device', 'text', 'Device', 'Place', 140, 'sc'],
      ['site', 'text', 'Site', 'Place', 60],
      ['port', 'text', 'Port', 'Place', 90, 'sc'],
    ]),
  },
  machines: {
    name: 'machines', title: 'Virtual machines', order: 'name',
    fields: fields([
      ['name', 'text', 'Name', 'Identity', 150, 's'],
      ['state', 'text', 'State', 'State', 80, 'scv'],
      ['host', 'text', 'Host', 'Place', 130, 'sc'],
      ['cluster', 'text', 'Cluster', 'Place', 100, 'c'],
      ['system', 'text', 'System', 'Identity', 160, 'sc'],
      ['processors', 'number', 'Processors', 'Size', 80, 'sca'],
      ['memoryBytes', 'bytes', 'Memory', 'Size', 80, 'sca'],
      ['networks', 'text', 'Networks', 'Place', 140, 'sc'],
      ['macs', 'mac', 'MAC', 'Identity', 145, 'sc'],
      ['uuid', 'text', 'UUID', 'Identity', 270],
      ['toldBy', 'text', 'Told by', 'Evidence', 120],
    ]),
  },
  services: {
    name: 'services', title: 'Services', order: 'device',
    fields: fields([
      ['device', 'text', 'Device', 'Place', 140, 's'],
      ['site', 'text', 'Site', 'Place', 60],
      ['process', 'text', 'Process', 'Identity', 140, 'sc'],
      ['protocol', 'text', 'Protocol', 'Listens', 75, 's'],
      ['port', 'number', 'Port', 'Listens', 70, 's'],
      ['address', 'text', 'On address', 'Listens', 130, 's'],
      ['path', 'text', 'Path', 'Identity', 240, 'sc'],
      ['arguments', 'text', 'Arguments', 'Identity', 240, 'c'],
    ]),
  },
  software: {
    name: 'software', title: 'Software', order: 'device',
    fields: fields([
      ['device', 'text', 'Device', 'Place', 140, 's'],
      ['site', 'text', 'Site', 'Place', 60],
      ['name', 'text', 'Name', 'Identity', 260, 's'],
      ['version', 'release', 'Version', 'Identity', 120, 'sc'],
      ['kind', 'text', 'Kind', 'Identity', 120, 'sc'],
      ['installedAt', 'date', 'Installed', 'Time', 130, 's'],
    ]),
  },
  networks: {
    name: 'networks', title: 'Networks', order: 'network',
    fields: fields([
      ['network', 'text', 'Network', 'Identity', 160, 's'],
      ['family', 'text', 'Family', 'Identity', 70],
      ['vrf', 'text', 'Virtual router', 'Identity', 110, 's'],
      ['knownAddresses', 'number', 'Known addresses', 'Reach', 120, 'sa'],
      ['devices', 'text', 'Devices in it', 'Reach', 320, 'scl'],
      ['ports', 'text', 'On ports', 'Reach', 320],
    ]),
  },
  routes: {
    name: 'routes', title: 'Routes', order: 'device',
    fields: fields([
      ['device', 'text', 'Device', 'Place', 140, 's'],
      ['site', 'text', 'Site', 'Place', 60],
      ['destination', 'text', 'Destination', 'Route', 160, 's'],
      ['nextHop', 'address', 'Next hop', 'Route', 140, 'sc'],
      ['port', 'text', 'Port', 'Route', 100, 'sc'],
      ['protocol', 'text', 'Learned by', 'Route', 100, 'sc'],
      ['vrf', 'text', 'Virtual router', 'Route', 110, 's'],
    ]),
  },
  peers: {
    name: 'peers', title: 'Routing peers', order: 'device',
    fields: fields([
      ['device', 'text', 'Device', 'Place', 140, 's'],
      ['site', 'text', 'Site', 'Place', 60],
      ['protocol', 'text', 'Protocol', 'Peer', 80, 's'],
      ['peer', 'text', 'Peer', 'Peer', 140, 's'],
      ['address', 'address', 'Its address', 'Peer', 140, 's'],
      ['state', 'text', 'State', 'State', 110, 'scv'],
      ['up', 'boolean', 'Talks', 'State', 70, 'c'],
      ['localAs', 'number', 'Own AS', 'Peer', 80, 'c'],
      ['remoteAs', 'number', 'Its AS', 'Peer', 80, 'sc'],
      ['identifier', 'text', 'Router id', 'Peer', 130],
    ]),
  },
  wlans: {
    name: 'wlans', title: 'Wireless networks', order: 'name',
    fields: fields([
      ['name', 'text', 'Name', 'Identity', 160, 's'],
      ['security', 'text', 'Security', 'Identity', 140, 'sc'],
      ['vlan', 'number', 'VLAN', 'Identity', 70, 'sc'],
      ['enabled', 'boolean', 'On air', 'State', 70, 'sc'],
      ['accessPoints', 'number', 'Access points', 'Reach', 110, 'sa'],
      ['clients', 'number', 'Clients', 'Reach', 80, 'sa'],
      ['device', 'text', 'Controller', 'Place', 140, 's'],
      ['site', 'text', 'Site', 'Place', 60],
    ]),
  },
  faults: {
    name: 'faults', title: 'Faults', order: 'device',
    fields: fields([
      ['severity', 'text', 'Severity', 'What', 80, 'sv'],
      ['device', 'text', 'Device', 'Place', 130, 's'],
      ['site', 'text', 'Site', 'Place', 60],
      ['subsystem', 'text', 'Subsystem', 'What', 90, 's'],
      ['part', 'text', 'Part', 'Place', 220, 's'],
      ['message', 'text', 'Message', 'What', 240, 's'],
      ['action', 'text', 'What to do', 'What', 320, 's'],
      ['since', 'date', 'Since', 'Time', 125, 's'],
      ['firstSeen', 'date', 'First seen', 'Time', 125],
    ]),
  },
  readiness: {
    name: 'readiness', title: 'Readiness', order: 'device',
    fields: fields([
      ['device', 'text', 'Device', 'Device', 120, 's'],
      ['site', 'text', 'Site', 'Device', 60, 's'],
      ['model', 'text', 'Model', 'Device', 105, 's'],
      ['family', 'text', 'Family', 'Device', 90],
      ['component', 'text', 'Component', 'Device', 100],
      ['current', 'release', 'Runs', 'Release', 90, 's'],
      ['target', 'release', 'Target', 'Release', 90, 's'],
      ['targetGroup', 'text', 'Target is for', 'Release', 110],
      ['verdict', 'text', 'Verdict', 'Release', 120, 'sv'],
      ['why', 'text', 'Why', 'Release', 520, 's'],
    ]),
  },
  ledger: {
    name: 'ledger', title: 'Ledger', order: 'serial',
    fields: fields([
      ['serial', 'text', 'Serial', 'Identity', 150, 's'],
      ['what', 'text', 'What', 'Identity', 190, 's'],
      ['model', 'text', 'Model', 'Identity', 110, 's'],
      ['class', 'text', 'Class', 'Identity', 100],
      ['state', 'text', 'State', 'Life', 90, 'sv'],
      ['device', 'text', 'In device', 'Place', 120, 's'],
      ['place', 'text', 'Place', 'Place', 220, 's'],
      ['site', 'text', 'Site', 'Place', 60],
      ['firstSeen', 'date', 'First seen', 'Life', 130, 's'],
      ['lastSeen', 'date', 'Last seen', 'Life', 130, 's'],
      ['moves', 'number', 'Moves', 'Life', 60],
      ['cover', 'text', 'Cover', 'Cover', 80, 'vo'],
      ['coverUntil', 'date', 'Cover until', 'Cover', 115],
      ['coveredBy', 'text', 'Covered by', 'Cover', 130, 'lo'],
    ]),
  },
  contracts: {
    name: 'contracts', title: 'Contracts', order: 'number',
    fields: fields([
      ['number', 'text', 'Number', 'Identity', 140, 's'],
      ['kind', 'text', 'Kind', 'Identity', 90, 'sv'],
      ['supplier', 'text', 'Supplier', 'Identity', 150, 's'],
      ['level', 'text', 'Promises', 'Identity', 210, 's'],
      ['contact', 'text', 'Call', 'Identity', 170],
      ['from', 'date', 'From', 'Time', 115],
      ['until', 'date', 'Until', 'Time', 115, 's'],
      ['daysLeft', 'number', 'Days left', 'Time', 80, 's'],
      ['state', 'text', 'State', 'Time', 85, 'scv'],
      ['serialCount', 'number', 'Serials', 'Covers', 70, 'sa'],
      ['inService', 'number', 'In service', 'Covers', 85, 'sa'],
      ['uncovered', 'number', 'Left without', 'Covers', 95, 'sa'],
      ['parts', 'boolean', 'With its parts', 'Covers', 100],
      ['devices', 'text', 'In devices', 'Covers', 300, 'lo'],
      ['serials', 'text', 'Their serials', 'Covers', 300, 'l'],
      ['note', 'text', 'Note', 'Identity', 220],
    ]),
  },
  changes: {
    name: 'changes', title: 'Changes', order: 'subject',
    fields: fields([
      ['day', 'text', 'Day', 'Time', 130, 'sd'],
      ['at', 'date', 'When', 'Time', 125],
      ['survey', 'number', 'Survey', 'Time', 70],
      ['thing', 'text', 'Thing', 'What', 90, 's'],
      ['subject', 'text', 'Subject', 'What', 280, 's'],
      ['kind', 'text', 'Kind', 'What', 90, 's'],
      ['field', 'text', 'Field', 'What', 120, 's'],
      ['before', 'text', 'Before', 'What', 180, 's'],
      ['after', 'text', 'After', 'What', 180, 's'],
    ]),
  },
  visits: {
    name: 'visits', title: 'Addresses asked', order: 'address',
    fields: fields([
      ['address', 'address', 'Address', 'Asked', 120, 's'],
      ['outcome', 'text', 'Outcome', 'Asked', 100, 'sv'],
      ['device', 'text', 'Device', 'Asked', 130, 's'],
      ['credential', 'text', 'Credential', 'Asked', 130, 's'],
      ['reason', 'text', 'Reason', 'Asked', 300, 's'],
      ['remedy', 'text', 'What to do', 'Asked', 360, 's'],
      ['path', 'text', 'Found by', 'Asked', 220],
      ['seconds', 'number', 'Seconds', 'Asked', 80, 's'],
      ['survey', 'number', 'Survey', 'Asked', 70],
    ]),
  },
};

/** Things whose rows belong to a device and say at which site it stands. */
export const sitedThings = new Set<ThingName>(['modules', 'ports', 'endpoints', 'services', 'software', 'addresses', 'faults', 'peers', 'routes', 'wlans']);

const ofDevice = { device: 'devices' } as const;
/** A link belongs to the devices at both of its ends. */
const ofEnds = { from: 'devices', to: 'devices' } as const;

/** Things one step away from a row, by the word that stands before the dot in a filter. */
export const relatedThings: Partial<Record<ThingName, Record<string, ThingName>>> = {
  devices: { module: 'modules', port: 'ports', address: 'addresses', fault: 'faults', service: 'services', software: 'software' },
  ...Object.fromEntries([...sitedThings].map((name) => [name, ofDevice])), readiness: ofDevice, links: ofEnds,
};
