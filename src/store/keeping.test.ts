import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { usualRetention } from '../core/keeping/retention';
import { openStore, type Store } from './base/database';
import { growthOf, noteGrowth, pruneSome, readRetention, saveRetention, sizesOf } from './keeping';
import { queueJob } from './jobs';

let folder: string;
let store: Store;
const now = new Date('2026-11-23T06:00:00Z');
const daysAgo = (days: number) => new Date(now.getTime() - days * 86_400_000).toISOString();
const count = (table: string) => (store.raw.prepare(`select count(*) as n from ${table}`).get() as { n: number }).n;
const survey = (id: number, days: number, state = 'sealed') =>
  store.raw
    .prepare(
      'insert into survey (id, scope_name, scope, state, started_at, sealed_at, asked) values (?, ?, ?, ?, ?, ?, 2)',
    )
    .run(id, 'north', '{}', state, daysAgo(days), state === 'sealed' ? daysAgo(days) : null);

beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-keeping-'));
  store = openStore(folder);
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

test('what is older than it is kept goes, in portions, and nothing else', () => {
  const act = store.raw.prepare("insert into audit (at, who, act, subject) values (?, 'marla', 'signed in', '')");
  for (let at = 0; at < 4500; at++) act.run(daysAgo(800));
  act.run(daysAgo(700));
  const [old, young, running] = [daysAgo(91), daysAgo(89), null].map((endedAt) => {
    const id = queueJob(store.db, 'errand', {});
    store.raw.prepare("update job set ended_at = ?, state = 'done' where id = ?").run(endedAt, id);
    return id;
  });
  survey(1, 120);
  survey(2, 30);
  store.raw.exec('insert into device (id, first_survey) values (7, 1)');
  const visit = store.raw.prepare(
    "insert into visit (survey_id, address, seq, state, outcome, device_id) values (?, ?, 0, 'done', 'silent', ?)",
  );
  for (const id of [1, 2]) for (const device of [null, 7]) visit.run(id, `10.72.0.${device ?? 1}`, device);

  expect(pruneSome(store, now)).toBe(2000 + 1 + 1);
  while (pruneSome(store, now) > 0);
  expect(count('audit')).toBe(1);
  expect(store.raw.prepare('select id from job order by id').pluck().all()).toEqual([young, running]);
  expect(old).toBeDefined();
  // of the old survey only what was known of devices stays
  expect(store.raw.prepare('select survey_id, device_id from visit order by 1, 2').raw().all()).toEqual([
    [1, 7],
    [2, null],
    [2, 7],
  ]);
});

test('how long is what people say, and of copies the newest stay', () => {
  expect(readRetention(store.db)).toEqual(usualRetention);
  saveRetention(store.db, { ...usualRetention, copies: 1, actsDays: 90 });
  for (const name of ['before-migration-1', 'before-migration-2', 'before-restore-1', 'bolide-copy'])
    writeFileSync(path.join(folder, `${name}.sqlite`), '');
  store.raw.prepare("insert into audit (at, who, act, subject) values (?, 'marla', 'signed in', '')").run(daysAgo(91));
  pruneSome(store, now);
  expect(count('audit')).toBe(0);
  expect(readdirSync(folder).filter((name) => /before|copy/.test(name))).toEqual([
    'before-migration-2.sqlite',
    'before-restore-1.sqlite',
    'bolide-copy.sqlite',
  ]);
});

test('what each part takes up is told, and what a survey added', () => {
  const parts = sizesOf(store).map(({ part }) => part);
  expect(parts).toEqual(expect.arrayContaining(['facts', 'visits', 'acts', 'other']));
  noteGrowth(store);
  expect(growthOf(store.db)).toEqual([]);
  survey(1, 2);
  for (let times = 0; times < 2; times++) noteGrowth(store);
  survey(2, 1);
  noteGrowth(store);
  expect(growthOf(store.db).map(({ survey: id, octets }) => [id, octets > 0])).toEqual([
    [1, true],
    [2, true],
  ]);
});

test('of old readings the last of each hour is left, of older ones the last of each day', () => {
  store.raw.exec('pragma foreign_keys = off');
  const begin = (id: number, at: string) =>
    store.raw
      .prepare(
        "insert into survey (id, scope_name, scope, state, started_at, sealed_at, asked) values (?, 'north', '{}', 'sealed', ?, ?, 1)",
      )
      .run(id, at, at);
  const moments = [
    '2025-10-01T06:00:00Z',
    '2025-10-01T06:30:00Z',
    '2025-10-01T09:00:00Z',
    '2026-10-01T06:00:00Z',
    '2026-10-01T06:30:00Z',
    '2026-10-01T09:00:00Z',
    '2026-11-20T06:00:00Z',
    '2026-11-20T06:30:00Z',
  ];
  moments.forEach((at, place) => begin(place + 1, at));
  const read = store.raw.prepare("insert into volatile (device_id, survey_id, body) values (?, ?, '{}')");
  moments.forEach((_, place) => read.run(7, place + 1));
  // another device, read at other moments, is counted by itself
  read.run(8, 1);
  while (pruneSome(store, now) > 0);
  expect(store.raw.prepare('select device_id, survey_id from volatile order by 1, 2').raw().all()).toEqual([
    [7, 3],
    [7, 5],
    [7, 6],
    [7, 7],
    [7, 8],
    [8, 1],
  ]);
});
