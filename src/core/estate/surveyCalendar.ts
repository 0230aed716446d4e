/**
 * When something is done of itself, as a person chooses it. It is kept as lines of five fields (minute, hour, day of the month,
 * month, day of the week, as IEEE Std 1003.1 has them for crontab), one or several: due is what any of them says.
 */
export type SurveyCalendar =
  | { kind: 'byHand' }
  /** every so many hours, so many minutes after the full one */
  | { kind: 'hours'; every: number; minute: number }
  /** on days of the week, 1 Monday to 7 Sunday, at times of the day, `06:00` */
  | { kind: 'week'; days: number[]; times: string[] }
  /** on days of the month, 1 to 31 */
  | { kind: 'month'; days: number[]; times: string[] }
  /** what somebody wrote that cannot be chosen here */
  | { kind: 'written'; text: string };

export const weekdays = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;
export const everyHours = [1, 2, 3, 4, 6, 8, 12] as const;

const everyDay = [1, 2, 3, 4, 5, 6, 7];

/** A calendar from what is kept of it. */
export function readCalendar(text: string): SurveyCalendar {
  const lines = linesOf(text);
  if (lines.length === 0) return { kind: 'byHand' };
  const written: SurveyCalendar = { kind: 'written', text: lines.join('\n') };
  const [only] = lines;
  if (lines.length === 1 && only) {
    const [, minute, every] = /^(\d{1,2}) \*(?:\/(\d{1,2}))? \* \* \*$/.exec(only) ?? [];
    const hours = Number(every ?? 1);
    if (minute !== undefined && Number(minute) < 60 && (everyHours as readonly number[]).includes(hours)) {
      return { kind: 'hours', every: hours, minute: Number(minute) };
    }
  }
  const parts = lines.map(partOf);
  const [first] = parts;
  if (!first || parts.some((part) => part?.days !== first.days)) return written;
  const times = [...new Set(parts.flatMap((part) => part?.times ?? []))].sort();
  const days = first.of === 'week' ? weekdaysOf(first.days) : numbersOf(first.days, 1, 31);
  return days === null || times.length === 0 ? written : { kind: first.of, days, times };
}

/** A calendar as it is kept: times that share their minute stand in one line. */
export function writeCalendar(calendar: SurveyCalendar): string {
  switch (calendar.kind) {
    case 'byHand':
      return '';
    case 'written':
      return calendar.text;
    case 'hours':
      return `${calendar.minute} ${calendar.every === 1 ? '*' : `*/${calendar.every}`} * * *`;
    default: {
      const { days, times, kind } = calendar;
      const listed = [...new Set(days)].sort((one, other) => one - other).join(',');
      const hours = new Map<number, number[]>();
      for (const time of [...new Set(times)].sort()) {
        const [hour = 0, minute = 0] = time.split(':').map(Number);
        hours.set(minute, [...(hours.get(minute) ?? []), hour]);
      }
      // Sunday is 7 here and there
      const on = kind === 'month' ? `${listed} * *` : `* * ${listed === everyDay.join(',') ? '*' : listed}`;
      return Array.from(hours, ([minute, some]) => `${minute} ${some.join(',')} ${on}`).join('\n');
    }
  }
}

/** What is wrong with a calendar as it is chosen, in words; null for nothing. */
export function calendarMistake(calendar: SurveyCalendar): string | null {
  if (calendar.kind !== 'week' && calendar.kind !== 'month') return null;
  if (calendar.days.length === 0) return 'Choose at least one day';
  if (calendar.times.length === 0) return 'Give at least one time';
  const odd = calendar.times.find((time) => !isTime(time));
  return odd === undefined ? null : `“${odd}” is no time of the day: write it like 06:00`;
}

export const isTime = (text: string): boolean => /^([01]\d|2[0-3]):[0-5]\d$/.test(text);

/** A calendar in words: `Monday to Friday at 06:00 and 18:00`. */
export function calendarWords(text: string): string {
  const calendar = readCalendar(text);
  switch (calendar.kind) {
    case 'byHand':
      return 'by hand only';
    case 'written':
      return 'by a rule that a script wrote';
    case 'hours': {
      const every = calendar.every === 1 ? 'every hour' : `every ${calendar.every} hours`;
      return `${every}, at minute ${calendar.minute}`;
    }
    case 'week':
      return `${weekdayWords(calendar.days)} at ${listed(calendar.times)}`;
    case 'month':
      return `on day ${listed(calendar.days.map(String))} of the month at ${listed(calendar.times)}`;
  }
}

function weekdayWords(days: readonly number[]): string {
  if (days.length === 7) return 'every day';
  const [first = 1, last = 1] = [days[0], days.at(-1)];
  const nameOf = (day: number) => weekdays[day - 1] ?? '';
  if (days.length > 2 && last - first === days.length - 1) return `${nameOf(first)} to ${nameOf(last)}`;
  return listed(days.map(nameOf));
}

const listed = (words: readonly string[]): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words.at(-1) ?? ''}`;

const linesOf = (text: string): string[] =>
  text
    .split('\n')
    .map((line) => line.trim().replace(/\s+/g, ' '))
    .filter(Boolean);

/** The times of a line, and the days as they are written; null where it is of another make. */
function partOf(line: string): { of: 'week' | 'month'; days: string; times: string[] } | null {
  const [minute = '', hour = '', day = '', month = '', weekday = '', ...more] = line.split(' ');
  const [minutes, hours] = [numbersOf(minute, 0, 59), numbersOf(hour, 0, 23)];
  if (more.length > 0 || month !== '*' || minutes === null || hours === null) return null;
  const two = (number: number) => String(number).padStart(2, '0');
  const times = hours.flatMap((one) => minutes.map((other) => `${two(one)}:${two(other)}`));
  if (day === '*') return { of: 'week', days: weekday, times };
  return weekday === '*' ? { of: 'month', days: day, times } : null;
}

function weekdaysOf(text: string): number[] | null {
  if (text === '*') return everyDay;
  const days = numbersOf(text, 0, 7);
  return days && [...new Set(days.map((day) => (day === 0 ? 7 : day)))].sort((one, other) => one - other);
}

/** Numbers and ranges with commas between; null where they are something else. */
function numbersOf(text: string, least: number, most: number): number[] | null {
  const numbers: number[] = [];
  for (const part of text.split(',')) {
    const [, from, to] = /^(\d{1,2})(?:-(\d{1,2}))?$/.exec(part) ?? [];
    if (from === undefined) return null;
    const [low, high] = [Number(from), Number(to ?? from)];
    if (low < least || high > most || low > high) return null;
    for (let number = low; number <= high; number++) numbers.push(number);
  }
  return numbers;
}
