import { and, eq } from 'drizzle-orm';
import { ownedThings, type OwnedThing, type OwnValue } from '../core/own/ownField';
import type { Db } from './base/database';
import { ownField, ownValue } from './base/schema';
import { editHistory, editStamp, type PastValue } from './edits/log';

/** All values of a field, by the id of the row. */
export function ownValuesOf(db: Db, thing: OwnedThing, field: string): Map<string, OwnValue> {
  const rows = db
    .select()
    .from(ownValue)
    .where(and(eq(ownValue.thing, thing), eq(ownValue.field, field)))
    .all();
  return new Map(rows.map(({ rowId, value }) => [rowId, value as OwnValue]));
}

/** What was written at a row, newest first. */
export const ownHistory = (db: Db, thing: OwnedThing, rowId: string): PastValue[] => editHistory(db, thing, rowId);

/** Grows with everything that is written about own fields and their values. */
export function ownStamp(db: Db): string {
  const fields = db
    .select({ thing: ownField.thing, name: ownField.name, removedAt: ownField.removedAt, label: ownField.label })
    .from(ownField)
    .all();
  return `${editStamp(db, ...ownedThings)} ${JSON.stringify(fields)}`;
}
