import { expect, test } from '@jest/globals';
import { seenOnce, weekOf } from './seenOnce';

const at = (point: string, packets: number, ...hours: number[]) => ({
  point,
  events: packets / 10,
  packets,
  octetsToServer: packets * 10,
  octetsToClient: packets * 90,
  hours,
});

test('the same hours seen at two places count once, by whoever counted most; other hours add up', () => {
  expect(seenOnce([at('core-1', 100, 5, 6), at('core-2', 90, 6), at('edge', 10, 9)])).toEqual({
    events: 11,
    packets: 110,
    octetsToServer: 1100,
    octetsToClient: 9900,
    hours: [5, 6, 9],
  });
  expect(seenOnce([at('core-1', 30, 5), at('core-1', 20, 5, 6), at('core-2', 40, 6)])).toMatchObject({
    packets: 50,
    hours: [5, 6],
  });
  expect(seenOnce([])).toEqual({ events: 0, packets: 0, octetsToServer: 0, octetsToClient: 0, hours: [] });
});

test('the hours of a week, from Monday at midnight', () => {
  const hour = (moment: string) => Date.parse(moment) / 3_600_000;
  // Monday 4 May 2026, twice a week apart, and a Sunday at its last hour
  const week = weekOf([hour('2026-05-04T00:00:00Z'), hour('2026-05-11T00:00:00Z'), hour('2026-05-10T23:00:00Z')]);
  expect([week[0], week[167], week.reduce((sum, count) => sum + count, 0)]).toEqual([2, 1, 3]);
});
