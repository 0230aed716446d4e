/** Hours of the day in which no scheduled survey begins, in minutes from midnight, local time. `to` may lie behind midnight. */
export interface QuietHours {
  from: number;
  to: number;
}

/** Reads `08:00-18:00` or `22:00-05:30`. Null for anything else. */
export function parseQuietHours(text: string): QuietHours | null {
  const match = /^\s*(\d{1,2}):(\d{2})\s*(?:-|–|to)\s*(\d{1,2}):(\d{2})\s*$/.exec(text);
  if (!match) return null;
  const [fromHour = 0, fromMinute = 0, toHour = 0, toMinute = 0] = match.slice(1).map(Number);
  if (fromHour > 23 || toHour > 24 || fromMinute > 59 || toMinute > 59) return null;
  const [from, to] = [fromHour * 60 + fromMinute, toHour * 60 + toMinute];
  return from === to || to > 1440 ? null : { from, to };
}

/** Whether a minute of the day (0 to 1439) lies in any of the hours. The first minute does, the last does not. */
export function isQuiet(minute: number, hours: QuietHours[]): boolean {
  return hours.some(({ from, to }) => (from < to ? minute >= from && minute < to : minute >= from || minute < to));
}
