import { randomBytes } from 'node:crypto';
import { and, asc, desc, eq, inArray, lt, sql } from 'drizzle-orm';
import { newCourse, type Course, type Ending, type WantedCourse } from '../core/firmware/doing/course';
import type { Standing } from '../core/firmware/doing/standing';
import { inTransaction, type Db } from './base/database';
import { imageFile, job, upgrade, upgradeCourse, upgradeRequest } from './base/schema';
import { queueJob } from './jobs';

export type KeptUpgrade = typeof upgrade.$inferSelect;
export type UpgradeState = KeptUpgrade['state'];
export type KeptCourse = Omit<typeof upgradeCourse.$inferSelect, 'course' | 'before' | 'after' | 'lost'> & {
  course: Course;
  before: Standing | null;
  after: Standing | null;
  lost: string[] | null;
};
export type KeptRequest = typeof upgradeRequest.$inferSelect;

export interface WantedUpgrade {
  name: string;
  who: string;
  atOnce: number;
  stopAfter: number;
  needsApproval: boolean;
  devices: { deviceId: number; device: string; component: string; name: string; wanted: WantedCourse }[];
}

/** A device is in the middle of another upgrade. */
export class UpgradeBusyError extends Error {
  override name = 'UpgradeBusyError';
}

/** Job of an upgrade: its number. */
export interface UpgradeJob {
  upgradeId: number;
}

const open: UpgradeState[] = ['to be approved', 'running', 'paused'];

/** Writes an upgrade down, and begins it where nobody has to approve it. @throws UpgradeBusyError where a device is in another one that is not over */
export function addUpgrade(db: Db, wanted: WantedUpgrade, now = new Date()): number {
  return inTransaction(db, () => {
    const busy = db
      .select({ device: upgradeCourse.device, name: upgrade.name })
      .from(upgradeCourse)
      .innerJoin(upgrade, eq(upgrade.id, upgradeCourse.upgradeId))
      .where(
        and(
          inArray(upgrade.state, open),
          inArray(
            upgradeCourse.deviceId,
            wanted.devices.map(({ deviceId }) => deviceId),
          ),
        ),
      )
      .get();
    if (busy) throw new UpgradeBusyError(`${busy.device} is in the upgrade “${busy.name}”, which is not over`);
    const { name, who, atOnce, stopAfter, needsApproval, devices } = wanted;
    const { id } = db
      .insert(upgrade)
      .values({
        ...{ name, who, atOnce, stopAfter },
        at: now.toISOString(),
        state: needsApproval ? 'to be approved' : 'running',
      })
      .returning({ id: upgrade.id })
      .get();
    for (const { wanted: course, ...device } of devices)
      db.insert(upgradeCourse)
        .values({ ...device, upgradeId: id, word: randomBytes(16).toString('hex'), course: newCourse(course) })
        .run();
    if (!needsApproval) queueJob(db, 'upgrade', { upgradeId: id } satisfies UpgradeJob, now);
    return id;
  });
}

/** Whether an earlier job of the same upgrade is not over: two would send everything twice. */
export const isDoneByAnother = (db: Db, upgradeId: number, jobId: number): boolean =>
  db
    .select({ body: job.body })
    .from(job)
    .where(and(eq(job.kind, 'upgrade'), inArray(job.state, ['queued', 'running']), lt(job.id, jobId)))
    .all()
    .some(({ body }) => (body as UpgradeJob).upgradeId === upgradeId);

export const readUpgrade = (db: Db, id: number): KeptUpgrade | null =>
  db.select().from(upgrade).where(eq(upgrade.id, id)).get() ?? null;

/** Newest first. */
export const readUpgrades = (db: Db, most = 200): KeptUpgrade[] =>
  db.select().from(upgrade).orderBy(desc(upgrade.id)).limit(most).all();

export const coursesOf = (db: Db, upgradeId: number): KeptCourse[] =>
  db
    .select()
    .from(upgradeCourse)
    .where(eq(upgradeCourse.upgradeId, upgradeId))
    .orderBy(asc(upgradeCourse.id))
    .all() as KeptCourse[];

/** Of each course of some upgrades whether it began and how it ended, without all that is kept of it. */
export const endingsOf = (
  db: Db,
  upgrades: readonly number[],
): { upgradeId: number; begunAt: string | null; ending: Ending | null }[] =>
  db
    .select({
      upgradeId: upgradeCourse.upgradeId,
      begunAt: upgradeCourse.begunAt,
      ending: sql<Ending | null>`json_extract(${upgradeCourse.course}, '$.ending')`,
    })
    .from(upgradeCourse)
    .where(inArray(upgradeCourse.upgradeId, [...upgrades]))
    .all();

export const readCourse = (db: Db, upgradeId: number, id: number): KeptCourse | null =>
  (db
    .select()
    .from(upgradeCourse)
    .where(and(eq(upgradeCourse.upgradeId, upgradeId), eq(upgradeCourse.id, id)))
    .get() as KeptCourse | undefined) ?? null;

export const requestsOf = (db: Db, courseId: number): KeptRequest[] =>
  db.select().from(upgradeRequest).where(eq(upgradeRequest.courseId, courseId)).orderBy(asc(upgradeRequest.id)).all();

/** The file that a word is for, as long as its course is under way. */
export function fileOfWord(db: Db, word: string): string | null {
  const kept = db.select().from(upgradeCourse).where(eq(upgradeCourse.word, word)).get() as KeptCourse | undefined;
  if (!kept || kept.course.phase === 'ended' || kept.course.phase === 'checking') return null;
  const { file, hash } = kept.course.image;
  const lies = db.select({ hash: imageFile.hash }).from(imageFile).where(eq(imageFile.name, file)).get()?.hash ?? '';
  // what took the place of the image since somebody decided is given to nobody
  return lies !== '' && hash !== '' && lies !== hash ? null : file;
}

export function keepCourse(db: Db, id: number, course: Course, now = new Date()): void {
  const kept = db.select({ begunAt: upgradeCourse.begunAt }).from(upgradeCourse).where(eq(upgradeCourse.id, id)).get();
  db.update(upgradeCourse)
    .set({
      course,
      begunAt: kept?.begunAt ?? now.toISOString(),
      ...(course.phase === 'ended' && { endedAt: now.toISOString() }),
    })
    .where(eq(upgradeCourse.id, id))
    .run();
}

export function keepStanding(
  db: Db,
  id: number,
  told: { before: Standing } | { after: Standing; lost: string[] },
): void {
  db.update(upgradeCourse).set(told).where(eq(upgradeCourse.id, id)).run();
}

/** Notes that something goes out, before it does. */
export const noteUpgradeRequest = (
  db: Db,
  courseId: number,
  request: { method: string; path: string; body: unknown },
  now = new Date(),
): number =>
  db
    .insert(upgradeRequest)
    .values({ courseId, ...request, at: now.toISOString() })
    .returning({ id: upgradeRequest.id })
    .get().id;

export function noteUpgradeAnswer(db: Db, id: number, answer: string, now = new Date()): void {
  db.update(upgradeRequest).set({ answer, answeredAt: now.toISOString() }).where(eq(upgradeRequest.id, id)).run();
}

export function endUpgrade(db: Db, id: number, state: 'stopped' | 'ended', reason = '', now = new Date()): void {
  db.update(upgrade).set({ state, reason, endedAt: now.toISOString() }).where(eq(upgrade.id, id)).run();
}

/** Begins no more devices until it is resumed: what is under way goes on to its end. */
export function pauseUpgrade(db: Db, id: number): boolean {
  const own = and(eq(upgrade.id, id), eq(upgrade.state, 'running'));
  return db.update(upgrade).set({ state: 'paused' }).where(own).run().changes > 0;
}

/**
 * @param more how many may fail by now: whoever looked at those that did lets the rest go on
 * @param isToBeApproved it waits for another person first
 */
export function resumeUpgrade(
  db: Db,
  id: number,
  more: { stopAfter?: number } = {},
  isToBeApproved = false,
  now = new Date(),
): boolean {
  return inTransaction(db, () => {
    const own = and(eq(upgrade.id, id), inArray(upgrade.state, ['paused', 'stopped']));
    if (
      db
        .update(upgrade)
        .set({ ...more, state: isToBeApproved ? 'to be approved' : 'running', reason: '', endedAt: null })
        .where(own)
        .run().changes === 0
    )
      return false;
    if (!isToBeApproved) queueJob(db, 'upgrade', { upgradeId: id } satisfies UpgradeJob, now);
    return true;
  });
}

/** What is not begun stays as it is; what is under way goes on to its end. */
export function stopUpgrade(db: Db, id: number, who: string, now = new Date()): boolean {
  const own = and(eq(upgrade.id, id), inArray(upgrade.state, open));
  const told = { state: 'stopped' as const, reason: `${who} stopped it`, endedAt: now.toISOString() };
  return db.update(upgrade).set(told).where(own).run().changes > 0;
}

/** Whoever planned it does not approve it. @returns whether it began */
export function approveUpgrade(db: Db, id: number, who: string, now = new Date()): boolean {
  return inTransaction(db, () => {
    const kept = readUpgrade(db, id);
    if (kept?.state !== 'to be approved' || kept.who === who) return false;
    db.update(upgrade)
      .set({ state: 'running', approvedBy: who, approvedAt: now.toISOString() })
      .where(eq(upgrade.id, id))
      .run();
    queueJob(db, 'upgrade', { upgradeId: id } satisfies UpgradeJob, now);
    return true;
  });
}
