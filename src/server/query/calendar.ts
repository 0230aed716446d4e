import { and, asc, desc, eq, isNotNull } from 'drizzle-orm';
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
  scopeId: number | null;
  /** how many addresses it was to ask */
  asked: number;
}

/** One that is sealed; null where there is none of that number. */
export function sealedSurvey(db: Db, id: number): SealedSurvey | null {
  const row = db
    .select()
    .from(survey)
    .where(and(eq(survey.id, id), isNotNull(survey.sealedAt)))
    .get();
  if (!row) return null;
  const { startedAt, sealedAt, state, summary, scopeName, scopeId, asked } = row;
  return {
    id,
    startedAt,
    sealedAt: sealedAt ?? '',
    state,
    summary: summary as SealedSurvey['summary'],
    scopeName,
    scopeId,
    asked,
  };
}

/** Numbers of the newest that are sealed, newest first. */
export const newestSealed = (db: Db, most: number): number[] =>
  db
    .select({ id: survey.id })
    .from(survey)
    .where(isNotNull(survey.sealedAt))
    .orderBy(desc(survey.id))
    .limit(most)
    .all()
    .map(({ id }) => id);

type Scoped = Pick<SealedSurvey, 'id' | 'scopeName' | 'scopeId' | 'state'>;

/** Whether two surveys asked by the same scope: scopes may be renamed, and two may have had one name. */
const isSameScope = (one: Scoped, other: Scoped): boolean =>
  one.scopeId !== null && other.scopeId !== null ? one.scopeId === other.scopeId : one.scopeName === other.scopeName;

/**
 * The survey that another is compared with where nobody says otherwise: the last before it by the same scope that was not cut short. Null where there is none: what two
 * scopes found tells nothing of what changed.
 * @param surveys oldest first
 */
export function comparableIn<Survey extends Scoped>(surveys: readonly Survey[], id: number): Survey | null {
  const own = surveys.find((one) => one.id === id);
  if (!own) return null;
  return surveys.findLast((one) => one.id < id && one.state === 'sealed' && isSameScope(one, own)) ?? null;
}

/** When each survey was, and which one came before. */
export class Calendar {
  readonly #moments: Map<number, string>;
  readonly #ids: number[];
  readonly #sealed: Scoped[];

  constructor(db: Db) {
    const { id, startedAt, sealedAt, state, scopeName, scopeId } = survey;
    // without what each found: that is long, and there may be thousands
    const rows = db
      .select({ id, startedAt, sealedAt, state, scopeName, scopeId })
      .from(survey)
      .orderBy(asc(survey.id))
      .all();
    this.#moments = new Map(rows.map((row) => [row.id, row.startedAt]));
    this.#sealed = rows.filter((row) => row.sealedAt !== null);
    this.#ids = this.#sealed.map((row) => row.id);
  }

  momentOf = (surveyId: number): string => this.#moments.get(surveyId) ?? '';
  /** the sealed surveys after one and up to another, oldest first */
  between = (after: number, upTo: number): number[] => this.#ids.filter((id) => id > after && id <= upTo);
  /** with which survey it is compared where nobody says otherwise; 0 for none */
  comparable = (surveyId: number): number => comparableIn(this.#sealed, surveyId)?.id ?? 0;
  before = (surveyId: number): number => this.#ids.findLast((id) => id < surveyId) ?? 0;
}

/** The survey a request means: `latest` or a number that was sealed. Null if there is no such survey; 0 while there is none at all. */
export function surveyNumber(db: Db, text: string | null | undefined): number | null {
  if (!text || text === 'latest') return latestSealed(db);
  const number = Number(text);
  return Number.isSafeInteger(number) && sealedSurvey(db, number) ? number : null;
}
