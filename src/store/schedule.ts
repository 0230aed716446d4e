import { Cron } from 'croner';
import { and, desc, eq, gt, ne } from 'drizzle-orm';
import { isQuiet, parseQuietHours, type QuietHours } from '../core/estate/quietHours';
import type { ScopeText } from '../core/estate/scope';
import type { Db } from './base/database';
import { BusyError, queueSurvey } from './jobs';
import { scheduledRun, setting } from './base/schema';
import { listScopes } from './scopes';

/** Started later than this, a run counts as missed. */
const graceMs = 10 * 60_000;
/** What was due earlier than this, while nobody was there, is not counted one by one. */
const longestLookBackMs = 8 * 86_400_000;

/** The first moment after another at which a calendar is due, of several lines the earliest; null where a line is no calendar or none is ever due again. */
export function nextDue(schedule: string, after: Date): Date | null {
  try {
    const dues = schedule
      .split('\n')
      .filter((line) => line.trim() !== '')
      .map((line) => new Cron(line.trim(), { paused: true }).nextRun(after));
    const times = dues.flatMap((due) => (due === null ? [] : [due.getTime()]));
    return times.length === 0 ? null : new Date(Math.min(...times));
  } catch {
    return null;
  }
}

/** The next moments at which something begins of itself: quiet hours are left out. */
export function nextRuns(schedule: string, quietHours: readonly string[], after: Date, most: number): Date[] {
  const quiet = quietHours.flatMap((line) => parseQuietHours(line) ?? []);
  const runs: Date[] = [];
  let next = nextDue(schedule, after);
  for (let tries = 0; next && runs.length < most && tries < mostTries; tries++) {
    if (!isQuiet(minuteOf(next), quiet)) runs.push(next);
    next = nextDue(schedule, next);
  }
  return runs;
}
/** A calendar that only falls into quiet hours has no next run. */
const mostTries = 1000;

const minuteOf = (moment: Date) => moment.getHours() * 60 + moment.getMinutes();
const hoursOf = ({ quietHours = [] }: Pick<ScopeText, 'quietHours'>): QuietHours[] =>
  quietHours.flatMap((line) => parseQuietHours(line) ?? []);

/**
 * Starts what is due. Each due moment of each scope gets one outcome and is never looked at again: it ran, it fell into quiet hours, nobody was there to start it in time, or
 * another survey was still at work when the next one was due. Surveys never overlap: a busy one is waited for.
 * @returns the jobs that were queued
 */
export function startDue(db: Db, now: Date): number[] {
  const queued: number[] = [];
  for (const { id, scope } of listScopes(db)) {
    if (!scope.schedule) continue;
    const since = new Date(
      Math.max(watchedSince(db, id, scope.schedule, now).getTime(), now.getTime() - longestLookBackMs),
    );
    for (let due = nextDue(scope.schedule, since); due && due <= now; due = nextDue(scope.schedule, due)) {
      const later = nextDue(scope.schedule, due);
      const note = (outcome: typeof scheduledRun.$inferInsert.outcome, jobId: number | null = null) =>
        db
          .insert(scheduledRun)
          .values({ scopeId: id, dueAt: due?.toISOString() ?? '', outcome, jobId })
          .onConflictDoNothing()
          .run();
      if (isQuiet(minuteOf(due), hoursOf(scope))) {
        note('quiet');
        continue;
      }
      if (later && later <= now) {
        note(wasWaited(db, id, due) ? 'busy' : 'missed');
        continue;
      }
      if (now.getTime() - due.getTime() > graceMs && !wasWaited(db, id, due)) {
        note('missed');
        continue;
      }
      try {
        const jobId = queueSurvey(db, { scopeId: id });
        note('ran', jobId);
        queued.push(jobId);
      } catch (error) {
        if (!(error instanceof BusyError)) throw error;
        // it is tried again until it is free, or the next one is due
        setWaited(db, id, due);
        break;
      }
    }
  }
  return queued;
}

/** From when on due moments count: the last one that has an outcome, or when the calendar was first seen. */
function watchedSince(db: Db, scopeId: number, schedule: string, now: Date): Date {
  const key = `schedule ${scopeId}`;
  const known = db.select().from(setting).where(eq(setting.key, key)).get()?.value as
    | { schedule: string; since: string }
    | undefined;
  if (known?.schedule !== schedule) {
    db.insert(setting)
      .values({ key, value: { schedule, since: now.toISOString() } })
      .onConflictDoUpdate({ target: setting.key, set: { value: { schedule, since: now.toISOString() } } })
      .run();
    return now;
  }
  const last = db
    .select()
    .from(scheduledRun)
    .where(and(eq(scheduledRun.scopeId, scopeId), gt(scheduledRun.dueAt, known.since)))
    .orderBy(desc(scheduledRun.dueAt))
    .limit(1)
    .get();
  return new Date(last?.dueAt ?? known.since);
}

const waitedKey = (scopeId: number) => `schedule ${scopeId} waits`;
const wasWaited = (db: Db, scopeId: number, due: Date) =>
  db
    .select()
    .from(setting)
    .where(eq(setting.key, waitedKey(scopeId)))
    .get()?.value === due.toISOString();
function setWaited(db: Db, scopeId: number, due: Date): void {
  const value = due.toISOString();
  db.insert(setting)
    .values({ key: waitedKey(scopeId), value })
    .onConflictDoUpdate({ target: setting.key, set: { value } })
    .run();
}

/** When a scope is surveyed next, and the last due moments at which it was not. */
export function calendarOf(
  db: Db,
  scopeId: number,
  scope: ScopeText,
  now: Date,
): { nextAt: string | null; missed: { dueAt: string; outcome: string }[] } {
  const [next] = scope.schedule ? nextRuns(scope.schedule, scope.quietHours ?? [], now, 1) : [];
  const missed = db
    .select()
    .from(scheduledRun)
    .where(and(eq(scheduledRun.scopeId, scopeId), ne(scheduledRun.outcome, 'ran'), ne(scheduledRun.outcome, 'quiet')))
    .orderBy(desc(scheduledRun.dueAt))
    .limit(3)
    .all();
  return { nextAt: next?.toISOString() ?? null, missed: missed.map(({ dueAt, outcome }) => ({ dueAt, outcome })) };
}
