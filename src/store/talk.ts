import type { ServerBasis, Talk } from '../core/flow/talk';
import type { Db } from './base/database';
import { inTransaction } from './base/database';
import { statements } from './base/statements';

/** A capture whose talk is written: what it is called, and what was seen of it. */
export interface TakenCapture {
  point: string;
  file: string;
  digest: string;
  packets: number;
  passedOver: number;
  firstSeen: number | null;
  lastSeen: number | null;
  /** why it could not be read to its end; empty where it could */
  brokenOff: string;
}

export interface KeptCapture extends TakenCapture {
  id: number;
  takenAt: string;
}

const rowsAtOnce = 2000;

const of = statements(({ $client }) => ({
  known: $client.prepare<[string], { id: number; isWhole: 0 | 1 }>(
    'select id, is_whole as isWhole from capture where digest = ?',
  ),
  begin: $client.prepare<[string, string, string, string]>(
    `insert into capture (point, file, digest, taken_at, is_whole, packets, passed_over, broken_off) values (?, ?, ?, ?, 0, 0, 0, '')`,
  ),
  end: $client.prepare<[number, number, number | null, number | null, string, number]>(
    'update capture set packets = ?, passed_over = ?, first_seen = ?, last_seen = ?, broken_off = ?, is_whole = 1 where id = ?',
  ),
  keep: $client.prepare<[number, string, string, number, number, string, ...number[], string]>(
    `insert into talk (capture_id, client, server, port, protocol, basis, events, packets_to_server, packets_to_client, octets_to_server, octets_to_client, first_seen, last_seen, hours)
     values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
  ),
  dropSome: $client.prepare<[number, number]>(
    'delete from talk where rowid in (select rowid from talk where capture_id = ? limit ?)',
  ),
  sameTalk: $client.prepare<[number, string, string, number, number], { hours: string }>(
    'select hours from talk where capture_id = ? and client = ? and server = ? and port = ? and protocol = ?',
  ),
  addTo: $client.prepare<[string, ...number[], string, number, string, string, number, number]>(
    `update talk set basis = ?, events = events + ?, packets_to_server = packets_to_server + ?, packets_to_client = packets_to_client + ?,
       octets_to_server = octets_to_server + ?, octets_to_client = octets_to_client + ?, first_seen = min(first_seen, ?), last_seen = max(last_seen, ?), hours = ?
     where capture_id = ? and client = ? and server = ? and port = ? and protocol = ?`,
  ),
  grow: $client.prepare<[number, number, number, number, number]>(
    'update capture set is_whole = 1, packets = packets + ?, first_seen = min(coalesce(first_seen, ?), ?), last_seen = max(coalesce(last_seen, 0), ?) where id = ?',
  ),
  markBatch: $client.prepare<[string, string]>('insert or ignore into talk_batch (id, at) values (?, ?)'),
  forgetBatches: $client.prepare<[string]>('delete from talk_batch where at < ?'),
  dropCapture: $client.prepare<[number]>('delete from capture where id = ?'),
  newest: $client.prepare<[], { stamp: string }>(
    `select coalesce(max(id), 0) || ' ' || count(*) || ' ' || total(packets) as stamp from capture where is_whole`,
  ),
  all: $client.prepare<[], KeptCapture>(
    `select id, point, file, digest, taken_at as takenAt, packets, passed_over as passedOver, first_seen as firstSeen, last_seen as lastSeen, broken_off as brokenOff
     from capture where is_whole order by id`,
  ),
  hoursOf: $client.prepare<[string, string, number, number], { hours: string }>(
    `select hours from talk join capture on capture.id = capture_id
     where is_whole and client = ? and server = ? and port = ? and protocol = ?`,
  ),
  talks: $client.prepare<[number], StoredTalk>(
    `select point, client, server, port, protocol, basis, events, packets_to_server as packetsToServer, packets_to_client as packetsToClient,
       octets_to_server as octetsToServer, octets_to_client as octetsToClient, talk.first_seen as firstSeen, talk.last_seen as lastSeen, hours
     from talk join capture on capture.id = capture_id
     where is_whole and talk.first_seen <= ?`,
  ),
}));

export interface StoredTalk {
  point: string;
  client: string;
  server: string;
  port: number;
  protocol: number;
  basis: ServerBasis;
  events: number;
  packetsToServer: number;
  packetsToClient: number;
  octetsToServer: number;
  octetsToClient: number;
  firstSeen: number;
  lastSeen: number;
  /** JSON */
  hours: string;
}

/** Whether a file was taken in before, by the digest of its octets. */
export const isTakenIn = (db: Db, digest: string): boolean => of(db).known.get(digest)?.isWhole === 1;

/**
 * Writes what a capture told, some thousand rows at a time, so that nobody waits long. It counts once all of it stands there: whatever was left of an attempt that was broken off goes first.
 * @returns null where the same file was taken in before
 */
export function keepCapture(db: Db, taken: TakenCapture, talks: readonly Talk[], at: Date): KeptCapture | null {
  const { known, begin, end, keep } = of(db);
  const before = known.get(taken.digest);
  if (before?.isWhole) return null;
  if (before) dropCapture(db, before.id);
  const takenAt = at.toISOString();
  const id = Number(begin.run(taken.point, taken.file, taken.digest, takenAt).lastInsertRowid);
  for (let from = 0; from < talks.length; from += rowsAtOnce)
    inTransaction(db, () => {
      for (const one of talks.slice(from, from + rowsAtOnce))
        keep.run(
          id,
          one.client,
          one.server,
          one.port,
          one.protocol,
          one.basis,
          one.events,
          one.packets.toServer,
          one.packets.toClient,
          one.octets.toServer,
          one.octets.toClient,
          one.firstSeen,
          one.lastSeen,
          JSON.stringify(one.hours),
        );
    });
  end.run(taken.packets, taken.passedOver, taken.firstSeen, taken.lastSeen, taken.brokenOff, id);
  return { ...taken, id, takenAt };
}

/** Adds what an exporter counted to what it counted that day before: a day of an exporter is one capture. */
export function mergeTalk(db: Db, exporter: string, talks: readonly Talk[], at: Date): void {
  for (const [day, some] of byDay(talks))
    for (let from = 0; from < some.length; from += rowsAtOnce)
      inTransaction(db, () => addTalks(db, exporter, 'flows', day, some.slice(from, from + rowsAtOnce), at));
}

/**
 * Adds what an agent at a host or a mirror port counted, once however often it arrives: all of it or nothing.
 * @returns whether it had arrived before
 */
export function mergeBatch(db: Db, id: string, point: string, talks: readonly Talk[], at: Date): boolean {
  return inTransaction(db, () => {
    if (of(db).markBatch.run(id, at.toISOString()).changes === 0) return true;
    for (const [day, some] of byDay(talks)) addTalks(db, point, 'live', day, some, at);
    return false;
  });
}

/** Batches that arrived before a moment are not sent again: what was known of them may go. */
export const forgetBatches = (db: Db, before: string): number => of(db).forgetBatches.run(before).changes;

function byDay(talks: readonly Talk[]): Map<string, Talk[]> {
  const found = new Map<string, Talk[]>();
  for (const one of talks) {
    const day = new Date(one.lastSeen * 1000).toISOString().slice(0, 10);
    const own = found.get(day);
    if (own) own.push(one);
    else found.set(day, [one]);
  }
  return found;
}

const dayWords = { flows: 'flows of', live: 'heard live on' } as const;

/** Adds talk to the capture that a day of a point is. */
function addTalks(
  db: Db,
  point: string,
  kind: keyof typeof dayWords,
  day: string,
  talks: readonly Talk[],
  at: Date,
): void {
  const { known, begin, grow, keep, sameTalk, addTo } = of(db);
  const digest = `${kind} ${point} ${day}`;
  const id =
    known.get(digest)?.id ??
    Number(begin.run(point, `${dayWords[kind]} ${day}`, digest, at.toISOString()).lastInsertRowid);
  let packets = 0;
  let [first, last] = [Infinity, 0];
  for (const one of talks) {
    const { client, server, port, protocol } = one;
    const counts = [
      one.events,
      one.packets.toServer,
      one.packets.toClient,
      one.octets.toServer,
      one.octets.toClient,
      one.firstSeen,
      one.lastSeen,
    ].map((value, nth) => (nth < 5 ? Math.round(value) : value));
    const before = sameTalk.get(id, client, server, port, protocol);
    if (before) {
      const hours = [...new Set([...(JSON.parse(before.hours) as number[]), ...one.hours])].sort((x, y) => x - y);
      addTo.run(one.basis, ...counts, JSON.stringify(hours), id, client, server, port, protocol);
    } else keep.run(id, client, server, port, protocol, one.basis, ...counts, JSON.stringify(one.hours));
    packets += Math.round(one.packets.toServer + one.packets.toClient);
    first = Math.min(first, one.firstSeen);
    last = Math.max(last, one.lastSeen);
  }
  grow.run(packets, first, first, last, id);
}

/** Takes a capture away, with all it told. */
export function dropCapture(db: Db, id: number): void {
  const { dropSome, dropCapture: drop } = of(db);
  while (dropSome.run(id, rowsAtOnce).changes > 0);
  drop.run(id);
}

export const readCaptures = (db: Db): KeptCapture[] => of(db).all.all();

/** What is another whenever a capture was taken in or away, and whenever more came of one. */
export const captureStamp = (db: Db): string => of(db).newest.get()?.stamp ?? '';

/** All that whole captures told and that began until a moment, in seconds since the epoch. */
export const talksUntil = (db: Db, moment: number): IterableIterator<StoredTalk> => of(db).talks.iterate(moment);

/** Hours since the epoch (UTC) in which anything of a conversation was heard, by whatever capture, in order. */
export function talkHours(db: Db, client: string, server: string, port: number, protocol: number): number[] {
  const all = of(db)
    .hoursOf.all(client, server, port, protocol)
    .flatMap(({ hours }) => JSON.parse(hours) as number[]);
  return [...new Set(all)].sort((x, y) => x - y);
}
