import { listScopes } from '../../store/scopes';
import { comparableIn } from '../query/calendar';
import { and, desc, eq, gt, ne } from 'drizzle-orm';
import type { Db } from '../../store/base/database';
import { activeJob, lastJob, waitingSurveys } from '../../store/jobs';
import { survey, visit } from '../../store/base/schema';
import { statements } from '../../store/base/statements';

const of = statements(({ $client }) => ({
  counts: $client.prepare<[number], { done: number; answered: number; silent: number }>(`
    select coalesce(sum(state = 'done'), 0) as done, coalesce(sum(outcome in ('answered', 'partial')), 0) as answered, coalesce(sum(outcome = 'silent'), 0) as silent from visit where survey_id = ?`),
}));

/** How far a survey is: what the live list and the foot line show. */
export interface SurveyProgress {
  id: number;
  state: string;
  phase: string;
  scopeName: string;
  startedAt: string;
  sealedAt: string | null;
  asked: number;
  done: number;
  answered: number;
  silent: number;
  secondsLeft: number | null;
  cancelRequested: boolean;
  error: string | null;
  summary: unknown;
}

export interface VisitProgress {
  address: string;
  seq: number;
  state: string;
  outcome: string | null;
  credential: string | null;
  reason: string | null;
  remedy: string | null;
  phases: Record<string, number> | null;
  seconds: number | null;
  deviceId: number | null;
}

export function surveyProgress(db: Db, id: number): SurveyProgress | null {
  const row = db.select().from(survey).where(eq(survey.id, id)).get();
  if (!row) return null;
  const { done, answered, silent } = of(db).counts.get(id) ?? { done: 0, answered: 0, silent: 0 };
  const job = lastJob(db, id);
  const elapsed = (Date.now() - Date.parse(row.startedAt)) / 1000;
  return {
    id,
    state: row.state,
    phase: row.phase,
    scopeName: row.scopeName,
    startedAt: row.startedAt,
    sealedAt: row.sealedAt,
    asked: row.asked,
    done,
    answered,
    silent,
    secondsLeft:
      row.state === 'running' && done > 0 ? Math.max(0, Math.round((elapsed / done) * (row.asked - done))) : null,
    cancelRequested: job?.cancelRequested ?? false,
    error: job?.error ?? null,
    summary: row.summary,
  };
}

/** Visits of a survey that runs, or was the last, written after `seq`, oldest first: a reader that remembers the last number misses none. */
export function visitsAfter(db: Db, surveyId: number, seq: number): VisitProgress[] {
  return db
    .select()
    .from(visit)
    .where(and(eq(visit.surveyId, surveyId), gt(visit.seq, seq)))
    .orderBy(visit.seq)
    .limit(2000)
    .all()
    .map(({ address, seq: number, state, outcome, credential, reason, remedy, phases, milliseconds, deviceId }) => ({
      address,
      seq: number,
      state,
      outcome,
      credential,
      reason,
      remedy,
      phases: phases as Record<string, number> | null,
      seconds: milliseconds === null ? null : milliseconds / 1000,
      deviceId,
    }));
}

interface WaitingBody {
  scopeId: number;
  name: string;
}

/** What a survey that waits will ask. */
function wordsOfWaiting(db: Db, { scopeId, name }: Partial<WaitingBody>): string {
  if (scopeId !== undefined) return listScopes(db).find(({ id }) => id === scopeId)?.scope.name ?? `scope ${scopeId}`;
  return name ?? 'what was delivered late';
}

/** Past and running surveys, newest first, and the job that is waiting or at work. */
export function surveyList(db: Db) {
  const rows = db.select().from(survey).where(ne(survey.state, 'thinned')).orderBy(desc(survey.id)).limit(500).all();
  const sealed = rows.filter(({ sealedAt }) => sealedAt !== null).reverse();
  const job = activeJob(db);
  const progress = job?.surveyId ? surveyProgress(db, job.surveyId) : null;
  return {
    rows: rows.map(({ id, scopeName, state, startedAt, sealedAt, asked, summary }) => ({
      id,
      scopeName,
      comparedWith: comparableIn(sealed, id)?.id ?? null,
      state,
      startedAt,
      sealedAt,
      asked,
      summary,
    })),
    total: rows.length,
    /** surveys that wait for the one at work, the next first */
    waiting: waitingSurveys(db)
      .filter(({ id }) => id !== job?.id)
      .map(({ id, body }) => ({ jobId: id, words: wordsOfWaiting(db, body as Partial<WaitingBody>) })),
    active: job && {
      jobId: job.id,
      state: job.state,
      surveyId: job.surveyId,
      progress: progress && { asked: progress.asked, done: progress.done, secondsLeft: progress.secondsLeft },
    },
  };
}
