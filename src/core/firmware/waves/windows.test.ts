import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { instantOf } from '../../values/zonedTime';
import { calendarOf, readWindows, WindowsError } from './windows';

const year = { from: Date.UTC(2026, 10, 1), until: Date.UTC(2027, 10, 1), zone: 'UTC' };
const shown = (text: string, asked = year) =>
  readWindows(text, asked).map(({ start, end }) => [start, end].map((one) => new Date(one).toISOString().slice(0, 16)));
const calendar = (...lines: string[]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:x', 'BEGIN:VEVENT', 'UID:1', ...lines, 'END:VEVENT', 'END:VCALENDAR'].join(
    '\r\n',
  );

describe('windows in which one may work', () => {
  test('as a list in JSON, with moments of any offset, or of the zone that is said', () => {
    const list = JSON.stringify([
      { start: '2026-12-12T22:00:00+01:00', end: '2026-12-13T04:00:00+01:00' },
      { start: '2026-12-05 22:00', end: '2026-12-06 04:00' },
    ]);
    expect(shown(list, { ...year, zone: 'Europe/Berlin' })).toEqual([
      ['2026-12-05T21:00', '2026-12-06T03:00'],
      ['2026-12-12T21:00', '2026-12-13T03:00'],
    ]);
    expect(shown(list)[0]).toEqual(['2026-12-05T22:00', '2026-12-06T04:00']);
  });

  test('as a calendar: repeated, in a zone by its name, without what was called off, over the change of clocks', () => {
    const text = calendar(
      'DTSTART;TZID=Europe/Berlin:20270320T220000',
      'DTEND;TZID=Europe/Berlin:20270321T040000',
      'RRULE:FREQ=WEEKLY;COUNT=3',
      'EXDATE;TZID=Europe/Berlin:20270327T220000',
    );
    expect(shown(text)).toEqual([
      ['2027-03-20T21:00', '2027-03-21T03:00'],
      // by then clocks are an hour ahead
      ['2027-04-03T20:00', '2027-04-04T02:00'],
    ]);
    expect(shown(calendar('DTSTART:20261205T220000Z', 'DURATION:PT6H'))).toEqual([
      ['2026-12-05T22:00', '2026-12-06T04:00'],
    ]);
    expect(shown(calendar('DTSTART:20261205T220000Z', 'DURATION:PT6H', 'STATUS:CANCELLED'))).toEqual([]);
  });

  test('a zone that the calendar describes itself is as it says', () => {
    const text = calendar('DTSTART;TZID=Harbour:20261205T220000', 'DTEND;TZID=Harbour:20261206T040000').replace(
      'BEGIN:VEVENT',
      [
        'BEGIN:VTIMEZONE',
        'TZID:Harbour',
        'BEGIN:STANDARD',
        'DTSTART:19700101T000000',
        'TZOFFSETFROM:+0230',
        'TZOFFSETTO:+0230',
        'END:STANDARD',
        'END:VTIMEZONE',
        'BEGIN:VEVENT',
      ].join('\r\n'),
    );
    expect(shown(text)).toEqual([['2026-12-05T19:30', '2026-12-06T01:30']]);
  });

  test('what is over is left out, what is under way begins now, what never ends is followed for a while', () => {
    const text = calendar('DTSTART:20200101T220000Z', 'DTEND:20200102T020000Z', 'RRULE:FREQ=DAILY');
    const from = Date.UTC(2026, 11, 1, 23);
    const found = shown(text, { ...year, from, until: from + 3 * 86_400_000 });
    expect(found).toEqual([
      ['2026-12-01T23:00', '2026-12-02T02:00'],
      ['2026-12-02T22:00', '2026-12-03T02:00'],
      ['2026-12-03T22:00', '2026-12-04T02:00'],
      ['2026-12-04T22:00', '2026-12-05T02:00'],
    ]);
  });

  test.each([
    ['[{"start": "tomorrow"}]', 'window 1, start: write a moment like 2026-12-05T22:00:00+01:00'],
    ['[{"start": "2026-12-05T22:00Z", "end": "2026-12-05T20:00Z"}]', 'window 1: it ends before it begins'],
    ['[{"start": "2026-02-30T22:00Z", "end": "2026-12-05T20:00Z"}]', 'window 1, start: there is no such moment'],
    ['[', 'The windows are no JSON'],
    ['nothing', 'The windows are no calendar and no list in JSON'],
    ['BEGIN:VCALENDAR\r\nEND:VCALENDAR', 'The calendar has no events'],
    [
      calendar('DTSTART;TZID=Nowhere/Here:20261205T220000', 'DURATION:PT1H'),
      'event 1: there is no time zone “Nowhere/Here”',
    ],
    [calendar('DTEND:20261205T220000Z'), 'event 1: '],
  ])('%j is refused: %s', (text, words) => {
    expect(() => readWindows(text, year)).toThrow(WindowsError);
    expect(() => readWindows(text, year)).toThrow(words);
  });

  test('whatever comes is read or refused', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string(),
          fc.json(),
          fc.string().map((text) => calendar(text)),
        ),
        (text) => {
          try {
            readWindows(text, year);
          } catch (error) {
            expect(error).toBeInstanceOf(WindowsError);
          }
        },
      ),
    );
  });
});

test('the clocks of a zone show a time at its instant, also where they change', () => {
  const at = (hour: number, day: number, month: number) =>
    new Date(instantOf({ year: 2027, month, day, hour, minute: 30, second: 0 }, 'Europe/Berlin') ?? 0).toISOString();
  expect(at(12, 10, 1)).toBe('2027-01-10T11:30:00.000Z');
  expect(at(12, 10, 7)).toBe('2027-07-10T10:30:00.000Z');
  // never shown: 02:30 on the day clocks go forward
  expect(at(2, 28, 3)).toBe('2027-03-28T01:30:00.000Z');
  // shown twice: the first
  expect(at(2, 31, 10)).toBe('2027-10-31T00:30:00.000Z');
  expect(instantOf({ year: 2027, month: 1, day: 1, hour: 0, minute: 0, second: 0 }, 'Nowhere')).toBeNull();
  fc.assert(
    fc.property(fc.integer({ min: 1_600_000_000, max: 2_000_000_000 }), (seconds) => {
      const zone = 'America/New_York';
      const parts = Object.fromEntries(
        new Intl.DateTimeFormat('en-US', {
          timeZone: zone,
          hourCycle: 'h23',
          ...{
            year: 'numeric',
            month: 'numeric',
            day: 'numeric',
            hour: 'numeric',
            minute: 'numeric',
            second: 'numeric',
          },
        })
          .formatToParts(new Date(seconds * 1000))
          .map(({ type, value }) => [type, Number(value)]),
      ) as unknown as Parameters<typeof instantOf>[0];
      const found = instantOf(parts, zone) ?? 0;
      // an hour that is shown twice may be the other one
      expect([0, 3600]).toContain(seconds - found / 1000);
    }),
  );
});

test('waves go out as a calendar that reads as they are', () => {
  const wave = {
    start: Date.UTC(2026, 11, 5, 22),
    end: Date.UTC(2026, 11, 5, 22, 40),
    name: 'Wave 1: 2 devices',
    devices: ['sw-1', 'sw-2'],
  };
  const text = calendarOf([wave], year.from);
  expect(text).toContain('SUMMARY:Wave 1: 2 devices\r\n');
  expect(text).toMatch(/^BEGIN:VCALENDAR\r\n/);
  expect(readWindows(text, year)).toEqual([{ start: wave.start, end: wave.end }]);
});
