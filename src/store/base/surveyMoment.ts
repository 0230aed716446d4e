import { statements } from './statements';
import type { Db } from './database';

/** Two looks at the same event may tell moments this far apart: a survey takes its time, and clocks drift. */
const toleranceSeconds = 300;

export const isSameMoment = (one: number, other: number): boolean => Math.abs(one - other) <= toleranceSeconds;

const of = statements(({ $client }) => ({
  start: $client.prepare<[number], { startedAt: string }>('select started_at as startedAt from survey where id = ?'),
}));

/** When a survey began, in seconds since the epoch. */
export function surveySeconds(db: Db, surveyId: number): number {
  return Math.round(Date.parse(of(db).start.get(surveyId)?.startedAt ?? '') / 1000) || 0;
}
