import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Talk } from '../../core/flow/talk';
import { HeardTalk } from '../../server/query/talk/heardTalk';
import { openStore, type Store } from '../base/database';
import { clearSomeTalk, dropCapture, keepCapture, readCaptures } from './captures';
import { talkHours } from './hearings';
import { dropSomeTalk, foldSomeTalk } from './keeping';
import { mergeBatch, mergeTalk } from './live';

let folder: string;
let store: Store;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-talk-'));
  store = openStore(folder);
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

const now = new Date('2026-11-23T06:00:00Z');
const seconds = (moment: string) => Date.parse(moment) / 1000;
const talk = (client: string, moment: string, packets = 10, port = 443): Talk => ({
  client,
  server: '10.72.2.9',
  port,
  protocol: 6,
  basis: 'opening',
  events: 1,
  packets: { toServer: packets, toClient: packets },
  octets: { toServer: packets * 100, toClient: packets * 900 },
  firstSeen: seconds(moment),
  lastSeen: seconds(moment) + 60,
  hours: [Math.floor(seconds(moment) / 3600)],
});
/** By client: packets, hours and points, as they stand in memory. */
function told(heard: HeardTalk): Record<string, [packets: number, hours: number, points: string[]]> {
  const { stock, addresses } = heard;
  return Object.fromEntries(
    Array.from({ length: stock.size }, (_, row) => [
      `${String(addresses.values[stock.column('client')[row] ?? 0])} ${stock.column('port')[row]}`,
      [
        stock.count('packets')[row] ?? 0,
        stock.column('activeHours')[row] ?? 0,
        stock.pointSets[stock.column('points')[row] ?? 0] ?? [],
      ],
    ]),
  );
}
/** What is read at once is what was read bit by bit. */
function expectSame(heard: HeardTalk): void {
  const anew = new HeardTalk(store.db);
  anew.refresh();
  expect(told(heard)).toEqual(told(anew));
}

test('what is heard after talk was read comes to it: more of what was known, and what was not', () => {
  mergeTalk(
    store.db,
    'edge-1',
    [talk('10.72.1.1', '2026-11-22T08:00:00Z'), talk('10.72.1.2', '2026-11-22T09:00:00Z')],
    now,
  );
  const heard = new HeardTalk(store.db);
  heard.refresh();
  const { stamp } = heard;
  mergeTalk(
    store.db,
    'edge-1',
    [talk('10.72.1.1', '2026-11-22T10:00:00Z'), talk('10.72.1.3', '2026-11-23T01:00:00Z')],
    now,
  );
  mergeBatch(store.db, 'batch 1', 'mirror', [talk('10.72.1.2', '2026-11-22T09:00:00Z', 8)], now);
  mergeBatch(store.db, 'batch 1', 'mirror', [talk('10.72.1.2', '2026-11-22T09:00:00Z', 8)], now);
  expect(heard.refresh()).toBe(false);
  expect(heard.stamp).not.toBe(stamp);
  expect(told(heard)).toEqual({
    '10.72.1.1 443': [40, 2, ['edge-1']],
    // the same hour seen at two places counts once
    '10.72.1.2 443': [20, 1, ['edge-1', 'mirror']],
    '10.72.1.3 443': [20, 1, ['edge-1']],
  });
  expectSame(heard);
});

test('a file counts when all of it is there; taken away, it counts no more at once, and its rows go bit by bit', () => {
  const taken = {
    point: 'mirror',
    file: 'a.pcap',
    digest: 'one',
    packets: 20,
    passedOver: 0,
    firstSeen: 1,
    lastSeen: 2,
    brokenOff: '',
  };
  const many = Array.from({ length: 4500 }, (_, nth) => talk('10.72.1.1', '2026-11-22T08:00:00Z', 1, nth + 1));
  const heard = new HeardTalk(store.db);
  heard.refresh();
  const kept = keepCapture(store.db, taken, many, now);
  expect(keepCapture(store.db, taken, many, now)).toBeNull();
  expect(heard.refresh()).toBe(false);
  expect(heard.stock.size).toBe(4500);
  dropCapture(store.db, kept?.id ?? 0);
  // what is held may be gone: all is to be read anew
  expect(heard.refresh()).toBe(true);
  expect(readCaptures(store.db)).toEqual([]);
  expect(keepCapture(store.db, taken, many.slice(0, 2), now)).not.toBeNull();
  while (clearSomeTalk(store.db) > 0);
  expect(store.raw.prepare('select count(*) from heard').pluck().get()).toBe(2);
});

test('days that are over are put together by month: nothing is lost of what was said and when', () => {
  for (const day of ['01', '02', '03'])
    mergeTalk(
      store.db,
      'edge-1',
      [talk('10.72.1.1', `2026-09-${day}T08:00:00Z`), talk(`10.72.1.${Number(day) + 1}`, `2026-09-${day}T09:00:00Z`)],
      now,
    );
  mergeTalk(store.db, 'edge-1', [talk('10.72.1.1', '2026-11-22T08:00:00Z')], now);
  const heard = new HeardTalk(store.db);
  heard.refresh();
  const before = told(heard);
  const hours = talkHours(store.db, '10.72.1.1', '10.72.2.9', 443, 6);
  while (foldSomeTalk(store.db, seconds('2026-10-20T00:00:00Z'), now) > 0);
  expect(readCaptures(store.db).map(({ file, packets }) => [file, packets])).toEqual([
    ['flows of 2026-11-22', 20],
    ['flows of 2026-09', 120],
  ]);
  expect(talkHours(store.db, '10.72.1.1', '10.72.2.9', 443, 6)).toEqual(hours);
  // who held it in memory holds it still
  expect(heard.refresh()).toBe(false);
  expect(told(heard)).toEqual(before);
  expectSame(heard);
  // once it is older than it is kept, it goes
  expect(dropSomeTalk(store.db, seconds('2026-10-20T00:00:00Z'))).toBeGreaterThan(0);
  while (clearSomeTalk(store.db) > 0);
  expect(talkHours(store.db, '10.72.1.1', '10.72.2.9', 443, 6)).toEqual(hours.slice(-1));
});
