import type { Circle, TalkingHost } from '../../../core/dependency/circle';
import { circlesInSteps, type AskedPort, type AskedTalk, type Circles } from '../../../core/dependency/circles';
import type { ServiceKind } from '../../../core/services/serviceRule';
import { rowsInStep, type Steps } from '../../../core/steps';
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
function* askingIn(table: ConversationsTable, listeners: ColumnSource): Steps<Asking> {
  const hosts: TalkingHost[] = [];
  const [byDevice, byAddress] = [new Map<number, number>(), new Map<number, number>()];
  function* hostsAt(end: 'client' | 'server'): Steps<Uint32Array> {
    const [devices, addresses] = [table.devicesAt(end), table.column(`${end}Address`)];
    yield;
    const [names, sites] = [table.column(`${end}Name`), table.column(`${end}Site`)];
    yield;
    const found = new Uint32Array(table.size);
    for (let row = 0; row < found.length; row++) {
      if (row % rowsInStep === rowsInStep - 1) yield;
      const device = devices[row] ?? 0;
      const [known, key] = device > 0 ? [byDevice, device] : [byAddress, addresses.codes[row] ?? 0];
      let host = known.get(key);
      if (host === undefined) {
        const id = device > 0 ? String(device) : String(valueAt(addresses, row));
        known.set(key, (host = hosts.length));
        hosts.push({ id, name: String(valueAt(names, row)), site: String(valueAt(sites, row)) });
      }
      found[row] = host;
    }
    return found;
  }
  const client = yield* hostsAt('client');
  const server = yield* hostsAt('server');
  const serviceAt = servicesOf(listeners);
  const ports: AskedPort[] = [];
  const known = new Map<number, number>();
  const [numbers, protocols] = [table.column('port'), table.column('protocol')];
  const width = numbers.dictionary.size * protocols.dictionary.size;
  const port = new Uint32Array(table.size);
  for (let row = 0; row < port.length; row++) {
    if (row % rowsInStep === rowsInStep - 1) yield;
    const host = server[row] ?? 0;
    const key = host * width + (numbers.codes[row] ?? 0) * protocols.dictionary.size + (protocols.codes[row] ?? 0);
    let place = known.get(key);
    if (place === undefined) {
      const [protocol, number] = [String(valueAt(protocols, row)), Number(valueAt(numbers, row))];
      const { service = '', kind = '' } = serviceAt.get(`${hosts[host]?.id} ${protocol}/${number}`) ?? {};
      known.set(key, (place = ports.length));
      ports.push({ host, protocol, port: number, service, kind });
    }
    port[row] = place;
  }
  yield;
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
 * Circles as of a survey, and what is set apart, a step at a time: over millions of conversations it takes long, and others are answered meanwhile.
 * Those of earlier surveys are those of the talk that had begun by then, each begun from the one before: so a circle is the same one from survey to survey.
 */
export function* circleSteps(
  db: Db,
  survey: number,
  table: ConversationsTable,
  listeners: ColumnSource,
): Steps<Circles> {
  const { hosts, ports, talk, since } = yield* askingIn(table, listeners);
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
    let kept = known.get(at);
    if (!kept) {
      const rows = begunBy(since, Date.parse(calendar.momentOf(at)) / 1000);
      yield;
      kept = (yield* circlesInSteps(hosts, ports, someOf(talk, rows), before)).circles;
      known.set(at, kept);
    }
    before = kept;
  }
  yield;
  const found = yield* circlesInSteps(hosts, ports, talk, before);
  // the newest that is kept as it was shown is where the next survey begins
  known.set(survey, found.circles);
  for (const old of [...known.keys()].slice(0, Math.max(0, known.size - mostKept))) known.delete(old);
  return found;
}

/** Rows of what was heard first up to a moment. */
function begunBy(since: Float64Array, moment: number): Uint32Array {
  const rows = new Uint32Array(since.length);
  let size = 0;
  for (let row = 0; row < since.length; row++) if ((since[row] ?? 0) <= moment) rows[size++] = row;
  return rows.subarray(0, size);
}

function someOf(talk: AskedTalk, rows: Uint32Array): AskedTalk {
  const [client, port] = [new Uint32Array(rows.length), new Uint32Array(rows.length)];
  const [events, bytes] = [new Float64Array(rows.length), new Float64Array(rows.length)];
  for (let at = 0; at < rows.length; at++) {
    const row = rows[at] ?? 0;
    client[at] = talk.client[row] ?? 0;
    port[at] = talk.port[row] ?? 0;
    events[at] = talk.events[row] ?? 0;
    bytes[at] = talk.bytes[row] ?? 0;
  }
  return { client, port, events, bytes };
}

/** Hosts that belong together because they talk, as a table. */
export const circles: Builder = ({ circles: made }) =>
  made().circles.map(({ id, name, hosts, services, conversations, bytes, inside }) => ({
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
  }));
