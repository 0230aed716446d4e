import type { Talk } from '../../core/flow/talk';
import type { Db } from '../base/database';
import { inTransaction } from '../base/database';
import { statements } from '../base/statements';
import { HearingWriter } from './conversations';

const of = statements(({ $client }) => ({
  known: $client.prepare<[string], { id: number }>('select id from capture where digest = ?'),
  begin: $client.prepare<[string, string, string, string]>(
    `insert into capture (point, file, digest, taken_at, is_whole, packets, passed_over, broken_off) values (?, ?, ?, ?, 0, 0, 0, '')`,
  ),
  grow: $client.prepare<[number, number, number, number, number]>(
    'update capture set is_whole = 1, packets = packets + ?, first_seen = min(coalesce(first_seen, ?), ?), last_seen = max(coalesce(last_seen, 0), ?) where id = ?',
  ),
  markBatch: $client.prepare<[string, string]>('insert or ignore into talk_batch (id, at) values (?, ?)'),
  forgetBatches: $client.prepare<[string]>('delete from talk_batch where at < ?'),
}));

/** Some talk is written whole or not at all. */
export const rowsAtOnce = 2000;

/** Adds what an exporter counted to what it counted that day before, some thousand rows at a time, each lot whole or not at all: a day of an exporter is one capture. */
export function mergeTalk(db: Db, exporter: string, talks: readonly Talk[], at: Date): void {
  for (let from = 0; from < talks.length; from += rowsAtOnce)
    inTransaction(db, () => {
      for (const [day, some] of byDay(talks.slice(from, from + rowsAtOnce)))
        addTalks(db, exporter, 'flows', day, some, at);
    });
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
  const { known, begin, grow } = of(db);
  const digest = `${kind} ${point} ${day}`;
  const id =
    known.get(digest)?.id ??
    Number(begin.run(point, `${dayWords[kind]} ${day}`, digest, at.toISOString()).lastInsertRowid);
  let packets = 0;
  let [first, last] = [Infinity, 0];
  const writer = new HearingWriter(db);
  for (const one of talks) {
    writer.hearMore(id, one);
    packets += Math.round(one.packets.toServer + one.packets.toClient);
    first = Math.min(first, one.firstSeen);
    last = Math.max(last, one.lastSeen);
  }
  grow.run(packets, first, first, last, id);
}
