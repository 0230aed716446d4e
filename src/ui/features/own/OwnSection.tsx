'use client';

import { useState } from 'react';
import { ownValueText, type OwnedThing } from '@/core/own/ownField';
import { TextButton } from '../../components/TextButton';
import type { ThingRow } from '../../lib/api';
import { wholeDay } from '../../lib/format';
import { useOwnFields } from '../../lib/ownFields';
import { useMayEdit } from '../../lib/person';
import { UndoNote, type Done } from '../edits/UndoNote';
import { fetched } from '../../lib/fetched';
import { useFocusBack } from '../../lib/useFocusBack';

const OwnForm = fetched(() => import('./OwnForm').then((module) => module.OwnForm));

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
  const opener = useFocusBack(begun !== null);
  const filled = fields.filter(({ name }) => ownValueText(row[name]) !== '');
  if (fields.length === 0 || (readOnly && filled.length === 0)) return null;
  return (
    <section className="section" aria-label="Notes of ours">
      <h3>
        Ours{' '}
        {mayEdit && !begun && (
          <TextButton ref={opener} style={{ fontWeight: 400 }} onClick={() => setBegun({ row, version })}>
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
