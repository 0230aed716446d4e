import type { Store } from '../../store/base/database';
import { invalid } from '../access/problem';
import { surveyNumber } from './calendar';

/** The sealed survey a request means; 0 while there is none at all. @throws Problem where there is no such survey */
export function surveyAsked({ db }: Store, { survey }: { survey?: string | null | undefined }): number {
  const found = surveyNumber(db, survey);
  if (found === null) throw invalid([{ path: 'survey', message: `There is no sealed survey “${survey ?? ''}”` }]);
  return found;
}

/** The survey a request looks at, and the one it compares it with. @throws Problem where there is no such survey */
export function momentsAsked(
  store: Store,
  asked: { survey?: string | undefined; against?: string | undefined },
): { survey: number; against: number | null } {
  const survey = surveyAsked(store, asked);
  if (!asked.against) return { survey, against: null };
  const against = surveyNumber(store.db, asked.against);
  if (against === null) throw invalid([{ path: 'against', message: `There is no sealed survey “${asked.against}”` }]);
  return { survey, against };
}

/** The newest sealed survey; 0 while there is none. */
export const newestSurvey = ({ db }: Store): number => surveyNumber(db, 'latest') ?? 0;
