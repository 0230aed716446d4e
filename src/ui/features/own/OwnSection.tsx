'use client';

import Button from '@mui/material/Button';
import { useState } from 'react';
import { ownValueText, type OwnedThing } from '@/core/own/ownField';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { useSavingForm } from '../../components/form/useSavingForm';
import { TextButton } from '../../components/TextButton';
import { call, type ThingRow } from '../../lib/api';
import { wholeDay } from '../../lib/format';
import { useOwnFields } from '../../lib/ownFields';
import { useMayEdit, type KeptOwnField } from '../../lib/person';
import { UndoNote, type Done } from '../edits/UndoNote';
import { useWritten } from '../edits/useWritten';
import { OwnInput } from './OwnInput';
import type { EditAnswer } from './editAnswer';

/** What people wrote at one thing; who may, writes here. @param version in which the row was read */
export function OwnSection({
  thing,
  row,
  version,
  readOnly = false,
}: {
  thing: OwnedThing;
  row: ThingRow;
  version: number | null;
  readOnly?: boolean;
}) {
  const fields = useOwnFields().filter((field) => field.thing === thing);
  const mayEdit = useMayEdit() && !readOnly;
  // as it was when writing began: what is read again meanwhile is not what one writes over
  const [begun, setBegun] = useState<{ row: ThingRow; version: number | null } | null>(null);
  const [done, setDone] = useState<Done | null>(null);
  const filled = fields.filter(({ name }) => ownValueText(row[name]) !== '');
  if (fields.length === 0 || (readOnly && filled.length === 0)) return null;
  return (
    <section className="section" aria-label="Notes of ours">
      <h3>
        Ours{' '}
        {mayEdit && !begun && (
          <TextButton style={{ fontWeight: 400 }} onClick={() => setBegun({ row, version })}>
            {filled.length > 0 ? 'Change' : 'Write'}
          </TextButton>
        )}
      </h3>
      {begun ? (
        <OwnForm
          thing={thing}
          fields={fields}
          {...begun}
          onDone={(answer) => {
            setBegun(null);
            if (answer) setDone(answer);
          }}
        />
      ) : filled.length === 0 ? (
        <p className="small quiet">{fields.map(({ label }) => label.toLowerCase()).join(', ')}: nothing written yet</p>
      ) : (
        <dl className="facts">
          {filled.map(({ name, label, kind }) => [
            <dt key={name}>{label}</dt>,
            <dd key={`${name} is`} style={kind === 'note' ? { whiteSpace: 'pre-wrap' } : undefined}>
              {kind === 'tags'
                ? (row[name] as string[]).map((tag) => (
                    <span key={tag} className="chip">
                      {tag}
                    </span>
                  ))
                : kind === 'date'
                  ? wholeDay(String(row[name]))
                  : ownValueText(row[name])}
            </dd>,
          ])}
        </dl>
      )}
      {!begun && <UndoNote done={done} onDone={setDone} />}
    </section>
  );
}

type Draft = Record<string, string>;

function OwnForm({
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
