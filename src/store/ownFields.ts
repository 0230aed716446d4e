import { and, asc, eq, isNull, sql } from 'drizzle-orm';
import { sameOwnValue, type OwnField, type OwnKind, type OwnValue, type OwnedThing } from '../core/own/ownField';
import type { OwnChange } from '../core/own/planEdit';
import { inTransaction, type Db } from './base/database';
import { ownChange, ownEdit, ownField, ownValue } from './base/schema';

export type KeptOwnField = OwnField & { id: number };

/** Own fields in use, in the order they were made. */
export function readOwnFields(db: Db): KeptOwnField[] {
  return db
    .select()
    .from(ownField)
    .where(isNull(ownField.removedAt))
    .orderBy(asc(ownField.id))
    .all()
    .map(({ id, thing, name, label, kind, choices }) => ({
      id,
      thing: thing as OwnedThing,
      name,
      label,
      kind: kind as OwnKind,
      choices,
    }));
}

/** Makes a field, or brings a removed one of that name back with its values; a field in use keeps its kind. @returns null where its kind would be another and values are there */
export function saveOwnField(db: Db, { thing, name, label, kind, choices }: OwnField): number | null {
  return inTransaction(db, () => {
    const known = db
      .select()
      .from(ownField)
      .where(and(eq(ownField.thing, thing), eq(ownField.name, name)))
      .get();
    if (
      known &&
      known.kind !== kind &&
      db
        .select({ one: sql`1` })
        .from(ownValue)
        .where(and(eq(ownValue.thing, thing), eq(ownValue.field, name)))
        .limit(1)
        .get()
    )
      return null;
    return db
      .insert(ownField)
      .values({ thing, name, label, kind, choices })
      .onConflictDoUpdate({ target: [ownField.thing, ownField.name], set: { label, kind, choices, removedAt: null } })
      .returning({ id: ownField.id })
      .get().id;
  });
}

/** Takes a field out of use; its values stay for when it is brought back. */
export function removeOwnField(db: Db, id: number, now = new Date()): KeptOwnField | null {
  const row = db
    .update(ownField)
    .set({ removedAt: now.toISOString() })
    .where(and(eq(ownField.id, id), isNull(ownField.removedAt)))
    .returning()
    .get();
  return row ? { ...row, thing: row.thing as OwnedThing, kind: row.kind as OwnKind } : null;
}

/** Brings a removed field back, as it was. */
export function restoreOwnField(db: Db, id: number): string | null {
  return (
    db.update(ownField).set({ removedAt: null }).where(eq(ownField.id, id)).returning({ name: ownField.name }).get()
      ?.name ?? null
  );
}

/** All values of a field, by the id of the row. */
export function ownValuesOf(db: Db, thing: OwnedThing, field: string): Map<string, OwnValue> {
  return new Map(
    db
      .select()
      .from(ownValue)
      .where(and(eq(ownValue.thing, thing), eq(ownValue.field, field)))
      .all()
      .map(({ rowId, value }) => [rowId, value as OwnValue]),
  );
}

/** Something changed another value meanwhile. */
export class StaleEditError extends Error {}

export interface KeptEdit {
  id: number;
  at: string;
  who: string;
  thing: OwnedThing;
  words: string;
  undoneBy: number | null;
}

function valueNow(db: Db, thing: OwnedThing, rowId: string, field: string): OwnValue {
  return (
    (db
      .select({ value: ownValue.value })
      .from(ownValue)
      .where(and(eq(ownValue.thing, thing), eq(ownValue.field, field), eq(ownValue.rowId, rowId)))
      .get()?.value as OwnValue | undefined) ?? null
  );
}

/** Writes values, all or none. @throws StaleEditError where one is not any more what it was when the edit was planned */
export function writeEdit(
  db: Db,
  {
    who,
    thing,
    words,
    changes,
  }: {
    who: string;
    thing: OwnedThing;
    words: string;
    changes: Pick<OwnChange, 'id' | 'field' | 'before' | 'after' | 'row'>[];
  },
  now = new Date(),
): number {
  return inTransaction(db, () => {
    const { id: editId } = db
      .insert(ownEdit)
      .values({ at: now.toISOString(), who, thing, words })
      .returning({ id: ownEdit.id })
      .get();
    for (const { id: rowId, row, field, before, after } of changes) {
      if (!sameOwnValue(valueNow(db, thing, rowId, field), before))
        throw new StaleEditError(`${field} of ${row} was changed meanwhile`);
      if (after === null)
        db.delete(ownValue)
          .where(and(eq(ownValue.thing, thing), eq(ownValue.field, field), eq(ownValue.rowId, rowId)))
          .run();
      else
        db.insert(ownValue)
          .values({ thing, rowId, field, value: after })
          .onConflictDoUpdate({ target: [ownValue.thing, ownValue.field, ownValue.rowId], set: { value: after } })
          .run();
      db.insert(ownChange).values({ editId, rowId, field, before, after }).run();
    }
    return editId;
  });
}

/**
 * Takes an edit back by another one. What somebody has written over since stays.
 * @returns how many values came back and how many stay; null where there is no such edit, or it was taken back already
 */
export function undoEdit(
  db: Db,
  editId: number,
  who: string,
  now = new Date(),
): { id: number; back: number; stay: number } | null {
  return inTransaction(db, () => {
    const edit = db
      .select()
      .from(ownEdit)
      .where(and(eq(ownEdit.id, editId), isNull(ownEdit.undoneBy)))
      .get();
    if (!edit) return null;
    const thing = edit.thing as OwnedThing;
    const made = db.select().from(ownChange).where(eq(ownChange.editId, editId)).all();
    const back = made.filter(({ rowId, field, after }) =>
      sameOwnValue(valueNow(db, thing, rowId, field), after as OwnValue),
    );
    const id = writeEdit(
      db,
      {
        who,
        thing,
        words: `took back: ${edit.words}`,
        changes: back.map(({ rowId, field, before, after }) => ({
          id: rowId,
          row: rowId,
          field,
          before: after as OwnValue,
          after: before as OwnValue,
        })),
      },
      now,
    );
    db.update(ownEdit).set({ undoneBy: id }).where(eq(ownEdit.id, editId)).run();
    return { id, back: back.length, stay: made.length - back.length };
  });
}

/** What was written at a row, newest first. */
export function ownHistory(
  db: Db,
  thing: OwnedThing,
  rowId: string,
): { at: string; who: string; field: string; before: OwnValue; after: OwnValue }[] {
  return db
    .select({
      at: ownEdit.at,
      who: ownEdit.who,
      field: ownChange.field,
      before: ownChange.before,
      after: ownChange.after,
    })
    .from(ownChange)
    .innerJoin(ownEdit, eq(ownChange.editId, ownEdit.id))
    .where(and(eq(ownChange.rowId, rowId), eq(ownEdit.thing, thing)))
    .orderBy(sql`${ownEdit.id} desc`)
    .all()
    .map(({ before, after, ...rest }) => ({ ...rest, before: before as OwnValue, after: after as OwnValue }));
}

/** Grows with everything that is written about own fields and their values. */
export function ownStamp(db: Db): string {
  const fields = db
    .select({ thing: ownField.thing, name: ownField.name, removedAt: ownField.removedAt, label: ownField.label })
    .from(ownField)
    .all();
  const last =
    db
      .select({ last: sql<number>`coalesce(max(${ownEdit.id}), 0)` })
      .from(ownEdit)
      .get()?.last ?? 0;
  return `${last} ${JSON.stringify(fields)}`;
}

/** Edits of a thing, newest first, with how many values each wrote; those that took others back are told with these. */
export function recentEdits(db: Db, thing: OwnedThing | null, most: number): (KeptEdit & { values: number })[] {
  return db
    .select({ edit: ownEdit, values: sql<number>`(select count(*) from own_change where edit_id = ${ownEdit.id})` })
    .from(ownEdit)
    .where(
      and(
        thing === null ? undefined : eq(ownEdit.thing, thing),
        sql`${ownEdit.id} not in (select undone_by from own_edit where undone_by is not null)`,
      ),
    )
    .orderBy(sql`${ownEdit.id} desc`)
    .limit(most)
    .all()
    .map(({ edit, values }) => ({ ...edit, thing: edit.thing as OwnedThing, values }));
}
