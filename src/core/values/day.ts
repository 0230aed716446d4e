/** A day of the calendar as ISO 8601 writes it: `2026-11-23`. */
export function isDay(text: string): boolean {
  const moment = new Date(`${text}T00:00:00Z`);
  return /^\d{4}-\d{2}-\d{2}$/.test(text) && !Number.isNaN(moment.getTime()) && moment.toISOString().startsWith(text);
}

/** Whole days from one day of the calendar to another; below zero where the other lies before. */
export const daysBetween = (from: string, to: string): number =>
  Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000);

/** The day so many days after another. */
export const dayAfter = (day: string, days: number): string =>
  new Date(Date.parse(day) + days * 86_400_000).toISOString().slice(0, 10);
