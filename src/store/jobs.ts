import { and, asc, desc, eq, gt, inArray, isNull, lt, max, or } from 'drizzle-orm';
import { inTransaction, type Db } from './base/database';
import { job, survey } from './base/schema';

export type Job = typeof job.$inferSelect;

/** Who works on a job holds it for so long after each beat of its heart; then anybody may take it up. */
export const leaseMs = 10_000;
export const beatMs = 1000;

/** Who holds what was under way when a backup was made that was restored: nobody does it. */
export const restoredWorker = 'before the backup';

/** Another survey is queued or running: two at once would write the same facts. */
export class BusyError extends Error {
  constructor(readonly jobId: number) {
    super('A survey is running already: wait until it is sealed, or cancel it.');
    this.name = 'BusyError';
  }
}

const surveying = and(eq(job.kind, 'survey'), inArray(job.state, ['queued', 'running']));

/** What a survey job asks: a saved scope, files that were uploaded, or what collectors delivered after a survey was sealed. */
export type SurveyJobBody =
  | {
      scopeId: number;
      /** these of its addresses alone: what was just changed is looked at again */
      only?: string[];
    }
  | { late: number }
  | { upload: string; format: 'walks' | 'trees'; name: string };

/** What the test of a credential asks. */
export interface CredentialTestBody {
  credentialId: number;
  address: string;
  scopeId: number | null;
}

/** Queues a job of any kind. @returns its number */
export function queueJob(db: Db, kind: string, body: object, now = new Date()): number {
  return db
    .insert(job)
    .values({ kind, body, state: 'queued', createdAt: now.toISOString() })
    .returning({ id: job.id })
    .get().id;
}

/** Queues a survey. @throws BusyError */
export function queueSurvey(db: Db, body: SurveyJobBody): number {
  return inTransaction(db, () => {
    const busy = db.select().from(job).where(surveying).all()[0];
    if (busy) throw new BusyError(busy.id);
    return queueJob(db, 'survey', body);
  });
}

/** More surveys than this wait for each other only by mistake. */
const mostWaiting = 20;

/**
 * Queues a survey behind those that are queued or running: it begins when they are over. One that waits already and asks the same is not queued twice.
 * @throws BusyError where too many wait
 */
export function queueSurveyInTurn(db: Db, body: SurveyJobBody): number {
  return inTransaction(db, () => {
    const waiting = waitingSurveys(db);
    const same = waiting.find((row) => JSON.stringify(row.body) === JSON.stringify(body));
    if (same) return same.id;
    const [first] = waiting;
    if (first && waiting.length >= mostWaiting) throw new BusyError(first.id);
    return queueJob(db, 'survey', body);
  });
}

/** Surveys that wait for their turn, the next first. */
export const waitingSurveys = (db: Db): Job[] =>
  db
    .select()
    .from(job)
    .where(and(eq(job.kind, 'survey'), eq(job.state, 'queued')))
    .orderBy(asc(job.id))
    .all();

/** A survey run by the command line holds the same place as a queued one. @throws BusyError */
export function holdSurvey(db: Db, worker: string, now = Date.now()): number {
  return inTransaction(db, () => {
    const busy = db
      .select()
      .from(job)
      .where(surveying)
      .all()
      .find((row) => row.state === 'queued' || isHeld(row, now));
    if (busy) throw new BusyError(busy.id);
    return db
      .insert(job)
      .values({
        kind: 'survey',
        body: {},
        state: 'running',
        worker,
        leaseUntil: now + leaseMs,
        attempts: 1,
        createdAt: new Date(now).toISOString(),
      })
      .returning({ id: job.id })
      .get().id;
  });
}

/** Whether somebody is at work on a job, as far as the beats of hearts tell. */
const isHeld = ({ leaseUntil }: Pick<Job, 'leaseUntil'>, now: number): boolean =>
  leaseUntil !== null && leaseUntil >= now;

export interface TakenJob extends Job {
  /** another one had begun it, and its heart stopped */
  isTakenUp: boolean;
  /** who held it before */
  heldBefore: string | null;
}

/**
 * The next job of some kinds, held by a worker from now on: first those that others have left in their middle, then queued ones, each in the order they came.
 */
export function takeJob(db: Db, worker: string, kinds: readonly string[], now = Date.now()): TakenJob | null {
  const left = and(eq(job.state, 'running'), or(isNull(job.leaseUntil), lt(job.leaseUntil, now)));
  const takeable = and(inArray(job.kind, [...kinds]), or(eq(job.state, 'queued'), left));
  // mostly there is none: nobody need wait for the right to write to learn that
  if (!db.select({ id: job.id }).from(job).where(takeable).limit(1).get()) return null;
  return inTransaction(db, () => {
    const candidates = db.select().from(job).where(takeable).orderBy(asc(job.id)).all();
    // the command line may be at work on a survey: two at once would write the same facts
    const surveys = db
      .select()
      .from(job)
      .where(and(eq(job.kind, 'survey'), eq(job.state, 'running')))
      .all();
    const isBusy = surveys.some((row) => isHeld(row, now));
    const next =
      candidates.find(({ state }) => state === 'running') ??
      candidates.find(({ kind }) => kind !== 'survey' || !isBusy);
    if (!next) return null;
    const held = { state: 'running' as const, worker, leaseUntil: now + leaseMs, attempts: next.attempts + 1 };
    db.update(job).set(held).where(eq(job.id, next.id)).run();
    return { ...next, ...held, isTakenUp: next.state === 'running', heldBefore: next.worker };
  });
}

/** One beat of a worker's heart: it goes on holding what it works on. @returns the jobs it still holds, and whether somebody wants them cancelled */
export function beat(db: Db, worker: string, now = Date.now()): { id: number; cancelRequested: boolean }[] {
  return db
    .update(job)
    .set({ leaseUntil: now + leaseMs })
    .where(and(eq(job.worker, worker), eq(job.state, 'running')))
    .returning({ id: job.id, cancelRequested: job.cancelRequested })
    .all();
}

/** Gives back what a worker holds: it has ended, and others need not wait until that is plain. */
export function releaseJobs(db: Db, worker: string): void {
  db.update(job)
    .set({ leaseUntil: 0 })
    .where(and(eq(job.worker, worker), eq(job.state, 'running')))
    .run();
}

/** Ends a job, if it still is its worker's: one that others took up meanwhile is theirs. @returns whether it was */
export function endJob(
  db: Db,
  { id, worker }: Pick<Job, 'id' | 'worker'>,
  end: { state: 'done' | 'failed' | 'cancelled'; result?: unknown; error?: string },
  now = new Date(),
): boolean {
  const own = and(eq(job.id, id), worker === null ? undefined : eq(job.worker, worker));
  return inTransaction(db, () => {
    const ended = db
      .update(job)
      .set({ ...end, endedAt: now.toISOString() })
      .where(own)
      .returning({ surveyId: job.surveyId })
      .get();
    // what a survey had committed stays the newest that is known, and it is never sealed
    if (end.state === 'failed' && ended && ended.surveyId !== null) {
      db.update(survey)
        .set({ state: 'failed' })
        .where(and(eq(survey.id, ended.surveyId), eq(survey.state, 'running')))
        .run();
    }
    return ended !== undefined;
  });
}

/** A broken-off survey can be taken up only while none has begun after it: surveys are written in the order of their numbers. */
export function canResume(db: Db, { body, surveyId }: Pick<Job, 'body' | 'surveyId'>): boolean {
  const { scopeId, upload } = body as { scopeId?: number; upload?: string };
  if (scopeId === undefined && upload === undefined) return false;
  return surveyId === null || !db.select({ id: survey.id }).from(survey).where(gt(survey.id, surveyId)).limit(1).get();
}

export function updateJob(db: Db, id: number, change: Partial<Job>): void {
  db.update(job).set(change).where(eq(job.id, id)).run();
}

export function readJob(db: Db, id: number): Job | null {
  return db.select().from(job).where(eq(job.id, id)).get() ?? null;
}

export function activeJob(db: Db): Job | null {
  // the one at work before those that wait
  return db.select().from(job).where(surveying).orderBy(desc(job.state), asc(job.id)).get() ?? null;
}

const unended = inArray(job.state, ['queued', 'running']);

/** Asks for a job to be cancelled. @returns false where it has ended, or never was */
export function requestJobCancel(db: Db, id: number): boolean {
  const wish = db.update(job).set({ cancelRequested: true });
  return wish.where(and(eq(job.id, id), unended)).run().changes > 0;
}

/** Asks for the survey of a number to be cancelled. @returns false where it does not run */
export function requestCancel(db: Db, surveyId: number): boolean {
  const wish = db.update(job).set({ cancelRequested: true });
  return wish.where(and(eq(job.surveyId, surveyId), unended)).run().changes > 0;
}

export function lastJob(db: Db, scopeSurveyId: number): Job | null {
  return db.select().from(job).where(eq(job.surveyId, scopeSurveyId)).get() ?? null;
}

/** The newest survey job that succeeded; 0 while none has. */
export function lastDoneJob(db: Db): number {
  const done = and(eq(job.kind, 'survey'), eq(job.state, 'done'));
  return (
    db
      .select({ id: max(job.id) })
      .from(job)
      .where(done)
      .get()?.id ?? 0
  );
}

/** The latest job of a kind. */
export const lastOfKind = (db: Db, kind: string): Job | null =>
  db.select().from(job).where(eq(job.kind, kind)).orderBy(desc(job.id)).limit(1).get() ?? null;
