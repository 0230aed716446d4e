import { expect, test } from '@jest/globals';
import { rhythmOf } from './rhythm';

const hour = (moment: string) => Date.parse(moment) / 3_600_000;
const daily = (from: string, days: number, at = 2) =>
  Array.from({ length: days }, (_, day) => hour(`${from}T00:00:00Z`) + day * 24 + at);

test.each([
  ['', []],
  ['on one day, at 02:00', [hour('2026-05-03T02:00:00Z')]],
  ['always on the 3rd, at 02:00', ['2026-03-03', '2026-04-03', '2026-05-03'].map((day) => hour(`${day}T02:00:00Z`))],
  ['always on the 21st', [hour('2026-03-21T02:00:00Z'), hour('2026-04-21T05:00:00Z')]],
  // Monday 4 May 2026
  ['always on Mondays, at 07:00', [0, 7, 21].map((days) => hour('2026-05-04T07:00:00Z') + days * 24)],
  ['every day, at 02:00', daily('2026-05-01', 20)],
  ['on 3 of 10 days', [hour('2026-05-01T01:00:00Z'), hour('2026-05-04T02:00:00Z'), hour('2026-05-10T03:00:00Z')]],
])('“%s”', (words, hours) => {
  expect(rhythmOf(hours)).toBe(words);
});
