import { and, eq, isNull, sql } from 'drizzle-orm';
import type { OwnField } from '../../core/own/ownField';
import type { Db } from '../base/database';
import { ownField, ownValue } from '../base/schema';
import { ownFieldAlone, ownFieldNamed } from '../ownFields';
import { EditRefused, numberOf, oneByOne, type Editable } from './editable';

const hasValues = (db: Db, { thing, name }: OwnField): boolean =>
  db
    .select({ one: sql`1` })
    .from(ownValue)
    .where(and(eq(ownValue.thing, thing), eq(ownValue.field, name)))
    .limit(1)
    .get() !== undefined;

/**
 * Own fields, as the log of edits sees them. One that goes is taken out of use: its values stay for when it is brought back.
 */
export const ownFieldEdits: Editable<OwnField> = {
  kind: 'fields',
  one: 'own field',
  many: 'own fields',
  role: 'administrator',
  called: ({ label, thing }) => `${label} of ${thing}`,
  read: (db, key) => {
    const row = db
      .select()
      .from(ownField)
      .where(and(eq(ownField.id, numberOf(key)), isNull(ownField.removedAt)))
      .get();
    if (!row) return null;
    return ownFieldAlone(row);
  },
  write: oneByOne((db, key, after) => {
    if (after === null) {
      db.update(ownField)
        .set({ removedAt: new Date().toISOString() })
        .where(eq(ownField.id, numberOf(key ?? '')))
        .run();
      return key ?? '';
    }
    const { thing, name, label, kind, choices } = after;
    const known = ownFieldNamed(db, thing, name);
    if (known && known.kind !== kind && hasValues(db, known)) {
      throw new EditRefused(`“${name}” has values of another kind already`, key, 'kind');
    }
    const set = { label, kind, choices, removedAt: null };
    const target = [ownField.thing, ownField.name];
    const values = { thing, name, label, kind, choices };
    return String(
      db.insert(ownField).values(values).onConflictDoUpdate({ target, set }).returning({ id: ownField.id }).get().id,
    );
  }),
};
