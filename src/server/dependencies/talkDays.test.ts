import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import { daysKept } from '../../core/flow/talkStock';
import { openStore, type Store } from '../../store/base/database';
import { mergeTalk } from '../../store/talk/live';
import { queryThing } from '../query/query';
import { matrixOf } from './matrix';
import { talkDays } from './talkDays';

let folder: string;
let store: Store;
const lastDay = 20_780;
const hoursADay = 24;
const dayOf = (day: number) => new Date(day * 86_400_000).toISOString().slice(0, 10);
/** By client: on which days it was heard, the last of them among the newest. */
const heard = new Map<string, number[]>();

beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-days-'));
  store = openStore(folder);
  const days = fc.sample(fc.uniqueArray(fc.integer({ min: 0, max: 150 }), { minLength: 1, maxLength: 20 }), {
    numRuns: 200,
    seed: 7,
  });
  days.forEach((back, nth) =>
    heard.set(
      `10.72.1.${nth}`,
      back.map((one) => lastDay - one).sort((x, y) => x - y),
    ),
  );
  heard.set('10.72.2.1', [lastDay]);
  for (const [client, own] of heard)
    for (const day of own)
      mergeTalk(
        store.db,
        'edge-1',
        [
          {
            client,
            server: '10.72.9.9',
            port: 443,
            protocol: 6,
            basis: 'opening',
            events: 1,
            packets: { toServer: 1, toClient: 1 },
            octets: { toServer: 1, toClient: 1 },
            firstSeen: day * 86_400 + 3600,
            lastSeen: day * 86_400 + 3660,
            hours: [day * hoursADay + 1],
          },
        ],
        new Date(),
      );
});
afterAll(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

/** Days that are kept of a conversation: those within 64 of its own last, and within 64 of the newest. */
const keptOf = (days: number[]) =>
  days.filter((day) => day > Math.max((days.at(-1) ?? 0) - daysKept, lastDay - daysKept));

test('each of the last days tells how many were heard on it', () => {
  const rows = talkDays(store, 0, '');
  expect(rows.map(({ day }) => day)).toEqual(Array.from({ length: daysKept }, (_, nth) => dayOf(lastDay - 63 + nth)));
  for (const [nth, { conversations }] of rows.entries())
    expect(conversations).toBe([...heard.values()].filter((days) => keptOf(days).includes(lastDay - 63 + nth)).length);
});

test('a filter finds those that were heard on any of some days', () => {
  const find = (where: string) =>
    queryThing(store, 'conversations', { survey: 0, against: null, where, sort: [], page: 1, size: 1000 }).rows.map(
      ({ clientAddress }) => String(clientAddress),
    );
  fc.assert(
    fc.property(fc.uniqueArray(fc.integer({ min: 0, max: 63 }), { minLength: 1, maxLength: 5 }), (back) => {
      const days = back.map((one) => lastDay - one);
      const wanted = [...heard].filter(([, own]) => keptOf(own).some((day) => days.includes(day))).map(([who]) => who);
      expect(find(`heard.day=${days.map(dayOf).join(',')}`).sort()).toEqual(wanted.sort());
    }),
    { numRuns: 30 },
  );
  const all = find('');
  expect(all).toHaveLength(heard.size);
  expect(matrixOf(store, 0, 'host', `heard.day=${dayOf(lastDay)}`, null).conversations).toBe(
    [...heard.values()].filter((days) => days.includes(lastDay)).length,
  );
});
