import { and, eq } from 'drizzle-orm';
import type { Db } from './base/database';
import { target } from './base/schema';

export interface Target {
  vendor: string;
  family: string;
  release: string;
  setBy: string;
  setAt: string;
  /** for the devices of this group; empty for all of the family */
  group: string;
}

export function readTargets(db: Db): Target[] {
  return db.select().from(target).all();
}

/** Sets the target of a family, or of its devices in a group, or takes it away with null. */
export function setTarget(
  db: Db,
  vendor: string,
  family: string,
  release: string | null,
  setBy: string,
  group = '',
): void {
  if (release === null) {
    db.delete(target)
      .where(and(eq(target.vendor, vendor), eq(target.family, family), eq(target.group, group)))
      .run();
    return;
  }
  const setAt = new Date().toISOString();
  db.insert(target)
    .values({ vendor, family, release, setBy, setAt, group })
    .onConflictDoUpdate({ target: [target.vendor, target.family, target.group], set: { release, setBy, setAt } })
    .run();
}
