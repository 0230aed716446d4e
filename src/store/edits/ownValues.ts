import { and, eq } from 'drizzle-orm';
import type { EditChange } from '../../core/edits/edit';
import { ownedThings, sameOwnValue, type OwnedThing, type OwnValue } from '../../core/own/ownField';
import type { OwnChange } from '../../core/own/planEdit';
import { ownValue } from '../base/schema';
import type { Editable } from './editable';

/** Values of own fields of a thing, as the log of edits sees them: each is a field of a row. */
const valuesOf = (thing: OwnedThing): Editable<OwnValue> => {
  const at = (rowId: string, field: string) =>
    and(eq(ownValue.thing, thing), eq(ownValue.field, field), eq(ownValue.rowId, rowId));
  return {
    kind: thing,
    one: `own field of ${thing}`,
    many: 'own fields',
    role: 'operator',
    called: (_value, key, field) => `${field} of ${key}`,
    same: sameOwnValue,
    read: (db, key, field) =>
      (db.select({ value: ownValue.value }).from(ownValue).where(at(key, field)).get()?.value as
        | OwnValue
        | undefined) ?? null,
    write: (db, changes) =>
      changes.map(({ key, field = '', after }) => {
        const rowId = key ?? '';
        if (after === null) {
          db.delete(ownValue).where(at(rowId, field)).run();
        } else {
          const target = [ownValue.thing, ownValue.field, ownValue.rowId];
          db.insert(ownValue)
            .values({ thing, rowId, field, value: after })
            .onConflictDoUpdate({ target, set: { value: after } })
            .run();
        }
        return rowId;
      }),
  };
};

export const ownValueEdits = Object.fromEntries(ownedThings.map((thing) => [thing, valuesOf(thing)])) as Record<
  OwnedThing,
  Editable<OwnValue>
>;

/** Planned changes of own fields, as they are written: no words at all are nothing. */
export const ownValueChanges = (
  changes: readonly Pick<OwnChange, 'id' | 'field' | 'before' | 'after'>[],
): EditChange<OwnValue>[] =>
  changes.map(({ id, field, before, after }) => ({ key: id, field, before: orNull(before), after: orNull(after) }));

const orNull = (value: OwnValue): OwnValue | null => (Array.isArray(value) && value.length === 0 ? null : value);
