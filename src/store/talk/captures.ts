import type { Talk } from '../../core/flow/talk';
import type { Db } from '../base/database';
import { inTransaction } from '../base/database';
import { statements } from '../base/statements';
import { HearingWriter } from './conversations';

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
  hide: $client.prepare<[number]>(
    "update capture set is_whole = 0, digest = 'going ' || id where id = ? and digest <> 'going ' || id",
  ),
  going: $client.prepare<[], { id: number }>("select id from capture where digest glob 'going *' limit 1"),
  dropSome: $client
    .prepare<[number, number], number>(
      `delete from heard where (conversation_id, capture_id) in (select conversation_id, capture_id from heard where capture_id = ? limit ?) returning conversation_id`,
    )
    .pluck(),
  dropSilent: $client.prepare<[string]>(
    `delete from conversation where id in (select value from json_each(?)) and not exists (select 1 from heard where conversation_id = conversation.id)`,
  ),
  dropCapture: $client.prepare<[number]>('delete from capture where id = ?'),
  countDropped: $client.prepare<[]>(
    `insert into setting (key, value) values ('capturesDropped', 1) on conflict (key) do update set value = value + 1`,
  ),
  dropped: $client.prepare<[], { value: number }>(`select value from setting where key = 'capturesDropped'`),
  newest: $client.prepare<[], { stamp: string }>(
    `select coalesce(max(id), 0) || ' ' || count(*) || ' ' || total(packets) as stamp from capture where is_whole`,
  ),
  begunBy: $client.prepare<[number], { count: number }>(
    'select count(*) as count from capture where is_whole and first_seen <= ?',
  ),
  all: $client.prepare<[], KeptCapture>(
    `select id, point, file, digest, taken_at as takenAt, packets, passed_over as passedOver, first_seen as firstSeen, last_seen as lastSeen, broken_off as brokenOff
     from capture where is_whole order by id`,
  ),
}));

/** Whether a file was taken in before, by the digest of its octets. */
export const isTakenIn = (db: Db, digest: string): boolean => of(db).known.get(digest)?.isWhole === 1;

/**
 * Writes what a capture told, some thousand rows at a time, so that nobody waits long. It counts once all of it stands there: whatever was left of an attempt that was broken off goes first.
 * @returns null where the same file was taken in before
 */
export function keepCapture(db: Db, taken: TakenCapture, talks: readonly Talk[], at: Date): KeptCapture | null {
  const { known, begin, end } = of(db);
  const before = known.get(taken.digest);
  if (before?.isWhole) return null;
  if (before) dropCapture(db, before.id);
  const takenAt = at.toISOString();
  const id = Number(begin.run(taken.point, taken.file, taken.digest, takenAt).lastInsertRowid);
  for (let from = 0; from < talks.length; from += rowsAtOnce)
    inTransaction(db, () => {
      const writer = new HearingWriter(db);
      for (const one of talks.slice(from, from + rowsAtOnce)) writer.hear(id, one);
    });
  end.run(taken.packets, taken.passedOver, taken.firstSeen, taken.lastSeen, taken.brokenOff, id);
  return { ...taken, id, takenAt };
}

/** Takes a capture away: what it told counts no more from now on, and goes some thousand rows at a time. */
export function dropCapture(db: Db, id: number): void {
  const { hide, countDropped } = of(db);
  inTransaction(db, () => {
    if (hide.run(id).changes > 0) countDropped.run();
  });
}

const lotsAtOnce = 20;

/** Takes away some of what captures told that are gone, and conversations of which nothing is left. @returns how many rows went: where some did, there may be more */
export function clearSomeTalk(db: Db): number {
  const { going, dropSome, dropSilent, dropCapture: drop } = of(db);
  const gone = going.get();
  if (!gone) return 0;
  let cleared = 0;
  for (let lot = 0; lot < lotsAtOnce; lot++) {
    const some = inTransaction(db, () => {
      const conversations = dropSome.all(gone.id, rowsAtOnce);
      dropSilent.run(JSON.stringify(conversations));
      return conversations.length;
    });
    cleared += some;
    if (some === 0) return cleared + drop.run(gone.id).changes;
  }
  return cleared;
}

/** How many captures were taken away so far: what they told counts no more. */
export const capturesDropped = (db: Db): number => of(db).dropped.get()?.value ?? 0;

/** How many captures have anything from before a moment, in seconds since the epoch. */
export const capturesBegunBy = (db: Db, seconds: number): number => of(db).begunBy.get(seconds)?.count ?? 0;

export const readCaptures = (db: Db): KeptCapture[] => of(db).all.all();

/** What is another whenever a capture was taken in or away, and whenever more came of one. */
export const captureStamp = (db: Db): string => of(db).newest.get()?.stamp ?? '';
