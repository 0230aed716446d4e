import { eq } from 'drizzle-orm';
import {
  completeTarget,
  targetKey,
  type ReleaseTarget,
  type TargetPlace,
  type ToldTarget,
} from '../core/firmware/target';
import type { Db } from './base/database';
import { releaseTarget } from './base/schema';

/** Every target, those of drafts too. */
export const readAllTargets = (db: Db): ReleaseTarget[] =>
  db
    .select()
    .from(releaseTarget)
    .orderBy(releaseTarget.key)
    .all()
    .map(({ body }) => completeTarget(body as ToldTarget));

/** Those that are in force, or those of a draft. */
export const readTargets = (db: Db, draft = ''): ReleaseTarget[] =>
  readAllTargets(db).filter((one) => one.draft === draft);

/** Sets a target; that for the same is taken the place of. */
export function saveTarget(db: Db, told: ToldTarget): void {
  const body = completeTarget(told);
  db.insert(releaseTarget)
    .values({ key: targetKey(body), body })
    .onConflictDoUpdate({ target: releaseTarget.key, set: { body } })
    .run();
}

export function deleteTarget(db: Db, place: TargetPlace): void {
  db.delete(releaseTarget)
    .where(eq(releaseTarget.key, targetKey(place)))
    .run();
}
