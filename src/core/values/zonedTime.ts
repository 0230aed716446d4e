/** What a clock on the wall of a time zone shows. */
export interface WallTime {
  year: number;
  /** 1 to 12 */
  month: number;
  day: number;
  hour: number;
  minute: number;
  second: number;
}

const formats = new Map<string, Intl.DateTimeFormat | null>();

function formatOf(zone: string): Intl.DateTimeFormat | null {
  let known = formats.get(zone);
  if (known === undefined) {
    try {
      known = new Intl.DateTimeFormat('en-US', {
        timeZone: zone,
        hourCycle: 'h23',
        ...{ year: 'numeric', month: 'numeric', day: 'numeric', hour: 'numeric', minute: 'numeric', second: 'numeric' },
      });
    } catch {
      known = null;
    }
    formats.set(zone, known);
  }
  return known;
}

/** Whether there is such a zone in the database of time zones (IANA). */
export const isTimeZone = (zone: string): boolean => formatOf(zone) !== null;

/** How far a zone is ahead of UTC at an instant, in milliseconds. */
function aheadAt(format: Intl.DateTimeFormat, instant: number): number {
  const parts = Object.fromEntries(
    format.formatToParts(new Date(instant)).map(({ type, value }) => [type, Number(value)]),
  );
  const { year = 0, month = 1, day = 1, hour = 0, minute = 0, second = 0 } = parts;
  return Date.UTC(year, month - 1, day, hour, minute, second) - Math.floor(instant / 1000) * 1000;
}

/**
 * The instant at which the clocks of a zone show a time, in milliseconds since the epoch. A time that is shown twice, when clocks go back, is the first; one that is never shown is as much later as the clocks went forward.
 * @returns null where there is no such zone
 */
export function instantOf({ year, month, day, hour, minute, second }: WallTime, zone: string): number | null {
  const format = formatOf(zone);
  if (!format) return null;
  const asUtc = Date.UTC(year, month - 1, day, hour, minute, second);
  const dayMs = 86_400_000;
  // what holds the day before, and the day after: one of them holds at that time, or the clocks change between
  const [before, after] = [aheadAt(format, asUtc - dayMs), aheadAt(format, asUtc + dayMs)];
  const early = asUtc - before;
  return aheadAt(format, early) === before ? early : aheadAt(format, asUtc - after) === after ? asUtc - after : early;
}
