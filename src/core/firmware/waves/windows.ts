import ICAL from 'ical.js';
import { instantOf, isTimeZone } from '../../values/zonedTime';
import { joinedWindows, type WaveWindow } from './plan';

/** Windows that cannot be read: where, and why. */
export class WindowsError extends Error {
  override name = 'WindowsError';
}

/** Within which time windows are looked for, and which zone times without one are in. */
export interface WindowsAsked {
  /** milliseconds since the epoch */
  from: number;
  until: number;
  /** as the database of time zones names it */
  zone: string;
}

const mostLetters = 2_000_000;
const mostWindows = 1000;
/** A rule that repeats for ever is followed so far. */
const mostRepeats = 20_000;
const dayMs = 86_400_000;

/**
 * Windows in which one may work: a calendar (iCalendar, RFC 5545: each event is a window, repeated ones as often as they come, times in the zone they name), or a list in JSON, `[{"start": …, "end": …}]` with moments as ISO 8601 writes them.
 * @returns those that are not over, in their order, joined where they overlap
 * @throws WindowsError
 */
export function readWindows(text: string, asked: WindowsAsked): WaveWindow[] {
  if (text.length > mostLetters) throw new WindowsError('The file of windows is larger than 2 MB');
  if (!isTimeZone(asked.zone)) throw new WindowsError(`There is no time zone “${asked.zone}”`);
  const body = text.replace(/^\ufeff/, '').trim();
  const found = body.startsWith('[') ? ofList(body, asked) : ofCalendar(body, asked);
  const open = found.filter(({ end }) => end > asked.from).filter(({ start }) => start < asked.until);
  if (open.length > mostWindows) throw new WindowsError(`There are more than ${mostWindows} windows`);
  return joinedWindows(open.map(({ start, end }) => ({ start: Math.max(start, asked.from), end })));
}

function ofList(body: string, { zone }: WindowsAsked): WaveWindow[] {
  let list: unknown;
  try {
    list = JSON.parse(body);
  } catch (error) {
    throw new WindowsError(`The windows are no JSON: ${(error as Error).message}`);
  }
  return (list as unknown[]).map((one, at) => {
    const where = `window ${at + 1}`;
    const { start, end } = (one ?? {}) as { start?: unknown; end?: unknown };
    const window = { start: momentOf(start, zone, `${where}, start`), end: momentOf(end, zone, `${where}, end`) };
    if (window.end <= window.start) throw new WindowsError(`${where}: it ends before it begins`);
    return window;
  });
}

const isoText = /^(\d{4})-(\d\d)-(\d\d)(?:[T ](\d\d):(\d\d)(?::(\d\d)(?:\.\d+)?)?)?(Z|[+-]\d\d:?\d\d)?$/;

function momentOf(value: unknown, zone: string, where: string): number {
  const parts = typeof value === 'string' ? isoText.exec(value.trim()) : null;
  if (!parts) throw new WindowsError(`${where}: write a moment like 2026-12-05T22:00:00+01:00`);
  const [, year, month, day, hour = '0', minute = '0', second = '0', offset] = parts;
  const [y, mo, d, h, mi, s] = [year, month, day, hour, minute, second].map(Number) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  if (new Date(Date.UTC(y, mo - 1, d)).getUTCMonth() !== mo - 1 || h > 24 || mi > 59 || s > 60)
    throw new WindowsError(`${where}: there is no such moment`);
  if (!offset) return instantOf({ year: y, month: mo, day: d, hour: h, minute: mi, second: s }, zone) ?? 0;
  const sign = offset.startsWith('-') ? -1 : 1;
  const digits = offset.replace(/\D/g, '');
  const ahead = offset === 'Z' ? 0 : sign * (Number(digits.slice(0, 2)) * 60 + Number(digits.slice(2)));
  return Date.UTC(y, mo - 1, d, h, mi, s) - ahead * 60_000;
}

function ofCalendar(body: string, asked: WindowsAsked): WaveWindow[] {
  let calendar: ICAL.Component;
  let events: ICAL.Component[];
  try {
    calendar = new ICAL.Component(ICAL.parse(body) as unknown[]);
    events = calendar.getAllSubcomponents('vevent');
  } catch (error) {
    throw new WindowsError(`The windows are no calendar and no list in JSON: ${firstLine(error)}`);
  }
  if (calendar.name !== 'vcalendar' || events.length === 0) throw new WindowsError('The calendar has no events');
  return events.flatMap((component, nth) => {
    const words = `event ${nth + 1}`;
    try {
      return windowsOf(new ICAL.Event(component), asked, words);
    } catch (error) {
      if (error instanceof WindowsError) throw error;
      throw new WindowsError(`${words}: ${firstLine(error)}`);
    }
  });
}

const firstLine = (error: unknown): string => (error as Error).message.split('\n')[0]?.slice(0, 200) ?? '';

function windowsOf(event: ICAL.Event, asked: WindowsAsked, words: string): WaveWindow[] {
  if (!event.startDate) throw new WindowsError(`${words}: it does not say when it begins`);
  const status = event.component.getFirstPropertyValue('status');
  if (status === 'CANCELLED') return [];
  // what repeats has lost the name of its zone by then
  const named = event.component.getFirstProperty('dtstart')?.getFirstParameter('tzid');
  const instant = (time: ICAL.Time) => instantIn(time, named || asked.zone, words);
  const windowAt = (start: ICAL.Time, end: ICAL.Time): WaveWindow => {
    const window = { start: instant(start), end: instant(end) };
    if (window.end <= window.start) throw new WindowsError(`${words}: it ends before it begins`);
    return window;
  };
  if (!event.isRecurring()) return [windowAt(event.startDate, event.endDate)];
  const found: WaveWindow[] = [];
  const repeats = event.iterator();
  const length = event.duration;
  for (let nth = 0; nth < mostRepeats; nth++) {
    const next = repeats.next() as ICAL.Time | null;
    const start = next ? instant(next) : Infinity;
    if (!next || start >= asked.until || found.length > mostWindows) return found;
    // clocks may change within it: the day around it is looked at more closely
    if (start + length.toSeconds() * 1000 < asked.from - dayMs) continue;
    const end = next.clone();
    end.addDuration(length);
    const window = windowAt(next, end);
    if (window.end > asked.from) found.push(window);
  }
  throw new WindowsError(`${words}: it repeats more than ${mostRepeats} times before it is over`);
}

/** Times of a zone that the calendar describes are as it says; others are looked up by the name of their zone. */
function instantIn(time: ICAL.Time, zone: string, words: string): number {
  const { year, month, day, hour, minute, second } = time;
  const named = (time as ICAL.Time & { timezone?: string }).timezone || zone;
  const known = time.zone as ICAL.Timezone | null;
  if (known && known !== ICAL.Timezone.localTimezone) return time.toUnixTime() * 1000;
  const instant = instantOf({ year, month, day, hour, minute, second }, named);
  if (instant === null) throw new WindowsError(`${words}: there is no time zone “${named}”`);
  return instant;
}

/** A wave as a calendar has it. */
export interface CalendarWave extends WaveWindow {
  name: string;
  devices: readonly string[];
}

/** Waves as a calendar (RFC 5545), an event each, in UTC. @param stamp when it was written, milliseconds since the epoch */
export function calendarOf(waves: readonly CalendarWave[], stamp: number): string {
  const calendar = new ICAL.Component('vcalendar');
  calendar.updatePropertyWithValue('version', '2.0');
  calendar.updatePropertyWithValue('prodid', '-//Bolide//waves//EN');
  for (const { start, end, name, devices } of waves) {
    const event = new ICAL.Component('vevent');
    const at = (moment: number) => ICAL.Time.fromJSDate(new Date(moment), true);
    event.updatePropertyWithValue('uid', `${start}-${end}@waves.bolide`);
    event.updatePropertyWithValue('dtstamp', at(stamp));
    event.updatePropertyWithValue('dtstart', at(start));
    event.updatePropertyWithValue('dtend', at(end));
    event.updatePropertyWithValue('summary', name);
    event.updatePropertyWithValue('description', devices.join(', '));
    calendar.addSubcomponent(event);
  }
  return `${calendar.toString()}\r\n`;
}
