import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { ReadinessReason } from './readiness';
import { obstacles, outlookOf, verdictWithout, type JudgedRow, type Obstacle } from './whatIf';

const reason = (kind: ReadinessReason['kind'], needed: string | null = null): ReadinessReason => ({
  ...{ kind, words: kind, needed, have: null, source: 'the device' },
});
let count = 0;
const row = (verdict: JudgedRow['verdict'], ...reasons: ReadinessReason[]): JudgedRow => ({
  ...{ id: String(++count), deviceId: count, device: `sw-${count}`, site: 'SGH', family: 'K-Access', target: '7' },
  ...{ model: 'K-Access 24', verdict, reasons },
});
const none = { done: new Set<Obstacle>(), memoryFor: [] };

test('what is done away with makes ready, unless something else holds it back', () => {
  const rows = [
    row('ready', reason('fits')),
    row('blocked', reason('memory', '1 GB')),
    row('blocked', reason('memory', '1 GB'), reason('boot')),
    row('ready after', reason('boot')),
    row('unknown', reason('unknown')),
    row('already there', reason('current')),
    row('ready after', reason('current'), reason('mixed')),
  ];
  const then = (done: Obstacle[], memoryFor: { model: string; count: number }[] = []) =>
    Object.fromEntries(
      outlookOf(rows, { done: new Set(done), memoryFor }).verdicts.map(({ verdict, then: after }) => [verdict, after]),
    );
  expect(then([])).toEqual({ ready: 1, 'ready after': 2, blocked: 2, 'already there': 1, unknown: 1 });
  expect(then(['memory'])).toEqual({ ready: 2, 'ready after': 3, blocked: 0, 'already there': 1, unknown: 1 });
  expect(then(['memory', 'boot', 'mixed'])).toEqual({
    ready: 4,
    'ready after': 0,
    blocked: 0,
    'already there': 2,
    unknown: 1,
  });
  // memory for one of them is not memory for all
  expect(then([], [{ model: 'K-Access 24', count: 1 }])).toMatchObject({ ready: 2, blocked: 1 });
  expect(then([], [{ model: 'K-Access 48', count: 9 }])).toMatchObject({ ready: 1, blocked: 2 });
  const outlook = outlookOf(rows, none);
  expect(outlook.obstacles).toEqual([
    { kind: 'memory', held: 2, alone: 1 },
    { kind: 'boot', held: 2, alone: 1 },
    { kind: 'mixed', held: 1, alone: 1 },
    { kind: 'unknown', held: 1, alone: 1 },
  ]);
  expect(outlook.shopping).toEqual([{ kind: 'memory', model: 'K-Access 24', needed: '1 GB', count: 2 }]);
  expect(outlookOf(rows, { done: new Set(['memory']), memoryFor: [] }).becomes.map(({ id }) => id)).toEqual([
    rows[1]?.id,
  ]);
});

test('the more is done, the fewer are held back', () => {
  const kinds = fc.uniqueArray(fc.constantFrom(...obstacles), { maxLength: 4 });
  fc.assert(
    fc.property(fc.array(kinds, { minLength: 1, maxLength: 20 }), kinds, kinds, (all, some, more) => {
      const rows = all.map((own) => {
        const bare = row('ready', ...own.map((kind) => reason(kind)));
        return { ...bare, verdict: verdictWithout(bare, new Set()) };
      });
      const ready = (done: Obstacle[]) =>
        outlookOf(rows, { done: new Set(done), memoryFor: [] }).verdicts.find(({ verdict }) => verdict === 'ready')
          ?.then ?? 0;
      expect(ready([...some, ...more])).toBeGreaterThanOrEqual(ready(some));
      expect(ready([...obstacles])).toBe(rows.length);
    }),
  );
});
