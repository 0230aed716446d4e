const hoursADay = 24;
const dayMs = 86_400_000;
/** Days of one month are as far apart as this at least, those of one week as that. */
const [leastMonth, leastWeek] = [27, 6];
/** Of the days between the first and the last, so many make it every day. */
const mostDays = 0.9;

const weekdays = ['Sundays', 'Mondays', 'Tuesdays', 'Wednesdays', 'Thursdays', 'Fridays', 'Saturdays'];
const ordinal = (number: number): string => {
  const tens = number % 100;
  const ending = tens >= 11 && tens <= 13 ? 'th' : (['th', 'st', 'nd', 'rd'][number % 10] ?? 'th');
  return `${number}${ending}`;
};

/**
 * When something is said, in a few words: what is said once a month is easily missed, and is what breaks when a host is taken away.
 * @param hours hours since the epoch of whoever looks, in order
 * @returns empty where nothing was said
 */
export function rhythmOf(hours: readonly number[]): string {
  const days = [...new Set(hours.map((hour) => Math.floor(hour / hoursADay)))];
  const [first, last] = [days[0], days.at(-1)];
  if (first === undefined || last === undefined) return '';
  const at = timeOfDay(hours);
  if (days.length === 1) return ['on one day', at].filter(Boolean).join(', ');
  const dates = days.map((day) => new Date(day * dayMs));
  const gaps = days.slice(1).map((day, nth) => day - (days[nth] ?? day));
  const only = <Value>(values: Value[]): Value | undefined => (new Set(values).size === 1 ? values[0] : undefined);
  const ofMonth = only(dates.map((date) => date.getUTCDate()));
  if (ofMonth !== undefined && Math.min(...gaps) >= leastMonth) return join(`always on the ${ordinal(ofMonth)}`, at);
  const ofWeek = only(dates.map((date) => date.getUTCDay()));
  if (ofWeek !== undefined && Math.min(...gaps) >= leastWeek) return join(`always on ${weekdays[ofWeek]}`, at);
  const between = last - first + 1;
  return join(days.length >= between * mostDays ? 'every day' : `on ${days.length} of ${between} days`, at);
}

const join = (words: string, at: string): string => (at ? `${words}, ${at}` : words);

/** Told where it is always the same hour of the day. */
function timeOfDay(hours: readonly number[]): string {
  const times = new Set(hours.map((hour) => hour % hoursADay));
  const [only] = times;
  return times.size === 1 && only !== undefined ? `at ${String(only).padStart(2, '0')}:00` : '';
}
