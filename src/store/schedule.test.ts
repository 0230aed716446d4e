import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { isQuiet, parseQuietHours } from '../core/estate/quietHours';
import { readScope, scopeDefaults, type ScopeText } from '../core/estate/scope';
import { openStore, type Store } from './base/database';
import { queueSurvey, updateJob } from './jobs';
import { calendarOf, nextDue, startDue } from './schedule';
import { scheduledRun } from './base/schema';
import { saveScope } from './scopes';

let folder: string;
let store: Store;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-schedule-'));
  store = openStore(folder);
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

/** Monday 23 November 2026, local time. */
const at = (hour: number, minute = 0, day = 23) => new Date(2026, 10, day, hour, minute);
const scope = (more: Partial<ScopeText> = {}): ScopeText => ({
  ...scopeDefaults,
  name: 'nightly',
  ranges: ['10.72.4.0/24'],
  schedule: '0 6 * * *',
  ...more,
});
const outcomes = () =>
  store.db
    .select()
    .from(scheduledRun)
    .all()
    .map(({ dueAt, outcome }) => [new Date(dueAt).getDate(), new Date(dueAt).getHours(), outcome]);
const finish = (jobs: number[]) => jobs.forEach((job) => updateJob(store.db, job, { state: 'done' }));

describe('a calendar', () => {
  test('starts a survey once at its time, not before, and nothing for what was due before it was written', () => {
    saveScope(store.db, scope());
    expect(startDue(store.db, at(7))).toEqual([]);
    expect(startDue(store.db, at(5, 59, 24))).toEqual([]);
    const jobs = startDue(store.db, at(6, 0, 24));
    expect(jobs).toHaveLength(1);
    finish(jobs);
    expect(startDue(store.db, at(6, 1, 24))).toEqual([]);
    expect(outcomes()).toEqual([[24, 6, 'ran']]);
  });
  test('a run that nobody was there to start is told as missed; the newest is still started if it is not late', () => {
    const id = saveScope(store.db, scope());
    startDue(store.db, at(7));
    expect(startDue(store.db, at(6, 3, 27))).toHaveLength(1);
    expect(outcomes()).toEqual([
      [24, 6, 'missed'],
      [25, 6, 'missed'],
      [26, 6, 'missed'],
      [27, 6, 'ran'],
    ]);
    expect(calendarOf(store.db, id, scope(), at(7, 0, 27)).missed.map(({ outcome }) => outcome)).toEqual([
      'missed',
      'missed',
      'missed',
    ]);
    expect(startDue(store.db, at(9, 0, 28))).toEqual([]);
    expect(outcomes().at(-1)).toEqual([28, 6, 'missed']);
  });
  test('never overlaps: it waits for a survey at work, and says so where the next is due before that ends', () => {
    saveScope(store.db, scope({ schedule: '0 * * * *' }));
    startDue(store.db, at(6, 30));
    const other = queueSurvey(store.db, { scopeId: 99 });
    expect(startDue(store.db, at(7))).toEqual([]);
    expect(startDue(store.db, at(7, 40))).toEqual([]);
    expect(outcomes()).toEqual([]);
    updateJob(store.db, other, { state: 'done' });
    expect(startDue(store.db, at(7, 45))).toHaveLength(1);
    expect(startDue(store.db, at(8, 1))).toEqual([]);
    expect(startDue(store.db, at(9, 1))).toEqual([]);
    expect(outcomes()).toEqual([
      [23, 7, 'ran'],
      [23, 8, 'busy'],
    ]);
  });
  test('begins nothing in quiet hours, and says when it will next', () => {
    const text = scope({ schedule: '0 */6 * * *', quietHours: ['08:00-18:30', '23:00-01:00'] });
    const id = saveScope(store.db, text);
    startDue(store.db, at(5));
    const first = startDue(store.db, at(6));
    finish(first);
    expect(startDue(store.db, at(12))).toEqual([]);
    expect(startDue(store.db, at(18))).toEqual([]);
    expect(startDue(store.db, at(0, 0, 24))).toEqual([]);
    expect(outcomes()).toEqual([
      [23, 6, 'ran'],
      [23, 12, 'quiet'],
      [23, 18, 'quiet'],
      [24, 0, 'quiet'],
    ]);
    expect(calendarOf(store.db, id, text, at(9))).toEqual({ nextAt: at(6, 0, 24).toISOString(), missed: [] });
    expect(calendarOf(store.db, id, { ...text, schedule: '0 12 * * *' }, at(9)).nextAt).toBeNull();
  });
  test('left alone for months is caught up with at once: only the last days are told', () => {
    saveScope(store.db, scope({ schedule: '*/30 * * * *' }));
    startDue(store.db, new Date(2026, 5, 1));
    expect(startDue(store.db, at(6, 5))).toHaveLength(1);
    const told = outcomes();
    expect([told.length, told.at(-1)]).toEqual([8 * 48, [23, 6, 'ran']]);
  });
  test('that was changed begins anew', () => {
    saveScope(store.db, scope());
    startDue(store.db, at(5));
    saveScope(store.db, scope({ schedule: '0 4 * * *' }));
    expect(startDue(store.db, at(7))).toEqual([]);
    expect(outcomes()).toEqual([]);
  });
  test('what is no calendar is never due; no scope is surveyed that has none', () => {
    expect([nextDue('every morning', at(5)), nextDue('0 6 31 2 *', at(5))]).toEqual([null, null]);
    saveScope(store.db, scope({ schedule: '' }));
    expect([startDue(store.db, at(6)), startDue(store.db, at(6, 0, 25))]).toEqual([[], []]);
  });
});

describe('quiet hours', () => {
  test.each([
    ['08:00-18:00', { from: 480, to: 1080 }],
    ['22:00 – 5:30', { from: 1320, to: 330 }],
    ['0:00-24:00', { from: 0, to: 1440 }],
    ['08:00-08:00', null],
    ['25:00-26:00', null],
    ['8-18', null],
    ['', null],
  ])('“%s”', (text, hours) => {
    expect(parseQuietHours(text)).toEqual(hours);
  });
  test('over midnight and within a day are each other’s complement', () => {
    fc.assert(
      fc.property(
        fc.nat(1439),
        fc.nat(1439),
        fc.nat(1439),
        (from, to, minute) =>
          from === to || isQuiet(minute, [{ from, to }]) !== isQuiet(minute, [{ from: to, to: from }]),
      ),
    );
  });
  test('that are none are told at their line', () => {
    const read = readScope(scope({ quietHours: ['08:00-18:00', 'at night'] }));
    expect('mistakes' in read && read.mistakes).toMatchObject([
      { path: 'quietHours[1]', message: expect.stringContaining('08:00-18:00') },
    ]);
  });
});
