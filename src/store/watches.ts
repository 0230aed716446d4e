import { and, asc, eq } from 'drizzle-orm';
import type { WatchedThing } from '../core/watch/watchedChanges';
import type { Db } from './base/database';
import { watch } from './base/schema';

export interface Watch {
  id: number;
  thing: WatchedThing;
  rowId: string;
  name: string;
  since: string;
}

/** What a person watches, in the order they began to. */
export const watchesOf = (db: Db, personId: number): Watch[] =>
  db
    .select({ id: watch.id, thing: watch.thing, rowId: watch.rowId, name: watch.name, since: watch.since })
    .from(watch)
    .where(eq(watch.personId, personId))
    .orderBy(asc(watch.id))
    .all();

/** Begins to watch; what is watched already stays as it is. */
export function addWatch(
  db: Db,
  personId: number,
  { thing, rowId, name }: Pick<Watch, 'thing' | 'rowId' | 'name'>,
  now = new Date(),
): number {
  return db
    .insert(watch)
    .values({ personId, thing, rowId, name, since: now.toISOString() })
    .onConflictDoUpdate({ target: [watch.personId, watch.thing, watch.rowId], set: { name } })
    .returning({ id: watch.id })
    .get().id;
}

/** @returns what was watched, or null where it is not the person’s */
export const removeWatch = (db: Db, personId: number, id: number): Pick<Watch, 'thing' | 'rowId' | 'name'> | null =>
  db
    .delete(watch)
    .where(and(eq(watch.id, id), eq(watch.personId, personId)))
    .returning({ thing: watch.thing, rowId: watch.rowId, name: watch.name })
    .get() ?? null;
