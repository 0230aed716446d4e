import { everyRow } from '../../core/tables/column';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/base/database';
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
  clients: ServiceClient[];
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
  const rowsOf = (thing: 'services' | 'conversations') => {
    const table = tablesOf(store).table(thing, survey, null);
    return table.rows(everyRow(table.size));
  };
  const groups = new Map<string, ServiceGroup>();
  const byListener = new Map<string, ServiceInstance>();
  for (const row of rowsOf('services')) {
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
        clients: [],
      };
      group.instances.push(instance);
    }
    if (!instance.listeners.includes(place)) instance.listeners.push(place);
    if (!isLocal) instance.isLocal = false;
    byListener.set(`${deviceId} ${place}`, instance);
  }
  for (const row of rowsOf('conversations')) {
    const { client, server } = row as unknown as {
      client: { deviceId: number | null; process: string };
      server: { deviceId: number | null };
    };
    const instance = byListener.get(`${server.deviceId} ${String(row.protocol)}/${Number(row.port)}`);
    instance?.clients.push({
      name: String(row.clientName),
      deviceId: client.deviceId,
      process: client.process,
      port: Number(row.port),
      protocol: String(row.protocol),
      conversation: row.id,
      firstSeen: String(row.firstSeen),
      lastSeen: String(row.lastSeen),
    });
  }
  const rows = [...groups.values()].map((group) => ({
    ...group,
    clients: group.instances.reduce((sum, { clients }) => sum + clients.length, 0),
  }));
  rows.sort(
    (x, y) =>
      Number(x.kind !== '') - Number(y.kind !== '') || y.clients - x.clients || compareNaturally(x.name, y.name),
  );
  return { rows, total: rows.length };
}
