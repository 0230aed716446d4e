import { and, asc, eq, isNull } from 'drizzle-orm';
import type { OwnField, OwnKind, OwnedThing } from '../core/own/ownField';
import type { Db } from './base/database';
import { ownField } from './base/schema';

export type KeptOwnField = OwnField & { id: number };

/** A field as it is written: without its number in the list. */
export const ownFieldAlone = ({
  thing,
  name,
  label,
  kind,
  choices,
}: Pick<typeof ownField.$inferSelect, 'thing' | 'name' | 'label' | 'kind' | 'choices'>): OwnField => ({
  thing: thing as OwnedThing,
  name,
  label,
  kind: kind as OwnKind,
  choices,
});

const fieldOf = (row: typeof ownField.$inferSelect): KeptOwnField => ({ id: row.id, ...ownFieldAlone(row) });

/** Own fields in use, in the order they were made. */
export const readOwnFields = (db: Db): KeptOwnField[] =>
  db.select().from(ownField).where(isNull(ownField.removedAt)).orderBy(asc(ownField.id)).all().map(fieldOf);

/** A field by its name, though it may have been taken out of use. */
export function ownFieldNamed(db: Db, thing: OwnedThing, name: string): KeptOwnField | null {
  const row = db
    .select()
    .from(ownField)
    .where(and(eq(ownField.thing, thing), eq(ownField.name, name)))
    .get();
  return row ? fieldOf(row) : null;
}
