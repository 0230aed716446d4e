import { describe, expect, test } from '@jest/globals';
import { lostBetween, type CountersRead } from './portErrors';

const read = (counters: [number, number, number, number] | null, startedAt: number | null = 1000): CountersRead => ({
  ports: counters ? { 7: counters } : {},
  startedAt,
});

describe('frames lost between two looks', () => {
  test.each([
    ['what came since', read([10, 1, 4, 0]), read([25, 1, 9, 2]), { errors: 15, discards: 7 }],
    ['nothing, where the port is at nought both times', read(null), read(null), { errors: 0, discards: 0 }],
    ['all of them, where it was at nought', read(null), read([3, 0, 0, 0]), { errors: 3, discards: 0 }],
    [
      'what came since the restart',
      read([500, 0, 0, 0], 1000),
      read([20, 0, 0, 0], 90_000),
      { errors: 20, discards: 0 },
    ],
    [
      'all since the restart, though the count is higher than it was',
      read([5, 0, 0, 0], 1000),
      read([20, 0, 0, 0], 90_000),
      { errors: 20, discards: 0 },
    ],
    [
      'what came since, where the agent only seems to have started anew after 497 days',
      read([5, 0, 0, 0], 1000),
      read([20, 0, 0, 0], 1000 + 42_949_673),
      { errors: 15, discards: 0 },
    ],
    [
      'what came over the end of 32 bits',
      read([4_294_967_290, 0, 0, 0]),
      read([4, 0, 0, 0]),
      { errors: 10, discards: 0 },
    ],
    [
      'what came since somebody cleared the counters',
      read([1000, 0, 0, 0]),
      read([5, 0, 0, 0]),
      { errors: 5, discards: 0 },
    ],
    [
      'what came since, where two clocks differ a little',
      read([5, 0, 0, 0], 1000),
      read([6, 0, 0, 0], 1090),
      { errors: 1, discards: 0 },
    ],
    [
      'what came over the end, where nobody knows when it started',
      read([4_294_967_295, 0, 0, 0], null),
      read([0, 0, 0, 0], null),
      { errors: 1, discards: 0 },
    ],
  ])('are %s', (_, before, now, expected) => {
    expect(lostBetween(before, now, '7')).toEqual(expected);
  });
  test('are not known where one look told no counters', () => {
    expect([lostBetween(null, read([1, 0, 0, 0]), '7'), lostBetween(read([1, 0, 0, 0]), null, '7')]).toEqual([
      null,
      null,
    ]);
  });
});

test('all of them, where the port says that its counters were interrupted since (RFC 2863, ifCounterDiscontinuityTime)', () => {
  const before = { ...read([1000, 0, 0, 0]), since: { 8: 50 } };
  expect(lostBetween(before, { ...read([5, 0, 0, 0]), since: { 7: 4000, 8: 50 } }, '7')).toEqual({
    errors: 5,
    discards: 0,
  });
  expect(lostBetween(before, { ...read([1500, 0, 0, 0]), since: { 7: 4000 } }, '7')?.errors).toBe(1500);
  expect(lostBetween(before, { ...read([1005, 0, 0, 0]), since: { 8: 4000 } }, '7')?.errors).toBe(5);
});
