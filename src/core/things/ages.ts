/** A span of ages of a moment: from so many days ago to so many days ago. */
export interface AgeSpan {
  label: string;
  /** the moment itself is in the span, as a day (`2026-11-23`); null where it reaches back without end */
  from: string | null;
  /** the first day that is not */
  before: string | null;
  count: number;
}

const spans: [label: string, days: number][] = [
  ['7 days', 7],
  ['30 days', 30],
  ['90 days', 90],
  ['a year', 365],
];
const dayMs = 86_400_000;

/**
 * How many rows have a moment of which age, counted from a day on backwards; rows without one are left out.
 * @param shares moments as ISO texts, with how many rows have each
 * @param now the moment from which ages count, as an ISO text
 */
export function ageSpans(shares: { value: string; count: number }[], now: string): AgeSpan[] {
  const day = (daysAgo: number) =>
    new Date(Math.floor(Date.parse(now) / dayMs) * dayMs - (daysAgo - 1) * dayMs).toISOString().slice(0, 10);
  const made: AgeSpan[] = spans.map(([label, days], at) => ({
    label: at === 0 ? `last ${label}` : `up to ${label}`,
    from: day(days),
    before: at === 0 ? null : day(spans[at - 1]?.[1] ?? 0),
    count: 0,
  }));
  made.push({ label: 'older', from: null, before: day(spans.at(-1)?.[1] ?? 0), count: 0 });
  for (const { value, count } of shares) {
    if (value === '') continue;
    const span = made.find(({ from }) => from === null || Date.parse(value) >= Date.parse(from));
    if (span) span.count += count;
  }
  return made;
}
