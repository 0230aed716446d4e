import { describe, expect, test } from '@jest/globals';
import { thinnable, type ThinnedBy } from './thinning';

const now = new Date('2026-11-23T06:00:00Z');
/** A survey each day from 2 November (a Monday) on. */
const daily = (count: number, scope = 'north', first = 1): ThinnedBy[] =>
  Array.from({ length: count }, (_, at) => ({
    id: first + at,
    scope,
    startedAt: new Date(Date.parse('2026-11-02T03:00:00Z') + at * 86_400_000).toISOString(),
    isCutShort: false,
  }));

describe('of what is older than all are kept', () => {
  test('the last of each week stays, and the first of all', () => {
    expect(thinnable(daily(21), 7, now)).toEqual([2, 3, 4, 5, 6, 8, 9, 10, 11, 12, 13, 15]);
    expect(thinnable(daily(21), 90, now)).toEqual([]);
  });
  test('one that was cut short stands for nothing, unless there is no other', () => {
    const cut = daily(14).map((one) => ({ ...one, isCutShort: one.id === 7 }));
    expect(thinnable(cut, 0, now)).toEqual([2, 3, 4, 5, 7, 8, 9, 10, 11, 12, 13]);
    expect(
      thinnable(
        daily(14).map((one) => ({ ...one, isCutShort: true })),
        0,
        now,
      ),
    ).not.toContain(7);
  });
  test('each scope keeps its own', () => {
    const both = [...daily(7), ...daily(7, 'south', 8)];
    expect(thinnable(both, 0, now)).toEqual([2, 3, 4, 5, 6, 9, 10, 11, 12, 13]);
  });
});
