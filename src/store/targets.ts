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

/** Sets a target; that of the same family and group is taken the place of. */
export function saveTarget(db: Db, row: Target): void {
  const { release, setBy, setAt } = row;
  db.insert(target)
    .values(row)
    .onConflictDoUpdate({ target: [target.vendor, target.family, target.group], set: { release, setBy, setAt } })
    .run();
}

/** Takes the target of a family, or of its devices in a group, away. */
export function deleteTarget(db: Db, { vendor, family, group }: Pick<Target, 'vendor' | 'family' | 'group'>): void {
  db.delete(target)
    .where(and(eq(target.vendor, vendor), eq(target.family, family), eq(target.group, group)))
    .run();
}
