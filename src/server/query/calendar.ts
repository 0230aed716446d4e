import { asc, isNotNull } from 'drizzle-orm';
import { latestSealed } from '../../store/base/sealedSurveys';
import type { Db } from '../../store/base/database';
import { survey } from '../../store/base/schema';

/** The surveys one can look back at, oldest first. */
export interface SealedSurvey {
  id: number;
  startedAt: string;
  sealedAt: string;
  state: string;
  summary: {
    changes?: number;
    addresses: { asked: number; answered: number; silent: number };
    devices: Record<string, number>;
    seconds: number;
    /** what else its summary says */
    [more: string]: unknown;
  };
  scopeName: string;
}

export function sealedSurveys(db: Db): SealedSurvey[] {
  return db
    .select()
    .from(survey)
    .where(isNotNull(survey.sealedAt))
    .orderBy(asc(survey.id))
    .all()
    .map(({ id, startedAt, sealedAt, state, summary, scopeName }) => ({
      id,
      startedAt,
      sealedAt: sealedAt ?? '',
      state,
      summary: summary as SealedSurvey['summary'],
      scopeName,
    }));
}

/** When each survey was, and which one came before. */
export class Calendar {
  readonly #moments: Map<number, string>;
  readonly #ids: number[];

  constructor(db: Db) {
    const rows = db.select({ id: survey.id, startedAt: survey.startedAt }).from(survey).orderBy(asc(survey.id)).all();
    this.#moments = new Map(rows.map(({ id, startedAt }) => [id, startedAt]));
    this.#ids = sealedSurveys(db).map(({ id }) => id);
  }

  momentOf = (surveyId: number): string => this.#moments.get(surveyId) ?? '';
  /** the sealed surveys after one and up to another, oldest first */
  between = (after: number, upTo: number): number[] => this.#ids.filter((id) => id > after && id <= upTo);
  before = (surveyId: number): number => this.#ids.findLast((id) => id < surveyId) ?? 0;
}

/** The survey a request means: `latest` or a number that was sealed. Null if there is no such survey; 0 while there is none at all. */
export function surveyNumber(db: Db, text: string | null | undefined): number | null {
  if (!text || text === 'latest') return latestSealed(db);
  const number = Number(text);
  return sealedSurveys(db).some(({ id }) => id === number) ? number : null;
}
