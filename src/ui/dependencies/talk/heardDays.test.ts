import { expect, test } from '@jest/globals';
import { dayBefore, daysMeant, heardOn, spanOf } from './heardDays';

const days = ['2026-10-01', '2026-10-02', '2026-10-03', '2026-10-04'];

test('days are meant by how many, by one, or from one to another, whichever way it is written', () => {
  expect(daysMeant('2', days)).toEqual(['2026-10-03', '2026-10-04']);
  expect(daysMeant('2026-10-02', days)).toEqual(['2026-10-02']);
  expect(daysMeant(spanOf('2026-10-03', '2026-10-02'), days)).toEqual(['2026-10-02', '2026-10-03']);
  expect(daysMeant('2026-09-30..2026-10-01', days)).toEqual(['2026-10-01']);
  for (const none of [null, '', 'soon', '-3', '2026-10']) expect(daysMeant(none, days)).toBeNull();
});

test('a filter stays as it is without days, and holds besides them', () => {
  expect(heardOn('a or b', null)).toBe('a or b');
  expect(heardOn('a or b', ['2026-10-01'])).toBe('(a or b) heard.day=2026-10-01');
  expect(heardOn(' ', ['2026-10-01', '2026-10-02'])).toBe('heard.day=2026-10-01,2026-10-02');
  expect(heardOn('', [])).toBe('heard.day=1970-01-01');
});

test('days are counted back over the ends of months', () => {
  expect([dayBefore('2026-12-01', 1), dayBefore('2026-03-01', 20)]).toEqual(['2026-11-30', '2026-02-09']);
});
