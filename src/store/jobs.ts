import { and, asc, eq, gt, inArray } from 'drizzle-orm';
import type { Db } from './base/database';
import { job, survey } from './base/schema';

export type Job = typeof job.$inferSelect;

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
  { scopeId: number } | { late: number } | { upload: string; format: 'walks' | 'trees'; name: string };

/** Queues a survey. @throws BusyError */
export function queueSurvey(db: Db, body: SurveyJobBody): number {
  return db.transaction(
    (tx) => {
      const busy = tx.select().from(job).where(surveying).all()[0];
      if (busy) throw new BusyError(busy.id);
      return tx
        .insert(job)
        .values({ kind: 'survey', body, state: 'queued', createdAt: new Date().toISOString() })
        .returning({ id: job.id })
        .get().id;
    },
    { behavior: 'immediate' },
  );
}

/** A survey run by the command line holds the same place as a queued one. @throws BusyError */
export function holdSurvey(db: Db, pid: number): number {
  return db.transaction(
    (tx) => {
      const busy = tx
        .select()
        .from(job)
        .where(surveying)
        .all()
        .find((row) => row.workerPid === null || isAlive(row.workerPid));
      if (busy) throw new BusyError(busy.id);
      return tx
        .insert(job)
        .values({ kind: 'survey', body: {}, state: 'running', workerPid: pid, createdAt: new Date().toISOString() })
        .returning({ id: job.id })
        .get().id;
    },
    { behavior: 'immediate' },
  );
}

/** Queues the test of a credential at an address; it waits for no survey. */
export function queueTest(db: Db, body: { credentialId: number; address: string; scopeId: number | null }): number {
  return db
    .insert(job)
    .values({ kind: 'credentialTest', body, state: 'queued', createdAt: new Date().toISOString() })
    .returning({ id: job.id })
    .get().id;
}

export function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}

export type JobKind = 'survey' | 'credentialTest' | 'portLook' | 'portAct';

/** The next queued job of a kind, marked as this process's own. */
export function takeJob(db: Db, pid: number, kind: JobKind = 'survey'): Job | null {
  return db.transaction(
    (tx) => {
      const next = tx
        .select()
        .from(job)
        .where(and(eq(job.kind, kind), eq(job.state, 'queued')))
        .orderBy(asc(job.id))
        .limit(1)
        .get();
      if (!next) return null;
      tx.update(job).set({ state: 'running', workerPid: pid }).where(eq(job.id, next.id)).run();
      return { ...next, state: 'running' as const, workerPid: pid };
    },
    { behavior: 'immediate' },
  );
}

/** Jobs whose process is gone: they were broken off and are to be resumed or given up. */
export function abandonedJobs(db: Db): Job[] {
  return db
    .select()
    .from(job)
    .where(eq(job.state, 'running'))
    .all()
    .filter(({ workerPid }) => workerPid === null || !isAlive(workerPid));
}

/** Gives a broken-off job up. Its survey is failed, never sealed; what it had committed stays the newest that is known. */
export function giveUpJob(db: Db, broken: Job, error: string): void {
  db.transaction(
    (tx) => {
      tx.update(job)
        .set({ state: 'failed', error, endedAt: new Date().toISOString() })
        .where(eq(job.id, broken.id))
        .run();
      if (broken.surveyId !== null)
        tx.update(survey)
          .set({ state: 'failed' })
          .where(and(eq(survey.id, broken.surveyId), eq(survey.state, 'running')))
          .run();
    },
    { behavior: 'immediate' },
  );
}

/** A broken-off survey can be taken up only while none has begun after it: surveys are written in the order of their numbers. */
export function canResume(db: Db, { body, surveyId }: Job): boolean {
  if ((body as { scopeId?: number }).scopeId === undefined && (body as { upload?: string }).upload === undefined)
    return false;
  return surveyId === null || !db.select({ id: survey.id }).from(survey).where(gt(survey.id, surveyId)).limit(1).get();
}

export function updateJob(db: Db, id: number, change: Partial<Job>): void {
  db.update(job).set(change).where(eq(job.id, id)).run();
}

export function readJob(db: Db, id: number): Job | null {
  return db.select().from(job).where(eq(job.id, id)).get() ?? null;
}

export function activeJob(db: Db): Job | null {
  return db.select().from(job).where(surveying).get() ?? null;
}

export function requestCancel(db: Db, surveyId: number): boolean {
  return (
    db
      .update(job)
      .set({ cancelRequested: true })
      .where(and(eq(job.surveyId, surveyId), inArray(job.state, ['queued', 'running'])))
      .run().changes > 0
  );
}

export function lastJob(db: Db, scopeSurveyId: number): Job | null {
  return db.select().from(job).where(eq(job.surveyId, scopeSurveyId)).get() ?? null;
}
