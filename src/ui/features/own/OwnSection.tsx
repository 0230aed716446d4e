'use client';

import Button from '@mui/material/Button';
import { useState } from 'react';
import { ownValueText, type OwnedThing } from '@/core/own/ownField';
import { call, type ApiProblem, type ThingRow } from '../../lib/api';
import { wholeDay } from '../../lib/format';
import { useOwnFields } from '../../lib/ownFields';
import { useMayEdit } from '../../lib/person';
import { OwnInput } from './OwnInput';
import { useOwnWritten, type EditAnswer } from './useOwnEdits';

/** What people wrote at one thing; who may, writes here. */
export function OwnSection({ thing, row, readOnly = false }: { thing: OwnedThing; row: ThingRow; readOnly?: boolean }) {
  const fields = useOwnFields().filter((field) => field.thing === thing);
  const mayEdit = useMayEdit() && !readOnly;
  const written = useOwnWritten();
  const [form, setForm] = useState<Record<string, string> | null>(null);
  const [mistakes, setMistakes] = useState<ApiProblem['errors']>([]);
  const [last, setLast] = useState<{ edit: number; values: number } | null>(null);
  const filled = fields.filter(({ name }) => ownValueText(row[name]) !== '');
  if (fields.length === 0 || (readOnly && filled.length === 0)) return null;
  const begin = () => setForm(Object.fromEntries(fields.map(({ name }) => [name, ownValueText(row[name])])));
  const save = async () => {
    const set = Object.fromEntries(
      fields
        .filter(({ name }) => form?.[name] !== ownValueText(row[name]))
        .map(({ name }) => [name, form?.[name] ?? '']),
    );
    if (Object.keys(set).length === 0) return setForm(null);
    try {
      const { edit, total } = await call<EditAnswer>('edits', { method: 'POST', body: { thing, ids: [row.id], set } });
      setMistakes([]);
      setForm(null);
      setLast(edit === undefined ? null : { edit, values: total });
      await written();
    } catch (error) {
      const problem = error as ApiProblem;
      setMistakes(problem.errors.length > 0 ? problem.errors : [{ path: '', message: problem.detail }]);
    }
    return undefined;
  };
  const undo = async () => {
    if (!last) return;
    try {
      await call(`edits/${last.edit}/undo`, { method: 'POST', body: {} });
      setLast(null);
      setMistakes([]);
    } catch (error) {
      setMistakes([{ path: '', message: (error as ApiProblem).words }]);
    }
    await written();
  };
  const general = mistakes.filter(({ path }) => !fields.some(({ name }) => path === `set.${name}`));
  return (
    <section className="section" aria-label="Notes of ours">
      <h3>
        Ours{' '}
        {mayEdit && !form && (
          <button type="button" className="textlink" style={{ fontWeight: 400 }} onClick={begin}>
            {filled.length > 0 ? 'Change' : 'Write'}
          </button>
        )}
      </h3>
      {form ? (
        <form
          className="form close"
          onSubmit={(event) => {
            event.preventDefault();
            void save();
          }}
          onKeyDown={(event) => {
            if (event.key !== 'Escape') return;
            event.stopPropagation();
            setForm(null);
          }}
        >
          {fields.map((field, at) => (
            <OwnInput
              key={field.name}
              field={field}
              autoFocus={at === 0}
              value={form[field.name] ?? ''}
              mistake={mistakes.find(({ path }) => path === `set.${field.name}`)?.message}
              onChange={(value) => setForm({ ...form, [field.name]: value })}
            />
          ))}
          {general.map(({ message }) => (
            <p key={message} role="alert" className="small bad">
              {message}
            </p>
          ))}
          <div style={{ display: 'flex', gap: 8 }}>
            <Button type="submit" variant="contained">
              Save
            </Button>
            <Button color="secondary" onClick={() => setForm(null)}>
              Leave it
            </Button>
          </div>
        </form>
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
      {!form &&
        general.map(({ message }) => (
          <p key={message} role="alert" className="small bad">
            {message}
          </p>
        ))}
      {last && !form && (
        <p role="status" className="small quiet">
          {last.values === 1 ? 'Written.' : `${last.values} values written.`}{' '}
          <button type="button" className="textlink" onClick={() => void undo()}>
            Undo
          </button>
        </p>
      )}
    </section>
  );
}
