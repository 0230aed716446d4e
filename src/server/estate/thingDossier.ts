import type { ThingName } from '../../core/things/fields';
import { versionHistory, type VersionEvent } from '../../core/things/versionHistory';
import { changeValue, fieldWord } from '../../core/things/changeWords';
import { writtenValue } from '../../core/filter/completion';
import { ownValueText, type OwnedThing } from '../../core/own/ownField';
import { contractDifference } from '../../core/cover/planContracts';
import { contractHistory } from '../../store/contracts';
import { latestSealed } from '../../store/commitReport';
import type { Store } from '../../store/base/database';
import { factHistory } from '../../store/base/facts';
import { ownHistory, readOwnFields } from '../../store/ownFields';
import type { FactKind } from '../../store/base/schema';
import { failingAt, type FailingCheck, type Judged } from '../checks/failingAt';
import { tablesOf } from '../query/tables/estateTables';
import type { MarkedRow } from '../query/tables/thingTable';
import { Calendar } from '../query/calendar';
import { thingRow } from '../query/query';

/** Everything about one thing that is no device: what it says, what is near it, what happened to it. */
export interface ThingDossier {
  row: MarkedRow;
  /** tables that say more, each with how many rows it has */
  near: { words: string; thing: ThingName; where: string; total: number }[];
  history: { at: string; words: string; before: string; after: string }[];
  /** checks that fail here */
  failing: FailingCheck[];
}

/** Things whose versions are kept, and fields of theirs that say nothing when they change. */
const versioned: Partial<Record<ThingName, { kind: FactKind; word: string; without: string[] }>> = {
  modules: { kind: 'module', word: 'module', without: ['order', 'parent'] },
  ports: { kind: 'port', word: 'port', without: ['index', 'physical', 'stp'] },
  links: { kind: 'link', word: 'link', without: ['evidence'] },
  addresses: { kind: 'address', word: 'address', without: [] },
  services: { kind: 'service', word: 'service', without: [] },
  software: { kind: 'software', word: 'software', without: [] },
  machines: { kind: 'machine', word: 'machine', without: [] },
  routes: { kind: 'route', word: 'route', without: [] },
  peers: { kind: 'peer', word: 'peer', without: [] },
  faults: { kind: 'fault', word: 'fault', without: [] },
  wlans: { kind: 'wlan', word: 'wlan', without: [] },
};

export function thingDossier(store: Store, name: ThingName, survey: number, id: string): ThingDossier | null {
  const row = thingRow(store, name, survey, null, id);
  if (!row) return null;
  return {
    row,
    near: nearOf(store, name, survey, row),
    history: historyOf(store, name, survey, id),
    failing: failingAt(store, name, survey, row, liesAt(name, row)),
  };
}

const term = (field: string, value: unknown) => `${field}=${writtenValue(String(value))}`;

/** What is judged together with a thing: a port is as well as its link, and as what is plugged in. */
function liesAt(name: ThingName, row: MarkedRow): Judged[] {
  if (name !== 'ports') return [];
  const end = (device: string, port: string) => `(${term(device, row.device)} ${term(port, row.name)})`;
  return [
    { thing: 'links', where: `${end('from', 'fromPort')} or ${end('to', 'toPort')}` },
    { thing: 'endpoints', where: end('device', 'port') },
  ];
}

/** The contracts that cover a row. */
function contractsOf(row: MarkedRow): [words: string, thing: ThingName, where: string][] {
  const numbers = (row.coveredBy as string[] | undefined) ?? [];
  return numbers.length === 0
    ? []
    : [['contracts that cover it', 'contracts', numbers.map((number) => term('number', number)).join(' or ')]];
}

/** What one asks next, by thing: words, table, filter. */
function nextQuestions(name: ThingName, row: MarkedRow): [words: string, thing: ThingName, where: string][] {
  const text = (field: string) => String(row[field] ?? '');
  const has = (...fields: string[]) => fields.every((field) => text(field) !== '');
  const elsewhere = (field: string) => `${term(field, row[field])} -${term('device', row.device)}`;
  switch (name) {
    case 'modules':
      return [
        ['what it holds', 'modules', `${term('device', row.device)} ${term('parent', row.path)}`],
        ...(has('model')
          ? [
              [
                `more of model ${text('model')}`,
                'modules',
                `${term('model', row.model)} -${term('path', row.path)}`,
              ] as [string, ThingName, string],
            ]
          : []),
        [`other modules of ${text('device')}`, 'modules', `${term('device', row.device)} -${term('path', row.path)}`],
        ...(has('serial')
          ? [[`the life of ${text('serial')}`, 'ledger', term('serial', row.serial)] as [string, ThingName, string]]
          : []),
        ['faults of it', 'faults', term('part', row.path)],
        ...contractsOf(row),
      ];
    case 'ports':
      return [
        ['endpoints at it', 'endpoints', `${term('device', row.device)} ${term('port', row.name)}`],
        [`other ports of ${text('device')}`, 'ports', `${term('device', row.device)} -${term('name', row.name)}`],
        ...(row.vlan === null
          ? []
          : [[`VLAN ${text('vlan')}`, 'vlans', term('vlan', row.vlan)] as [string, ThingName, string]]),
      ];
    case 'endpoints':
      return [
        ...(has('device', 'port')
          ? [
              [
                'others at this port',
                'endpoints',
                `${term('device', row.device)} ${term('port', row.port)} -${term('mac', row.mac)}`,
              ] as [string, ThingName, string],
            ]
          : []),
        ...(has('maker')
          ? [
              [`others by ${text('maker')}`, 'endpoints', `${term('maker', row.maker)} -${term('mac', row.mac)}`] as [
                string,
                ThingName,
                string,
              ],
            ]
          : []),
        ...((row.addresses as string[])[0]
          ? [
              [
                'faults of its address',
                'faults',
                `subsystem=addresses ${term('part', (row.addresses as string[])[0])}`,
              ] as [string, ThingName, string],
            ]
          : []),
        ['virtual machine with this MAC', 'machines', term('macs', row.mac)],
      ];
    case 'vlans':
      return [
        ['ports that carry it untagged', 'ports', term('vlan', row.vlan)],
        ['ports that carry it tagged', 'ports', term('taggedVlans', row.vlan)],
        ['endpoints in it', 'endpoints', term('vlan', row.vlan)],
        ['wireless networks in it', 'wlans', term('vlan', row.vlan)],
      ];
    case 'addresses':
      return [
        ['endpoints that use it', 'endpoints', term('addresses', row.address)],
        [
          `other addresses of ${text('device')}`,
          'addresses',
          `${term('device', row.device)} -${term('address', row.address)}`,
        ],
      ];
    case 'networks':
      return [
        ['addresses of devices in it', 'addresses', `address:${text('network')}`],
        ['endpoints in it', 'endpoints', `addresses:${text('network')}`],
        ['routes to it', 'routes', term('destination', row.network)],
      ];
    case 'routes':
      return [
        ['the same destination elsewhere', 'routes', elsewhere('destination')],
        ...(has('nextHop')
          ? [
              ['whose address the next hop is', 'addresses', term('address', row.nextHop)] as [
                string,
                ThingName,
                string,
              ],
            ]
          : []),
      ];
    case 'peers':
      return [
        ['how the other end sees it', 'peers', `${term('device', row.peer)} ${term('peer', row.device)}`],
        [`other peers of ${text('device')}`, 'peers', `${term('device', row.device)} -${term('address', row.address)}`],
      ];
    case 'services':
      return [
        ...(has('process')
          ? [[`${text('process')} elsewhere`, 'services', elsewhere('process')] as [string, ThingName, string]]
          : []),
        [`port ${text('port')} elsewhere`, 'services', elsewhere('port')],
      ];
    case 'software':
      return [
        ['the same version elsewhere', 'software', `${elsewhere('name')} ${term('version', row.version)}`],
        ['other versions elsewhere', 'software', `${elsewhere('name')} version!=${writtenValue(text('version'))}`],
      ];
    case 'machines':
      return [
        [
          'the machine as an endpoint',
          'endpoints',
          text('macs')
            .split(/,\s*/)
            .filter(Boolean)
            .map((mac) => term('mac', mac))
            .join(' or ') || 'mac=""',
        ],
        [`other machines on ${text('host')}`, 'machines', `${term('host', row.host)} -${term('name', row.name)}`],
        ...(has('cluster')
          ? [
              [
                `other hosts of cluster ${text('cluster')}`,
                'machines',
                `${term('cluster', row.cluster)} -${term('host', row.host)}`,
              ] as [string, ThingName, string],
            ]
          : []),
        ['its host', 'devices', term('name', row.host)],
      ];
    case 'wlans':
      return [
        ['access points', 'devices', 'role=access-point'],
        ...(row.vlan === null
          ? []
          : ([
              [`VLAN ${text('vlan')}`, 'vlans', term('vlan', row.vlan)],
              ['machines by radio', 'endpoints', `${term('vlan', row.vlan)} via=wireless`],
            ] as [string, ThingName, string][])),
      ];
    case 'faults':
      return [
        [`other faults of ${text('device')}`, 'faults', `${term('device', row.device)} -${term('part', row.part)}`],
        ['the same elsewhere', 'faults', `${term('message', row.message)} -${term('device', row.device)}`],
        ['the part', 'modules', term('path', row.part)],
      ];
    case 'links':
      return [
        [`ports of ${text('from')}`, 'ports', term('device', row.from)],
        [`ports of ${text('to')}`, 'ports', term('device', row.to)],
      ];
    case 'ledger':
      return [['where it is now', 'modules', term('serial', row.serial)], ...contractsOf(row)];
    case 'contracts':
      return [
        ['devices it covers', 'devices', term('coveredBy', row.number)],
        ['serials it covers, with what they hold', 'ledger', term('coveredBy', row.number)],
        ...(Number(row.uncovered) > 0
          ? [
              [
                'of them left without',
                'ledger',
                `${term('coveredBy', row.number)} state="in service" (cover=ending or cover=ended)`,
              ] as [string, ThingName, string],
            ]
          : []),
        ...(has('supplier')
          ? [
              [
                `others of ${text('supplier')}`,
                'contracts',
                `${term('supplier', row.supplier)} -${term('number', row.number)}`,
              ] as [string, ThingName, string],
            ]
          : []),
      ];
    default:
      return [];
  }
}

function nearOf(store: Store, name: ThingName, survey: number, row: MarkedRow): ThingDossier['near'] {
  const tables = tablesOf(store);
  return nextQuestions(name, row).flatMap(([words, thing, where]) => {
    let total = 0;
    for (const fit of tables.select(thing, survey, tables.table(thing, survey, null), where)) total += fit;
    return total > 0 ? [{ words, thing, where, total }] : [];
  });
}

function historyOf(store: Store, name: ThingName, survey: number, id: string): ThingDossier['history'] {
  const calendar = new Calendar(store.db);
  const told = name === 'endpoints' ? endpointHistory(store, survey, id) : partHistory(store, name, survey, id);
  const events = told.map(({ survey: at, ...event }) => ({ at: calendar.momentOf(at), ...event }));
  if (name === 'contracts') return contractEvents(store, Number(id));
  return [...ownEvents(store, name, survey, id), ...events];
}

type Told = { survey: number; words: string; before: string; after: string };

function partHistory(store: Store, name: ThingName, survey: number, id: string): Told[] {
  const kept = versioned[name];
  if (!kept) return [];
  const [, deviceId = '0', key = id] = name === 'links' ? [] : (/^(\d+):(.*)$/s.exec(id) ?? []);
  const versions = factHistory<object>(store.db, kept.kind, Number(deviceId)).filter((version) => version.key === key);
  return versionHistory(versions, survey, new Set(kept.without)).map((event) => wordsOf(event, kept.word));
}

const eventWords = { seen: 'first seen', gone: 'gone', again: 'seen again', changed: '' } as const;

function wordsOf({ survey, kind, field, before, after }: VersionEvent, word: string): Told {
  return {
    survey,
    words: kind === 'changed' ? `${fieldWord(word, field)} changed` : eventWords[kind],
    before: changeValue(word, field, before),
    after: changeValue(word, field, after),
  };
}

/** An endpoint by where it was: a place is a device and a port together. */
function endpointHistory(store: Store, survey: number, mac: string): Told[] {
  const names = tablesOf(store).table('devices', survey, null);
  const nameOf = (deviceId: number | null) =>
    deviceId === null ? '' : String(names.rows([names.rowOf(String(deviceId))])[0]?.name ?? `device ${deviceId}`);
  const versions = tablesOf(store)
    .endpointVersions(mac, survey)
    .map(({ content: { deviceId, port, vlan, via, addresses }, ...rest }) => ({
      ...rest,
      content: {
        place: deviceId === null ? 'place not known' : `${nameOf(deviceId)} ${port ?? ''}`.trim(),
        vlan,
        via,
        addresses,
      },
    }));
  return versionHistory(versions, survey).map((event) =>
    event.field === 'place'
      ? { survey: event.survey, words: 'moved', before: String(event.before), after: String(event.after) }
      : wordsOf(event, 'endpoint'),
  );
}

/** What people wrote at a port or an endpoint, when the newest survey is looked at. */
function ownEvents(store: Store, name: ThingName, survey: number, id: string): ThingDossier['history'] {
  if ((name !== 'ports' && name !== 'endpoints') || survey < latestSealed(store.db)) return [];
  const thing: OwnedThing = name;
  const labels = new Map(
    readOwnFields(store.db)
      .filter((field) => field.thing === thing)
      .map((field) => [field.name, field.label]),
  );
  return ownHistory(store.db, thing, id).map(({ at, who, field, before, after }) => ({
    at,
    words: `${labels.get(field) ?? field} written by ${who}`,
    before: ownValueText(before),
    after: ownValueText(after),
  }));
}

/** What people made of a contract. */
function contractEvents(store: Store, id: number): ThingDossier['history'] {
  return contractHistory(store.db, id).flatMap(({ at, who, before, after }) => {
    if (!before || !after) return [{ at, words: `${before ? 'deleted' : 'entered'} by ${who}`, before: '', after: '' }];
    return contractDifference({ before, after }).map(({ field, ...change }) => ({
      at,
      words: `${field} written by ${who}`,
      ...change,
    }));
  });
}
