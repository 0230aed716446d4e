/** Days that are looked at: a number of the last ones, one day, or from one to another. */
export type HeardDays = readonly string[] | null;

const dayPattern = /^\d{4}-\d{2}-\d{2}$/;

/** Which of the days there are somebody means by `7`, `2026-10-03` or `2026-10-03..2026-10-07`; null for all of them. @param days all there are, the oldest first */
export function daysMeant(text: string | null, days: readonly string[]): HeardDays {
  if (!text) return null;
  const last = Number(text);
  if (Number.isInteger(last) && last > 0) return days.slice(-last);
  const [from = '', to = from] = text.split('..');
  if (!dayPattern.test(from) || !dayPattern.test(to)) return null;
  const [first, end] = from <= to ? [from, to] : [to, from];
  return days.filter((day) => day >= first && day <= end);
}

/** A filter of what was heard on any of some days, besides another. */
export function heardOn(where: string, days: HeardDays): string {
  if (!days) return where;
  // a day that never was finds nothing
  const term = `heard.day=${days.length > 0 ? days.join(',') : '1970-01-01'}`;
  return where.trim() ? `(${where}) ${term}` : term;
}

/** How a span of days is written in the address. */
export const spanOf = (one: string, other: string): string =>
  one === other ? one : one < other ? `${one}..${other}` : `${other}..${one}`;

const dayMs = 86_400_000;

/** The day so many days before another; before today where none is told. */
export const dayBefore = (day: string | undefined, count: number): string =>
  new Date((day === undefined ? Date.now() : Date.parse(day)) - count * dayMs).toISOString().slice(0, 10);
