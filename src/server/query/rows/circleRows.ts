import type { Circle, TalkingHost } from '../../../core/dependency/circle';
import { circlesOf, type AskedPort, type AskedTalk, type Circles } from '../../../core/dependency/circles';
import type { ServiceKind } from '../../../core/services/serviceRule';
import { valueAt, type ColumnSource } from '../../../core/tables/column';
import type { Db } from '../../../store/base/database';
import { Calendar } from '../calendar';
import type { ConversationsTable } from '../tables/conversationsTable';
import type { Builder } from './rowBuilder';

/** So many surveys back circles are followed, so that they keep their names. */
const mostFollowed = 6;

interface Asking {
  hosts: TalkingHost[];
  ports: AskedPort[];
  talk: AskedTalk;
  /** by row: when it was heard first, in seconds since the epoch */
  since: Float64Array;
}

/** Who talks to whom, host by host: by its number where a device is known, else by its address. */
function askingIn(table: ConversationsTable, listeners: ColumnSource): Asking {
  const hosts: TalkingHost[] = [];
  const [byDevice, byAddress] = [new Map<number, number>(), new Map<number, number>()];
  const hostsAt = (end: 'client' | 'server'): Uint32Array => {
    const [devices, addresses] = [table.devicesAt(end), table.column(`${end}Address`)];
    const [names, sites] = [table.column(`${end}Name`), table.column(`${end}Site`)];
    return Uint32Array.from({ length: table.size }, (_, row) => {
      const device = devices[row] ?? 0;
      const [known, key] = device > 0 ? [byDevice, device] : [byAddress, addresses.codes[row] ?? 0];
      let host = known.get(key);
      if (host === undefined) {
        const id = device > 0 ? String(device) : String(valueAt(addresses, row));
        known.set(key, (host = hosts.length));
        hosts.push({ id, name: String(valueAt(names, row)), site: String(valueAt(sites, row)) });
      }
      return host;
    });
  };
  const [client, server] = [hostsAt('client'), hostsAt('server')];
  const serviceAt = servicesOf(listeners);
  const ports: AskedPort[] = [];
  const known = new Map<number, number>();
  const [numbers, protocols] = [table.column('port'), table.column('protocol')];
  const width = numbers.dictionary.size * protocols.dictionary.size;
  const port = Uint32Array.from({ length: table.size }, (_, row) => {
    const host = server[row] ?? 0;
    const key = host * width + (numbers.codes[row] ?? 0) * protocols.dictionary.size + (protocols.codes[row] ?? 0);
    let place = known.get(key);
    if (place === undefined) {
      const [protocol, number] = [String(valueAt(protocols, row)), Number(valueAt(numbers, row))];
      const { service = '', kind = '' } = serviceAt.get(`${hosts[host]?.id} ${protocol}/${number}`) ?? {};
      known.set(key, (place = ports.length));
      ports.push({ host, protocol, port: number, service, kind });
    }
    return place;
  });
  return {
    hosts,
    ports,
    talk: { client, port, events: table.weights(), bytes: table.octets() },
    since: table.firstSeconds(),
  };
}

function servicesOf(listeners: ColumnSource): Map<string, { service: string; kind: ServiceKind | '' }> {
  const known = new Map<string, { service: string; kind: ServiceKind | '' }>();
  if (listeners.size === 0) return known;
  const text = (field: string) => {
    const column = listeners.column(field);
    return (row: number) => String(valueAt(column, row) ?? '');
  };
  const [device, protocol, port, service, kind] = ['deviceId', 'protocol', 'port', 'service', 'kind'].map(text);
  for (let row = 0; row < listeners.size; row++)
    known.set(`${device?.(row)} ${protocol?.(row)}/${port?.(row)}`, {
      service: service?.(row) ?? '',
      kind: (kind?.(row) ?? '') as ServiceKind | '',
    });
  return known;
}

/** Beyond so many conversations only one survey back is followed. */
const manyTalks = 500_000;
/** Surveys whose circles stay in memory. */
const mostKept = 12;
const earlier = new WeakMap<Db, Map<number, Circle[]>>();

/**
 * Circles as of a survey, and what is set apart. Those of earlier surveys are those of the talk that had begun by then, each begun from the one before: so a circle is the same one from survey to survey.
 */
export function circlesAt(db: Db, survey: number, table: ConversationsTable, listeners: ColumnSource): Circles {
  const { hosts, ports, talk, since } = askingIn(table, listeners);
  const known = earlier.get(db) ?? new Map<number, Circle[]>();
  earlier.set(db, known);
  const calendar = new Calendar(db);
  const way: number[] = [];
  const most = table.size > manyTalks ? 1 : mostFollowed;
  for (let at = calendar.comparable(survey); at > 0 && way.length < most; at = calendar.comparable(at)) {
    way.push(at);
    if (known.has(at)) break;
  }
  let before: Circle[] = [];
  for (const at of way.reverse()) {
    const kept = known.get(at);
    if (!kept) {
      const moment = Date.parse(calendar.momentOf(at)) / 1000;
      const rows = talk.client.map((_, row) => row).filter((row) => (since[row] ?? 0) <= moment);
      known.set(at, circlesOf(hosts, ports, someOf(talk, rows), before).circles);
    }
    before = kept ?? known.get(at) ?? [];
  }
  const found = circlesOf(hosts, ports, talk, before);
  // the newest that is kept as it was shown is where the next survey begins
  known.set(survey, found.circles);
  for (const old of [...known.keys()].slice(0, Math.max(0, known.size - mostKept))) known.delete(old);
  return found;
}

const someOf = ({ client, port, events, bytes }: AskedTalk, rows: Uint32Array): AskedTalk => ({
  client: rows.map((row) => client[row] ?? 0),
  port: rows.map((row) => port[row] ?? 0),
  events: Float64Array.from(rows, (row) => events[row] ?? 0),
  bytes: Float64Array.from(rows, (row) => bytes[row] ?? 0),
});

/** Hosts that belong together because they talk, as a table. */
export const circles: Builder = ({ db, survey, talk }, other) =>
  circlesAt(db, survey, talk(), other('services')).circles.map(
    ({ id, name, hosts, services, conversations, bytes, inside }) => ({
      id,
      name,
      hosts: hosts.map((host) => host.name),
      hostIds: hosts.map((host) => host.id),
      hostCount: hosts.length,
      sites: [...new Set(hosts.map(({ site }) => site).filter(Boolean))].sort(),
      services,
      conversations,
      bytes,
      insidePercent: Math.round(100 * inside),
    }),
  );
