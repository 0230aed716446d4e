'use client';

import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { call, type ApiProblem } from '../../lib/api';
import { useOutletsWritten, type OutletRow } from './useOutlets';

const blank = { site: '', label: '', room: '', panel: '', position: '', device: '', port: '', note: '' };
export type OutletDraft = typeof blank;

const draftOf = ({ site, label, room, panel, position, device, port, note }: OutletRow): OutletDraft => ({
  site,
  label,
  room,
  panel,
  position,
  device,
  port: port?.name ?? '',
  note,
});

/** Enters an outlet, or changes one. */
export function OutletForm({
  editing,
  proposed = {},
  onDone,
}: {
  editing: OutletRow | null;
  proposed?: Partial<OutletDraft>;
  onDone: () => void;
}) {
  const written = useOutletsWritten();
  const [form, setForm] = useState<OutletDraft>(() => (editing ? draftOf(editing) : { ...blank, ...proposed }));
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const [told, setTold] = useState('');
  const [busy, setBusy] = useState(false);
  const mistakeAt = (field: string) => problem?.errors.find(({ path }) => path === field)?.message;
  const put = (part: Partial<OutletDraft>) => {
    setForm((before) => ({ ...before, ...part }));
    setTold('');
  };
  const acting = async (work: () => Promise<unknown>, done: () => void) => {
    setBusy(true);
    try {
      await work();
      setProblem(null);
      // who is done need not wait for what is read again
      done();
      await written();
    } catch (error) {
      setProblem(error as ApiProblem);
    }
    setBusy(false);
  };
  const save = () =>
    acting(
      () =>
        call(editing ? `outlets/${editing.id}` : 'outlets', {
          method: editing ? 'PUT' : 'POST',
          body: Object.fromEntries(Object.entries(form).map(([field, text_]) => [field, text_.trim()])),
        }),
      () => {
        if (editing || proposed.port) return onDone();
        setTold(`${form.label.trim()} is entered.`);
        setForm((before) => ({
          ...blank,
          site: before.site,
          room: before.room,
          panel: before.panel,
          device: before.device,
        }));
      },
    );
  const text = (field: keyof OutletDraft, label: string, help = '', more: object = {}) => (
    <TextField
      label={label}
      name={`outlet.${field}`}
      autoComplete="off"
      value={form[field]}
      error={Boolean(mistakeAt(field))}
      helperText={mistakeAt(field) ?? help}
      onChange={(event) => put({ [field]: event.target.value })}
      {...more}
    />
  );
  return (
    <form
      className="form"
      style={{ paddingTop: 6 }}
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <div className="pair">
        {text('label', 'Label', 'as it stands on the wall')}
        {text('site', 'Site')}
      </div>
      <div className="pair">
        {text('room', 'Room')}
        <div className="pair">
          {text('panel', 'Patch panel')}
          {text('position', 'Place on it')}
        </div>
      </div>
      <div className="pair">
        {text('device', 'Patched to the device', 'empty: to nothing')}
        {text('port', 'and its port')}
      </div>
      {text('note', 'Note', '', { multiline: true })}
      {problem && problem.errors.every(({ path }) => !(path in blank)) && (
        <p className="bad" role="alert">
          {problem.words}
        </p>
      )}
      <div style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
        <Button type="submit" variant="contained" disabled={busy}>
          {editing ? 'Save' : 'Enter the outlet'}
        </Button>
        {editing && (
          <Button
            color="secondary"
            disabled={busy}
            onClick={() => void acting(() => call(`outlets/${editing.id}`, { method: 'DELETE' }), onDone)}
          >
            Delete
          </Button>
        )}
        {told && (
          <span role="status" className="quiet">
            {told}
          </span>
        )}
      </div>
    </form>
  );
}
