import { rhythmOf } from '../../core/flow/rhythm';
import { endsOfConversation } from '../../core/flow/talk';
import { everyRow, valueAt } from '../../core/tables/column';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Db, Store } from '../../store/base/database';
import { talkHours } from '../../store/talk/hearings';
import type { ThingRow } from '../query/rows/thingRow';
import type { ConversationsTable } from '../query/tables/conversationsTable';
import { tablesOf } from '../query/tables/estateTables';

/** One process on one host, with all it listens on. */
export interface ServiceInstance {
  deviceId: number;
  device: string;
  site: string;
  process: string;
  path: string;
  arguments: string;
  package: string;
  version: string;
  knownBy: string;
  listeners: string[];
  isLocal: boolean;
  /** how many conversations there are with it */
  clients: number;
  /** those heard last */
  newest: ServiceClient[];
}

export interface ServiceClient {
  name: string;
  deviceId: number | null;
  process: string;
  port: number;
  protocol: string;
  conversation: string;
  firstSeen: string;
  lastSeen: string;
  /** when it is heard, in words, where it was not heard for some days: “always on the 3rd, at 02:00” */
  rhythm: string;
}

/** What is the same service, wherever it runs: by the rule that knows it, else by its process, else by its port. */
export interface ServiceGroup {
  id: string;
  name: string;
  kind: string;
  publisher: string;
  category: string;
  instances: ServiceInstance[];
  clients: number;
}

/** Services, those that no rule explains first, then those that most ask. */
export function serviceGroups(store: Store, survey: number): { rows: ServiceGroup[]; total: number } {
  const listeners = tablesOf(store).table('services', survey, null);
  const groups = new Map<string, ServiceGroup>();
  const byListener = new Map<string, ServiceInstance>();
  for (const row of listeners.rows(everyRow(listeners.size))) {
    const text = (field: string) => String(row[field] ?? '');
    const place = `${text('protocol')}/${text('port')}`;
    const name = text('service') || text('process') || place;
    const id = text('knownBy').split(': ').at(-1) || `process ${name}`;
    const group = groups.get(id) ?? {
      id,
      name,
      kind: text('kind'),
      publisher: text('publisher'),
      category: text('category'),
      instances: [],
      clients: 0,
    };
    groups.set(id, group);
    const deviceId = Number(row.deviceId);
    const process = text('process');
    const isLocal = text('address') === '::1' || text('address').startsWith('127.');
    let instance = group.instances.find(
      (one) => one.deviceId === deviceId && (process ? one.process === process : one.listeners.includes(place)),
    );
    if (!instance) {
      instance = {
        deviceId,
        device: text('device'),
        site: text('site'),
        process,
        path: text('path'),
        arguments: text('arguments'),
        package: text('package'),
        version: text('version'),
        knownBy: text('knownBy'),
        listeners: [],
        isLocal: true,
        clients: 0,
        newest: [],
      };
      group.instances.push(instance);
    }
    if (!instance.listeners.includes(place)) instance.listeners.push(place);
    if (!isLocal) instance.isLocal = false;
    byListener.set(`${deviceId} ${place}`, instance);
  }
  countClients(store.db, tablesOf(store).talk(survey), byListener);
  const rows = [...groups.values()].map((group) => ({
    ...group,
    clients: group.instances.reduce((sum, { clients }) => sum + clients, 0),
  }));
  rows.sort(
    (x, y) =>
      Number(x.kind !== '') - Number(y.kind !== '') || y.clients - x.clients || compareNaturally(x.name, y.name),
  );
  return { rows, total: rows.length };
}

const mostNewest = 40;
const quietDays = 2;
const dayMs = 86_400_000;

function rhythmOfRow(db: Db, row: ThingRow): string {
  const ends = endsOfConversation(row.id);
  return ends ? rhythmOf(talkHours(db, ends.client, ends.server, ends.port, ends.protocol)) : '';
}

/** Counts with whom each listener talks, and tells those heard last. */
function countClients(db: Db, table: ConversationsTable, byListener: ReadonlyMap<string, ServiceInstance>): void {
  const servers = table.devicesAt('server');
  const [protocols, ports] = [table.column('protocol'), table.column('port')];
  const width = protocols.dictionary.size * ports.dictionary.size;
  const known = new Map<number, ServiceInstance | undefined>();
  const rows = new Map<ServiceInstance, number[]>();
  for (let row = 0; row < table.size; row++) {
    const server = servers[row] ?? 0;
    if (server === 0) continue;
    const place = (protocols.codes[row] ?? 0) * ports.dictionary.size + (ports.codes[row] ?? 0);
    const key = server * width + place;
    let instance = known.get(key);
    if (instance === undefined && !known.has(key))
      known.set(
        key,
        (instance = byListener.get(`${server} ${String(valueAt(protocols, row))}/${Number(valueAt(ports, row))}`)),
      );
    if (!instance) continue;
    const own = rows.get(instance);
    if (own) own.push(row);
    else rows.set(instance, [row]);
  }
  const last = table.lastSeconds();
  // what was heard yesterday is still there; what was not may be heard once a month
  const quietSince = (table.lastDay() - quietDays) * dayMs;
  const isQuiet = (row: ThingRow) => Date.parse(String(row.lastSeen)) < quietSince;
  for (const [instance, own] of rows) {
    instance.clients = own.length;
    const newest = own.sort((x, y) => (last[y] ?? 0) - (last[x] ?? 0)).slice(0, mostNewest);
    instance.newest = table.rows(newest).map((row) => {
      const client = row.client as { deviceId: number | null; process: string };
      return {
        name: String(row.clientName),
        deviceId: client.deviceId,
        process: client.process,
        port: Number(row.port),
        protocol: String(row.protocol),
        conversation: row.id,
        firstSeen: String(row.firstSeen),
        lastSeen: String(row.lastSeen),
        rhythm: isQuiet(row) ? rhythmOfRow(db, row) : '',
      };
    });
  }
}
