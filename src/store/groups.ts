import { asc, eq } from 'drizzle-orm';
import type { EstateGroup } from '../core/groups/group';
import type { Maintenance } from '../core/groups/maintenance';
import { inTransaction, type Db } from './base/database';
import { estateGroup, maintenance, scope, target } from './base/schema';

export type KeptGroup = EstateGroup & { id: number };

export const readGroups = (db: Db): KeptGroup[] => db.select().from(estateGroup).orderBy(asc(estateGroup.name)).all();

/** Saves a group; one with the number is taken the place of. Groups that lie in one that is called anew, and targets and scopes for it, follow it. */
export function saveGroup(db: Db, group: EstateGroup, id: number | null): number {
  if (id === null) return db.insert(estateGroup).values(group).returning({ id: estateGroup.id }).get().id;
  return inTransaction(db, () => {
    const before = db.select({ name: estateGroup.name }).from(estateGroup).where(eq(estateGroup.id, id)).get();
    if (before && before.name !== group.name) {
      db.update(estateGroup).set({ within: group.name }).where(eq(estateGroup.within, before.name)).run();
      for (const { id: scopeId, body } of db.select().from(scope).all())
        if ((body as { group?: string }).group === before.name)
          db.update(scope)
            .set({ body: { ...(body as object), group: group.name } })
            .where(eq(scope.id, scopeId))
            .run();
      db.update(target).set({ group: group.name }).where(eq(target.group, before.name)).run();
    }
    return (
      db.update(estateGroup).set(group).where(eq(estateGroup.id, id)).returning({ id: estateGroup.id }).get()?.id ?? 0
    );
  });
}

export function deleteGroup(db: Db, id: number): void {
  db.delete(estateGroup).where(eq(estateGroup.id, id)).run();
}

export const readMaintenance = (db: Db): Maintenance[] =>
  db.select().from(maintenance).orderBy(asc(maintenance.from)).all();

export function addMaintenance(db: Db, row: Omit<Maintenance, 'id'>): number {
  return db.insert(maintenance).values(row).returning({ id: maintenance.id }).get().id;
}

/** Ends a time that goes on, now; one that was only planned never was. @returns the time as it was; null where there is none that could end */
export function endMaintenance(db: Db, id: number, now = new Date()): Maintenance | null {
  const row = db.select().from(maintenance).where(eq(maintenance.id, id)).get();
  const moment = now.toISOString();
  if (!row || (row.until !== null && row.until <= moment)) return null;
  if (row.from > moment) db.delete(maintenance).where(eq(maintenance.id, id)).run();
  else db.update(maintenance).set({ until: moment }).where(eq(maintenance.id, id)).run();
  return row;
}

/** Puts a time back as it was before it was ended. */
export function restoreMaintenance(db: Db, row: Maintenance): void {
  db.insert(maintenance).values(row).onConflictDoUpdate({ target: maintenance.id, set: row }).run();
}
