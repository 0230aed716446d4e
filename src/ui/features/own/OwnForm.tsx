'use client';

import Button from '@mui/material/Button';
import { ownValueText, type OwnedThing } from '@/core/own/ownField';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { useSavingForm } from '../../components/form/useSavingForm';
import { call, type ThingRow } from '../../lib/api';
import type { KeptOwnField } from '../../lib/person';
import type { Done } from '../edits/UndoNote';
import { useWritten } from '../edits/useWritten';
import { OwnInput } from './OwnInput';
import type { EditAnswer } from './editAnswer';

type Draft = Record<string, string>;

/** Where the values of one thing are written. @param version in which the row was read */
export function OwnForm({
  thing,
  fields,
  row,
  version,
  onDone,
}: {
  thing: OwnedThing;
  fields: KeptOwnField[];
  row: ThingRow;
  version: number | null;
  onDone: (done: Done | null) => void;
}) {
  const written = useWritten();
  const before = Object.fromEntries(fields.map(({ name }) => [name, ownValueText(row[name])]));
  const saving = useSavingForm<{ own: Draft }, EditAnswer | null>({
    values: { own: before },
    keep: `own ${thing} ${row.id}`,
    version,
    save: async ({ own: draft }, seen) => {
      const changed = Object.entries(draft).filter(([name, text]) => (text ?? '') !== before[name]);
      if (changed.length === 0) return null;
      const set = Object.fromEntries(changed.map(([name, text]) => [name, text ?? '']));
      return call<EditAnswer>('values', { method: 'POST', body: { thing, ids: [row.id], set }, seen });
    },
    done: async (answer) => {
      const count = answer?.total ?? 0;
      onDone(count === 0 ? null : { words: count === 1 ? 'Written.' : `${count} values written.`, edit: answer?.edit });
      await written();
      return undefined;
    },
  });
  return (
    <div
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        onDone(null);
      }}
    >
      <SavingForm of={saving} className="form close">
        {fields.map((field, at) => (
          <OwnInput key={field.name} field={field} name={`own.${field.name}`} autoFocus={at === 0} />
        ))}
        <SaveLine of={saving} words="Save">
          <Button color="secondary" onClick={() => onDone(null)}>
            Leave it
          </Button>
        </SaveLine>
      </SavingForm>
    </div>
  );
}
