import type { ConversationFacts, DeviceReport } from './facts';
import type { HarvestPart } from './harvest';
import { shownOfLink, shownOfMachine, shownOfPort } from './shownFacts';
import { conversationKey, serviceKey } from './interpretServices';

/** The lists of a report: what one device tells. */
type ToldLists = Omit<DeviceReport, 'device' | 'volatile' | 'portAges' | 'sightings'>;
export type ToldList = keyof ToldLists;
export type ToldRow<List extends ToldList> = NonNullable<ToldLists[List]>[number];

/** How facts of a kind are told as changes between two surveys. */
export interface KindChanges {
  /** the word by which changes are told of it */
  word: string;
  /** what one of them is called beside its device; empty where the device is meant itself */
  name: (content: Record<string, unknown>, key: string) => string;
  /** what tables show of it beside what it holds */
  shown?: (content: never) => object;
  /** its key tells it from all others of the estate, not only from those of its device */
  isKeyedAlone?: boolean;
  /** both ends tell of it: what both tell is one change */
  isToldTwice?: boolean;
  /** how it is called in the table of its thing, where not by its device and key */
  thingId?: (content: Record<string, unknown>) => string;
}

/** A kind of fact: what is versioned, by what it is told apart, how its changes are told. */
export interface FactKind {
  kind: string;
  changes?: KindChanges;
  /** a dossier tells the history of one of them */
  hasHistory?: true;
}

/** A kind of which devices tell lists themselves. */
export interface ToldKind<List extends ToldList = ToldList> extends FactKind {
  list: List;
  /** the part of an answer that must be whole for what is no longer told to be gone */
  part: HarvestPart;
  /** the same where a device tells it by SNMP, if that is another */
  snmpPart?: HarvestPart;
  /** further parts that tell of it: all of them must be whole, where they were asked; what the whole ones tell is written all the same */
  also?: readonly HarvestPart[];
  key: (row: ToldRow<List>, all: readonly ToldRow<List>[]) => string;
  /** several ways in to one device may tell of the same one: it counts once, by its key */
  isUnited?: boolean;
  /** only some ways in tell of it: where none did there is nothing to write and nothing to take away */
  isOptional?: boolean;
}

const told = <List extends ToldList>(kind: ToldKind<List>): ToldKind => kind as unknown as ToldKind;
const text = (value: unknown) => String(value ?? '');
const routeKey = ({ vrf, destination, nextHop, port }: ToldRow<'routes'>) => `${vrf} ${destination} ${nextHop ?? port}`;

/** Two neighbours at a port are two, also where they give themselves no ids, or the same: then by which of them one is, in the order in which they are told. */
function neighbourKey(row: ToldRow<'neighbours'>, all: readonly ToldRow<'neighbours'>[]): string {
  const plain = ({ port, chassisId, portId }: ToldRow<'neighbours'>) => `${port} ${chassisId} ${portId}`;
  const own = plain(row);
  const before = row.chassisId && row.portId ? 0 : all.filter((other) => plain(other) === own).indexOf(row);
  return before > 0 ? `${own} ${before + 1}` : own;
}

/** Software that is installed in several versions is told apart by them; else another version is the same software, changed. */
const softwareKey = ({ name, version }: ToldRow<'software'>, all: readonly ToldRow<'software'>[]) =>
  namesTwice(all).has(name) ? `${name} ${version}` : name;

const knownTwice = new WeakMap<readonly ToldRow<'software'>[], Set<string>>();
function namesTwice(all: readonly ToldRow<'software'>[]): Set<string> {
  let twice = knownTwice.get(all);
  if (!twice) {
    const seen = new Set<string>();
    twice = new Set(all.flatMap(({ name }) => (seen.has(name) ? [name] : (seen.add(name), []))));
    knownTwice.set(all, twice);
  }
  return twice;
}

/** What devices tell, in the order in which it is written. Modules and ports are put together in ways of their own (`mergeInterfaces`, `carryOver`). */
export const toldKinds: readonly ToldKind[] = [
  told({
    kind: 'module',
    list: 'modules',
    part: 'modules',
    key: ({ path }) => path,
    changes: {
      word: 'module',
      name: ({ path }) => text(path),
    },
    hasHistory: true,
  }),
  told({
    kind: 'port',
    list: 'ports',
    part: 'interfaces',
    key: ({ name }) => name,
    changes: {
      word: 'port',
      name: ({ name }) => text(name),
      shown: shownOfPort,
    },
    hasHistory: true,
  }),
  told({
    kind: 'address',
    list: 'addresses',
    part: 'addresses',
    key: ({ address }) => address,
    isUnited: true,
    changes: { word: 'address', name: ({ address }) => text(address) },
    hasHistory: true,
  }),
  told({ kind: 'vlan', list: 'vlans', part: 'bridge', key: ({ vlan }) => String(vlan), isUnited: true }),
  told({
    kind: 'neighbour',
    list: 'neighbours',
    part: 'lldp',
    key: neighbourKey,
  }),
  told({
    kind: 'service',
    list: 'services',
    part: 'services',
    key: serviceKey,
    changes: {
      word: 'service',
      name: ({ process, protocol, port }) => `${process ? `${text(process)} on ` : ''}${text(protocol)} ${text(port)}`,
    },
    hasHistory: true,
  }),
  told({
    kind: 'software',
    list: 'software',
    part: 'software',
    key: softwareKey,
    changes: { word: 'software', name: ({ name }) => text(name) },
    hasHistory: true,
  }),
  told({
    kind: 'machine',
    list: 'machines',
    part: 'machines',
    key: ({ uuid, name }) => uuid || name,
    isUnited: true,
    changes: { word: 'machine', name: ({ name }) => text(name), shown: shownOfMachine },
    hasHistory: true,
  }),
  told({
    kind: 'route',
    list: 'routes',
    part: 'routing',
    key: routeKey,
    changes: { word: 'route', name: (content) => routeKey(content as unknown as ToldRow<'routes'>).trim() },
    hasHistory: true,
  }),
  told({ kind: 'learnedRoute', list: 'learnedRoutes', part: 'routing', key: routeKey, isOptional: true }),
  told({
    kind: 'peer',
    list: 'peers',
    part: 'routing',
    key: ({ protocol, address }) => `${protocol} ${address}`,
    changes: {
      word: 'peer',
      name: ({ protocol, address }) => `${text(protocol).toUpperCase()} ${text(address)}`,
    },
    hasHistory: true,
  }),
  told({
    kind: 'virtualRouter',
    list: 'virtualRouters',
    part: 'standby',
    key: ({ port, group, family }) => `${port} ${group} ${family}`,
    isOptional: true,
    changes: { word: 'virtualRouter', name: ({ port, group }) => `group ${text(group)} at ${text(port)}` },
  }),
  told({
    kind: 'fault',
    list: 'faults',
    part: 'sensors',
    also: ['interfaces', 'host', 'power', 'alarms', 'ups', 'printer'],
    key: ({ subsystem, part, message }) => `${subsystem} ${part} ${message}`,
    changes: {
      word: 'fault',
      name: ({ part, message }) => `${text(part)}: ${text(message)}`,
    },
    hasHistory: true,
  }),
  told({
    kind: 'wlan',
    list: 'wlans',
    part: 'wireless',
    key: ({ name }) => name,
    isUnited: true,
    changes: { word: 'wlan', name: ({ name }) => text(name) },
    hasHistory: true,
  }),
  told({ kind: 'hostNetwork', list: 'hostNetworks', part: 'machines', key: ({ host }) => host, isOptional: true }),
  told({
    kind: 'toldLink',
    list: 'toldLinks',
    part: 'told',
    snmpPart: 'modules',
    key: ({ a, b }) => `${a.device} ${a.port} | ${b.device} ${b.port}`,
    isOptional: true,
  }),
  told({
    kind: 'fabric',
    list: 'fabric',
    part: 'told',
    key: (row) => (row.kind === 'node' ? `node ${row.node}` : `tenant ${row.tenant}`),
    isOptional: true,
  }),
  told({
    kind: 'fabricEndpoint',
    list: 'fabricEndpoints',
    part: 'neighbourAddresses',
    key: ({ mac }) => mac,
    isOptional: true,
  }),
  told({
    kind: 'conversation',
    list: 'conversations',
    part: 'services',
    key: conversationKey,
    isOptional: true,
    changes: {
      word: 'conversation',
      name: (content) => conversationWords(content as unknown as ConversationFacts),
      isToldTwice: true,
      thingId: (content) => conversationId(content as unknown as ConversationFacts),
    },
  }),
];

const endsOf = ({ role, address, peer }: ConversationFacts) =>
  role === 'client' ? { client: address, server: peer } : { client: peer, server: address };

/** A conversation as the table of conversations numbers it, whichever of its ends tells of it. */
export function conversationId(told: ConversationFacts): string {
  const { client, server } = endsOf(told);
  return `${told.protocol} ${client} ${server} ${told.port}`;
}

function conversationWords(told: ConversationFacts): string {
  const { client, server } = endsOf(told);
  return `${client} to ${server}, ${told.protocol} ${told.port}`;
}

/** What is put together for each device, and what is concluded of the whole estate. */
const device: FactKind = {
  kind: 'device',
  changes: {
    word: 'device',
    name: () => '',
  },
};
const concludedKinds: readonly FactKind[] = [
  {
    kind: 'link',
    changes: { word: 'link', name: linkName, isKeyedAlone: true, shown: shownOfLink },
    hasHistory: true,
  },
  {
    kind: 'attachment',
    changes: {
      word: 'endpoint',
      name: (_, key) => key,
      isKeyedAlone: true,
    },
  },
  { kind: 'portKind' },
];

/** Every kind of fact that is versioned. */
export const factKinds: readonly FactKind[] = [device, ...toldKinds, ...concludedKinds];

function linkName(content: Record<string, unknown>): string {
  const { a, b } = content as { a: { device: string; port: string }; b: { device: string; port: string } };
  return `${a.device} ${a.port} — ${b.device} ${b.port}`;
}
