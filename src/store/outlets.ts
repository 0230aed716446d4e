import { and, asc, eq, isNull, sql } from 'drizzle-orm';
import { OutletPlaces, sameOutlet, type Outlet } from '../core/floor/outlet';
import { inTransaction, type Db } from './base/database';
import { outlet, outletEdit } from './base/schema';

export type KeptOutlet = Outlet & { id: number };

/** Somebody wrote the outlet meanwhile, or another one took its place. */
export class StaleOutletError extends Error {
  override name = 'StaleOutletError';
}

/** What becomes of an outlet: `before` null for a new one, `after` null for one that goes. */
export interface OutletWrite {
  /** which one it is, where it is not new */
  id?: number;
  before: Outlet | null;
  after: Outlet | null;
}

export const readOutlets = (db: Db): KeptOutlet[] =>
  db.select().from(outlet).orderBy(asc(outlet.site), asc(outlet.label)).all();

/** Grows with everything that is written of outlets. */
export const outletStamp = (db: Db): number =>
  db
    .select({ last: sql<number>`coalesce(max(${outletEdit.id}), 0)` })
    .from(outletEdit)
    .get()?.last ?? 0;

const plain = ({ site, label, room, panel, position, port, note }: Outlet): Outlet => ({
  site,
  label,
  room,
  panel,
  position,
  port,
  note,
});

/** Writes outlets, all or none. @returns the number of the edit and the ids of the outlets @throws StaleOutletError where one is not any more what it was, or two would be at one place */
export function writeOutlets(
  db: Db,
  { who, words, writes }: { who: string; words: string; writes: OutletWrite[] },
  now = new Date(),
): { edit: number; ids: number[] } {
  return inTransaction(db, () => {
    const known = new Map(
      writes.flatMap(({ id, before }) => (before === null ? [] : [[before, currentOf(db, id, before)] as const])),
    );
    for (const [before, current] of known)
      if (!current || !sameOutlet(current, before))
        throw new StaleOutletError(`${before.label} of ${before.site} was changed meanwhile`);
    // what is written anew makes room for the others first: two may change places
    for (const current of known.values()) if (current) db.delete(outlet).where(eq(outlet.id, current.id)).run();
    const places = new OutletPlaces(readOutlets(db));
    const ids = writes.map(({ id, before, after }) => {
      const own = (before && known.get(before)?.id) ?? id;
      if (after === null) return own ?? 0;
      const clash = places.clash(after);
      if (clash) throw new StaleOutletError(`${after.label} of ${after.site}: ${clash.message}`);
      places.add(after);
      return db
        .insert(outlet)
        .values({ ...(own !== undefined && { id: own }), ...plain(after) })
        .returning({ id: outlet.id })
        .get().id;
    });
    const changes = writes.map(({ before, after }, at) => ({
      id: ids[at] ?? 0,
      before: before && plain(before),
      after: after && plain(after),
    }));
    return {
      edit: db
        .insert(outletEdit)
        .values({ at: now.toISOString(), who, words, changes })
        .returning({ id: outletEdit.id })
        .get().id,
      ids,
    };
  });
}

const currentOf = (db: Db, id: number | undefined, { site, label }: Outlet): KeptOutlet | undefined =>
  db
    .select()
    .from(outlet)
    .where(
      id === undefined
        ? and(sql`lower(${outlet.site}) = lower(${site})`, sql`lower(${outlet.label}) = lower(${label})`)
        : eq(outlet.id, id),
    )
    .get();

/**
 * Takes an edit back by another one. What somebody has written over since, and what cannot be where it was, stays.
 * @returns how many outlets came back and how many stay; null where there is no such edit, or it was taken back already
 */
export function undoOutlets(
  db: Db,
  editId: number,
  who: string,
  now = new Date(),
): { id: number; back: number; stay: number } | null {
  return inTransaction(db, () => {
    const edit = db
      .select()
      .from(outletEdit)
      .where(and(eq(outletEdit.id, editId), isNull(outletEdit.undoneBy)))
      .get();
    if (!edit) return null;
    const touched = new Set(edit.changes.map(({ id }) => id));
    const others = new OutletPlaces(readOutlets(db).filter(({ id }) => !touched.has(id)));
    const back = edit.changes.filter(({ id, before, after }) => {
      const current = db.select().from(outlet).where(eq(outlet.id, id)).get();
      return (
        (after === null ? !current : current !== undefined && sameOutlet(current, after)) &&
        (before === null || others.clash(before) === null)
      );
    });
    const { edit: id } = writeOutlets(
      db,
      {
        who,
        words: `took back: ${edit.words}`,
        writes: back.map(({ id: outletId, before, after }) => ({ id: outletId, before: after, after: before })),
      },
      now,
    );
    db.update(outletEdit).set({ undoneBy: id }).where(eq(outletEdit.id, editId)).run();
    return { id, back: back.length, stay: edit.changes.length - back.length };
  });
}

/** Edits, newest first, with how many outlets each wrote; those that took others back are told with these. */
export function recentOutletEdits(
  db: Db,
  most: number,
): { id: number; at: string; who: string; words: string; undoneBy: number | null; outlets: number }[] {
  return db
    .select()
    .from(outletEdit)
    .where(sql`${outletEdit.id} not in (select undone_by from outlet_edit where undone_by is not null)`)
    .orderBy(sql`${outletEdit.id} desc`)
    .limit(most)
    .all()
    .map(({ changes, ...edit }) => ({ ...edit, outlets: changes.length }));
}
