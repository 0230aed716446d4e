import type { Db } from '../base/database';
import { inTransaction } from '../base/database';
import { statements } from '../base/statements';
import { dropCapture } from './captures';

const rowsAtOnce = 2000;
/** Lots that are moved in one go: between two of them others write. */
const lotsAtOnce = 5;

interface DayCapture {
  id: number;
  point: string;
  digest: string;
  packets: number;
  firstSeen: number;
  lastSeen: number;
}

const of = statements(({ $client }) => ({
  // days of exporters and agents are told by their digests, files by theirs
  oldDay: $client.prepare<[number], DayCapture>(
    `select id, point, digest, packets, first_seen as firstSeen, last_seen as lastSeen from capture
     where is_whole and last_seen < ? and (digest glob 'flows * ????-??-??' or digest glob 'live * ????-??-??') order by last_seen limit 1`,
  ),
  month: $client.prepare<[string], { id: number }>('select id from capture where digest = ?'),
  beginMonth: $client.prepare<[string, string, string, string, number, number]>(
    `insert into capture (point, file, digest, taken_at, is_whole, packets, passed_over, broken_off, first_seen, last_seen) values (?, ?, ?, ?, 1, 0, 0, '', ?, ?)`,
  ),
  growMonth: $client.prepare<[number, number, number, number]>(
    'update capture set packets = packets + ?, first_seen = min(first_seen, ?), last_seen = max(last_seen, ?) where id = ?',
  ),
  both: $client.prepare<[number, number, number], { conversation: number; own: string; month: string }>(
    `select day.conversation_id as conversation, day.hours as own, month.hours as month from heard as day
     join heard as month on month.conversation_id = day.conversation_id and month.capture_id = ? where day.capture_id = ? limit ?`,
  ),
  add: $client.prepare<[string, number, number, number]>(
    `update heard set hours = ?, events = heard.events + day.events, packets_to_server = heard.packets_to_server + day.packets_to_server,
       packets_to_client = heard.packets_to_client + day.packets_to_client, octets_to_server = heard.octets_to_server + day.octets_to_server,
       octets_to_client = heard.octets_to_client + day.octets_to_client, first_seen = min(heard.first_seen, day.first_seen), last_seen = max(heard.last_seen, day.last_seen)
     from heard as day where day.conversation_id = heard.conversation_id and day.capture_id = ? and heard.conversation_id = ? and heard.capture_id = ?`,
  ),
  drop: $client.prepare<[number, number]>('delete from heard where conversation_id = ? and capture_id = ?'),
  move: $client.prepare<[number, number, number]>(
    `update heard set capture_id = ? where (conversation_id, capture_id) in (select conversation_id, capture_id from heard where capture_id = ? limit ?)`,
  ),
  end: $client.prepare<[number]>('delete from capture where id = ?'),
  old: $client.prepare<[number], { id: number }>(
    'select id from capture where is_whole and last_seen < ? order by last_seen limit 1',
  ),
}));

/**
 * Puts days of exporters and agents that ended before a moment together by month: of each conversation nothing is lost but which day of the month told of it, and its hours tell that.
 * @param before in seconds since the epoch @returns how many rows were moved: where some were, there may be more
 */
export function foldSomeTalk(db: Db, before: number, now: Date): number {
  const { oldDay, month, beginMonth, growMonth, both, add, drop, move, end } = of(db);
  const day = oldDay.get(before);
  if (!day) return 0;
  const digest = day.digest.slice(0, -3);
  const into =
    month.get(digest)?.id ??
    Number(
      beginMonth.run(
        day.point,
        `${day.digest.split(' ')[0]} of ${digest.slice(-7)}`,
        digest,
        now.toISOString(),
        day.firstSeen,
        day.lastSeen,
      ).lastInsertRowid,
    );
  let moved = 0;
  for (let lot = 0; lot < lotsAtOnce; lot++) {
    const some = inTransaction(db, () => {
      const known = both.all(into, day.id, rowsAtOnce);
      for (const { conversation, own, month: theirs } of known) {
        const hours = [...new Set([...(JSON.parse(own) as number[]), ...(JSON.parse(theirs) as number[])])];
        add.run(JSON.stringify(hours.sort((x, y) => x - y)), day.id, conversation, into);
        drop.run(conversation, day.id);
      }
      return known.length > 0 ? known.length : move.run(into, day.id, rowsAtOnce).changes;
    });
    moved += some;
    if (some > 0) continue;
    inTransaction(db, () => {
      growMonth.run(day.packets, day.firstSeen, day.lastSeen, into);
      end.run(day.id);
    });
    return moved + 1;
  }
  return moved;
}

/** Takes away the oldest capture that ended before a moment. @param before in seconds since the epoch @returns how many went: where one did, there may be more */
export function dropSomeTalk(db: Db, before: number): number {
  const oldest = of(db).old.get(before);
  if (!oldest) return 0;
  dropCapture(db, oldest.id);
  return 1;
}
