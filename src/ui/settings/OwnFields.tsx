'use client';

import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { nameOfLabel, ownedThings, ownKinds, type OwnKind, type OwnedThing } from '@/core/own/ownField';
import { things } from '@/core/things/things';
import { call, type ApiProblem } from '../lib/api';
import { useOwnFields } from '../lib/ownFields';
import { usePerson, type KeptOwnField } from '../lib/person';

const kindWords: Record<OwnKind, string> = {
  text: 'one line of text',
  note: 'longer text',
  number: 'a number',
  date: 'a day',
  choice: 'one of some words',
  boolean: 'yes or no',
  tags: 'several short words',
};
const blank = { thing: 'devices' as OwnedThing, label: '', kind: 'text' as OwnKind, choices: '' };

/** Fields that people fill in: in dossiers, tables, filters and files. */
export function OwnFields() {
  const client = useQueryClient();
  const fields = useOwnFields();
  const administrator = usePerson().role === 'administrator';
  const [form, setForm] = useState(blank);
  const [mistakes, setMistakes] = useState<ApiProblem['errors']>([]);
  const [problem, setProblem] = useState('');
  const [removed, setRemoved] = useState<KeptOwnField | null>(null);
  const at = (path: string) => mistakes.find((mistake) => mistake.path.startsWith(path))?.message;
  const anew = () => client.invalidateQueries({ queryKey: ['fields'] });
  const save = async () => {
    try {
      await call('fields', {
        method: 'POST',
        body: {
          thing: form.thing,
          label: form.label.trim(),
          kind: form.kind,
          choices: form.choices
            .split(',')
            .map((word) => word.trim())
            .filter(Boolean),
        },
      });
      setForm({ ...blank, thing: form.thing });
      setMistakes([]);
      await anew();
    } catch (error) {
      const problem = error as ApiProblem;
      setMistakes(problem.errors.length > 0 ? problem.errors : [{ path: 'label', message: problem.detail }]);
    }
  };
  const act = async (work: () => Promise<unknown>, done: KeptOwnField | null) => {
    try {
      await work();
      setRemoved(done);
      setProblem('');
    } catch (error) {
      setProblem((error as ApiProblem).words);
    }
    await anew();
  };
  const remove = (field: KeptOwnField) => act(() => call(`fields/${field.id}`, { method: 'DELETE' }), field);
  const restore = (field: KeptOwnField) =>
    act(() => call(`fields/${field.id}/restore`, { method: 'POST', body: {} }), null);
  return (
    <div className="blocks">
      <section>
        <h2 className="sub">Own fields</h2>
        <p className="quiet small">
          What equipment does not tell: who owns it, what it cost, what to know before touching it. Filled in at a
          dossier, for many rows under Edit in a table, or from a CSV file.
        </p>
        <table className="plain">
          <thead>
            <tr>
              <th>Of</th>
              <th>Heading</th>
              <th>In filters</th>
              <th>Holds</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {fields.map((field) => (
              <tr key={field.id}>
                <td>{things[field.thing].title.toLowerCase()}</td>
                <td>{field.label}</td>
                <td className="mono">{field.name}</td>
                <td>
                  {kindWords[field.kind]}
                  {field.choices.length > 0 && <span className="quiet">: {field.choices.join(', ')}</span>}
                </td>
                <td>
                  {administrator && (
                    <button type="button" className="textlink" onClick={() => void remove(field)}>
                      Remove
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {problem && (
          <p role="alert" className="bad small">
            {problem}
          </p>
        )}
        {removed && (
          <p role="status" className="quiet small">
            “{removed.label}” is out of use; what was written in it is kept.{' '}
            <button type="button" className="textlink" onClick={() => void restore(removed)}>
              Undo
            </button>
          </p>
        )}
      </section>
      <section>
        {administrator && (
          <form
            className="form"
            style={{ maxWidth: 420 }}
            onSubmit={(event) => {
              event.preventDefault();
              void save();
            }}
          >
            <h2 className="sub">Add an own field</h2>
            <TextField
              select
              label="Of"
              name="fieldThing"
              value={form.thing}
              onChange={(event) => setForm({ ...form, thing: event.target.value as OwnedThing })}
            >
              {ownedThings.map((thing) => (
                <MenuItem key={thing} value={thing}>
                  {things[thing].title.toLowerCase()}
                </MenuItem>
              ))}
            </TextField>
            <TextField
              label="Heading"
              name="fieldLabel"
              autoComplete="off"
              value={form.label}
              error={Boolean(at('label'))}
              helperText={
                at('label') ?? (form.label.trim() ? `in filters: ${nameOfLabel(form.label)}` : 'like “Cost centre”')
              }
              onChange={(event) => setForm({ ...form, label: event.target.value })}
            />
            <TextField
              select
              label="Holds"
              name="fieldKind"
              value={form.kind}
              error={Boolean(at('kind'))}
              helperText={at('kind')}
              onChange={(event) => setForm({ ...form, kind: event.target.value as OwnKind })}
            >
              {ownKinds.map((kind) => (
                <MenuItem key={kind} value={kind}>
                  {kindWords[kind]}
                </MenuItem>
              ))}
            </TextField>
            {form.kind === 'choice' && (
              <TextField
                label="Words to choose from"
                name="fieldChoices"
                autoComplete="off"
                value={form.choices}
                error={Boolean(at('choices'))}
                helperText={at('choices') ?? 'separated by commas'}
                onChange={(event) => setForm({ ...form, choices: event.target.value })}
              />
            )}
            <div>
              <Button type="submit" variant="outlined" disabled={form.label.trim() === ''}>
                Add the field
              </Button>
            </div>
          </form>
        )}
      </section>
    </div>
  );
}
