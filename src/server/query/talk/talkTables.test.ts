import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import type { Talk } from '../../../core/flow/talk';
import { everyRow, valueAt } from '../../../core/tables/column';
import { things } from '../../../core/things/things';
import { openStore, type Store } from '../../../store/base/database';
import { keepCapture } from '../../../store/talk/captures';
import { mergeTalk } from '../../../store/talk/live';
import type { ConversationsTable } from '../tables/conversationsTable';
import { RowsTable } from '../tables/thingTable';
import { TalkTables } from './talkTables';

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
const talk = (client: string, hour: number): Talk => ({
  client,
  server: '10.72.2.9',
  port: 443,
  protocol: 6,
  basis: 'opening',
  events: 1,
  packets: { toServer: 1, toClient: 1 },
  octets: { toServer: 100, toClient: 900 },
  firstSeen: hour * 3600,
  lastSeen: hour * 3600 + 60,
  hours: [hour],
});
const today = Math.floor(now.getTime() / 3_600_000);
const around = { siteOf: () => () => '', endpoints: () => new RowsTable([]) };
/** The survey is none: talk is there before any. */
const newest = 0;
const clients = (tables: TalkTables) => {
  const table = tables.at(newest, newest);
  return table.rows(Array.from({ length: table.size }, (_, row) => row)).map(({ clientAddress }) => clientAddress);
};
const columnsOf = (table: ConversationsTable) => ({
  ...Object.fromEntries(
    things.conversations.fields.map(({ name }) => [
      name,
      Array.from({ length: table.size }, (_, row) => valueAt(table.column(name), row)),
    ]),
  ),
  days: [...table.countDays(everyRow(table.size), table.lastDay())],
  octets: [...table.octets()],
  weights: [...table.weights()],
});
const prepare = (tables: TalkTables) => [...tables.preparing(newest, newest)].length;

test('of much talk what comes by the minute is there when it is made ready, and whoever asks meanwhile gets what was', () => {
  mergeTalk(store.db, 'edge-1', [talk('10.72.1.1', today)], now);
  const tables = new TalkTables(store.db, around, 1);
  expect(prepare(tables)).toBeGreaterThan(10);
  mergeTalk(store.db, 'edge-1', [talk('10.72.1.2', today)], now);
  expect(clients(tables)).toEqual(['10.72.1.1']);
  const steps = tables.preparing(newest, newest);
  for (let nth = 0; nth < 5; nth++) steps.next();
  expect(clients(tables)).toEqual(['10.72.1.1']);
  for (const _ of steps);
  expect(clients(tables)).toEqual(['10.72.1.1', '10.72.1.2']);
  // nothing more came: there is nothing to make
  expect(prepare(tables)).toBe(0);
});

test('a table that grows with what comes has in all columns what one made as a whole has', () => {
  const batch = fc.array(fc.tuple(fc.integer({ min: 1, max: 6 }), fc.integer({ min: -40, max: 40 })), {
    minLength: 1,
    maxLength: 5,
  });
  let exporter = 0;
  fc.assert(
    fc.property(fc.array(batch, { minLength: 2, maxLength: 4 }), (batches) => {
      const growing = new TalkTables(store.db, around, 1);
      exporter++;
      for (const heard of batches) {
        const own = heard.map(([client, hours]) => talk(`10.${exporter % 250}.1.${client}`, today + hours));
        mergeTalk(store.db, 'edge-1', own, now);
        prepare(growing);
        const whole = new TalkTables(store.db, around, 1);
        expect(columnsOf(growing.at(newest, newest))).toEqual(columnsOf(whole.at(newest, newest)));
      }
    }),
    { numRuns: 25 },
  );
});

test('what is forgotten while it is made ready is not told', () => {
  mergeTalk(store.db, 'edge-1', [talk('10.72.1.1', today)], now);
  const tables = new TalkTables(store.db, around, 1);
  const steps = tables.preparing(newest, newest);
  steps.next();
  tables.forget();
  for (const _ of steps);
  mergeTalk(store.db, 'edge-1', [talk('10.72.1.2', today)], now);
  expect(clients(tables)).toEqual(['10.72.1.1', '10.72.1.2']);
});

test('a capture that somebody takes in is there at once, and little talk too', () => {
  mergeTalk(store.db, 'edge-1', [talk('10.72.1.1', today)], now);
  const [much, little] = [new TalkTables(store.db, around, 1), new TalkTables(store.db, around)];
  prepare(much);
  prepare(little);
  mergeTalk(store.db, 'edge-1', [talk('10.72.1.2', today)], now);
  expect(clients(little)).toHaveLength(2);
  keepCapture(
    store.db,
    {
      point: 'mirror',
      file: 'a.pcap',
      digest: 'd1',
      packets: 2,
      passedOver: 0,
      firstSeen: 1,
      lastSeen: 2,
      brokenOff: '',
    },
    [talk('10.72.1.3', today)],
    now,
  );
  expect(clients(much)).toHaveLength(3);
  expect(clients(little)).toHaveLength(3);
});
