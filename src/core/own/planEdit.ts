import { readOwnValue, sameOwnValue, type OwnField, type OwnValue } from './ownField';

/** One value that is to become another. */
export interface OwnChange {
  /** of the row */
  id: string;
  /** what the row is called */
  row: string;
  field: string;
  before: OwnValue;
  after: OwnValue;
}

/** What is to be done with a field of many rows: a value for all of them, or words put to or taken from lists. */
export type FieldEdit = { set: unknown } | { add: string[]; remove: string[] };

/** A row with its values of own fields. */
export interface OwnedRow {
  id: string;
  row: string;
  values: Record<string, unknown>;
}

export interface EditMistake {
  field: string;
  message: string;
}

/** What an edit of many rows comes to: the values that differ from those that are there. */
export function planEdit(
  rows: OwnedRow[],
  edits: Record<string, FieldEdit>,
  fields: OwnField[],
): { changes: OwnChange[]; mistakes: EditMistake[] } {
  const mistakes: EditMistake[] = [];
  const read = Object.entries(edits).flatMap(
    ([name, edit]): { name: string; after: (before: OwnValue) => OwnValue }[] => {
      const field = fields.find((candidate) => candidate.name === name);
      if (!field) {
        mistakes.push({ field: name, message: `There is no own field “${name}” here` });
        return [];
      }
      if ('set' in edit) {
        const answer = readOwnValue(field, edit.set);
        if ('mistake' in answer) {
          mistakes.push({ field: name, message: answer.mistake });
          return [];
        }
        return [{ name, after: () => answer.value }];
      }
      if (field.kind !== 'tags') {
        mistakes.push({ field: name, message: `${field.label} has one value: set it` });
        return [];
      }
      const added = readOwnValue(field, edit.add);
      if ('mistake' in added) {
        mistakes.push({ field: name, message: added.mistake });
        return [];
      }
      const gone = new Set(edit.remove.map((tag) => tag.trim().toLowerCase()));
      return [
        {
          name,
          after: (before) => {
            const kept = (Array.isArray(before) ? before : []).filter((tag) => !gone.has(tag.toLowerCase()));
            const next = readOwnValue(field, [
              ...kept,
              ...((added.value as string[] | null) ?? []).filter(
                (tag) => !kept.some((own) => own.toLowerCase() === tag.toLowerCase()),
              ),
            ]);
            return 'value' in next ? next.value : before;
          },
        },
      ];
    },
  );
  if (mistakes.length > 0) return { changes: [], mistakes };
  const changes = rows.flatMap(({ id, row, values }) =>
    read.flatMap(({ name, after }): OwnChange[] => {
      const before = (values[name] ?? null) as OwnValue;
      const next = after(before);
      return sameOwnValue(before, next) ? [] : [{ id, row, field: name, before, after: next }];
    }),
  );
  return { changes, mistakes };
}
