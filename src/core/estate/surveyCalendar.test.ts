import { describe, expect, test } from '@jest/globals';
import { Cron } from 'croner';
import fc from 'fast-check';
import {
  calendarMistake,
  calendarWords,
  everyHours,
  readCalendar,
  writeCalendar,
  type SurveyCalendar,
} from './surveyCalendar';

describe('a calendar', () => {
  test('is chosen as days and times, and kept as lines that any scheduler reads', () => {
    expect(writeCalendar({ kind: 'week', days: [1, 2, 3, 4, 5], times: ['06:00', '18:00'] })).toBe(
      '0 6,18 * * 1,2,3,4,5',
    );
    expect(writeCalendar({ kind: 'week', days: [7, 6], times: ['06:30', '22:00'] })).toBe('30 6 * * 6,7\n0 22 * * 6,7');
    expect(writeCalendar({ kind: 'month', days: [1], times: ['04:15'] })).toBe('15 4 1 * *');
    expect(writeCalendar({ kind: 'hours', every: 4, minute: 10 })).toBe('10 */4 * * *');
  });
  test('written before, or by a script, is read where it can be chosen, and kept as it is where it cannot', () => {
    expect(readCalendar('0 6 * * 1-5')).toEqual({ kind: 'week', days: [1, 2, 3, 4, 5], times: ['06:00'] });
    expect(readCalendar('0 6 * * 0')).toEqual({ kind: 'week', days: [7], times: ['06:00'] });
    expect(readCalendar('5 * * * *')).toEqual({ kind: 'hours', every: 1, minute: 5 });
    for (const text of ['*/15 * * * *', '0 6 * 3 1', '0 6 1 * 1', '0 6 * * 1\n0 7 * * 2', '0 25 * * *', 'soon']) {
      expect(readCalendar(text)).toEqual({ kind: 'written', text });
      expect(writeCalendar(readCalendar(text))).toBe(text);
    }
    expect(readCalendar(' \n')).toEqual({ kind: 'byHand' });
  });
  test('is told in words', () => {
    expect(
      ['0 6 * * 1-5', '0 6,18 * * *', '0 6 * * 1,3', '15 4 1,15 * *', '0 */4 * * *', '', '*/5 * * * *'].map(
        calendarWords,
      ),
    ).toEqual([
      'Monday to Friday at 06:00',
      'every day at 06:00 and 18:00',
      'Monday and Wednesday at 06:00',
      'on day 1 and 15 of the month at 04:15',
      'every 4 hours, at minute 0',
      'by hand only',
      'by a rule that a script wrote',
    ]);
  });
  test('without a day or a time is none, nor is one whose time is none', () => {
    const week = (days: number[], times: string[]): SurveyCalendar => ({ kind: 'week', days, times });
    expect(
      [week([], ['06:00']), week([1], []), week([1], ['24:00']), week([1], ['06:00'])].map(calendarMistake),
    ).toEqual([
      'Choose at least one day',
      'Give at least one time',
      '“24:00” is no time of the day: write it like 06:00',
      null,
    ]);
  });
  test('comes back as it was chosen, and is due exactly then', () => {
    const two = (number: number) => String(number).padStart(2, '0');
    const time = fc.tuple(fc.nat(23), fc.nat(59)).map(([hour, minute]) => `${two(hour)}:${two(minute)}`);
    const some = <Value>(one: fc.Arbitrary<Value>) => fc.uniqueArray(one, { minLength: 1, maxLength: 5 });
    const sorted = (list: number[]) => [...list].sort((one, other) => one - other);
    const calendar = fc.oneof(
      fc
        .record({ every: fc.constantFrom(...everyHours), minute: fc.nat(59) })
        .map((of) => ({ kind: 'hours' as const, ...of })),
      fc
        .record({
          days: some(fc.integer({ min: 1, max: 7 })).map(sorted),
          times: some(time).map((list) => [...list].sort()),
        })
        .map((of) => ({ kind: 'week' as const, ...of })),
      fc
        .record({
          days: some(fc.integer({ min: 1, max: 31 })).map(sorted),
          times: some(time).map((list) => [...list].sort()),
        })
        .map((of) => ({ kind: 'month' as const, ...of })),
    );
    fc.assert(
      fc.property(calendar, (chosen) => {
        const text = writeCalendar(chosen);
        expect(readCalendar(text)).toEqual(chosen);
        if (chosen.kind !== 'week') return;
        for (const line of text.split('\n')) {
          const next = new Cron(line, { paused: true, timezone: 'UTC' }).nextRun(new Date('2026-11-23T00:00:30Z'));
          const at = next?.toISOString() ?? '';
          expect(chosen.times).toContain(at.slice(11, 16));
          expect(chosen.days).toContain(next?.getUTCDay() === 0 ? 7 : next?.getUTCDay());
        }
      }),
    );
  });
});
