'use client';

import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { contractKinds, partsByKind, readSerials, type ContractKind } from '@/core/cover/contract';
import { call, type ApiProblem, type ThingRow } from '../../lib/api';
import { useContractsWritten } from './useContracts';

const blank = {
  number: '',
  kind: 'contract' as ContractKind,
  supplier: '',
  level: '',
  contact: '',
  from: '',
  until: '',
  parts: true,
  note: '',
  serials: '',
};

function formOf(row: ThingRow | null): typeof blank {
  if (!row) return blank;
  const text = (field: string) => String(row[field] ?? '');
  return {
    number: text('number'),
    kind: row.kind as ContractKind,
    supplier: text('supplier'),
    level: text('level'),
    contact: text('contact'),
    from: text('from'),
    until: text('until'),
    parts: row.parts === true,
    note: text('note'),
    serials: (row.serials as string[]).join('\n'),
  };
}

/** Enters a contract, or changes one. */
export function ContractForm({ editing, onDone }: { editing: ThingRow | null; onDone: () => void }) {
  const written = useContractsWritten();
  const [form, setForm] = useState(() => formOf(editing));
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const [told, setTold] = useState('');
  const [busy, setBusy] = useState(false);
  const mistakeAt = (field: string) =>
    problem?.errors.find(({ path }) => path === field || path.startsWith(`${field}[`))?.message;
  const elsewhere = problem?.errors.filter(({ path }) => !((path.split('[')[0] ?? '') in blank)) ?? [];
  const put = (part: Partial<typeof blank>) => {
    setForm((before) => ({ ...before, ...part }));
    setTold('');
  };
  const save = async () => {
    setBusy(true);
    try {
      const body = {
        ...form,
        number: form.number.trim(),
        supplier: form.supplier.trim(),
        level: form.level.trim(),
        contact: form.contact.trim(),
        from: form.from || null,
        until: form.until || null,
        serials: readSerials(form.serials),
      };
      await call(editing ? `contracts/${editing.id}` : 'contracts', { method: editing ? 'PUT' : 'POST', body });
      setProblem(null);
      await written();
      if (editing) onDone();
      else {
        setTold(`${body.number} is entered.`);
        setForm(blank);
      }
    } catch (error) {
      setProblem(error as ApiProblem);
    }
    setBusy(false);
  };
  const text = (
    field: 'number' | 'supplier' | 'level' | 'contact' | 'note',
    label: string,
    help = '',
    more: object = {},
  ) => (
    <TextField
      label={label}
      name={`contract.${field}`}
      autoComplete="off"
      value={form[field]}
      error={Boolean(mistakeAt(field))}
      helperText={mistakeAt(field) ?? help}
      onChange={(event) => put({ [field]: event.target.value })}
      {...more}
    />
  );
  const day = (field: 'from' | 'until', label: string, help: string) => (
    <TextField
      type="date"
      label={label}
      name={`contract.${field}`}
      value={form[field]}
      error={Boolean(mistakeAt(field))}
      helperText={mistakeAt(field) ?? help}
      onChange={(event) => put({ [field]: event.target.value })}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
  const count = readSerials(form.serials).length;
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
        {text('number', 'Number', 'as on paper')}
        <TextField
          select
          label="Kind"
          name="contract.kind"
          value={form.kind}
          onChange={(event) =>
            put({ kind: event.target.value as ContractKind, parts: partsByKind(event.target.value as ContractKind) })
          }
        >
          {contractKinds.map((kind) => (
            <MenuItem key={kind} value={kind}>
              {kind}
            </MenuItem>
          ))}
        </TextField>
      </div>
      <div className="pair">
        {text('supplier', 'Supplier')}
        {text('level', 'Promises', 'like “part on site within 4 hours”')}
      </div>
      <div className="pair">
        {day('from', 'From', 'empty: since ever')}
        {day('until', 'Until', 'the last day; empty: without an end')}
      </div>
      {text('contact', 'Call', 'whom, and how')}
      <TextField
        label="Serials"
        name="contract.serials"
        multiline
        minRows={3}
        maxRows={9}
        value={form.serials}
        error={Boolean(mistakeAt('serials'))}
        helperText={
          mistakeAt('serials') ??
          (count > 0
            ? `${count.toLocaleString('en')} ${count === 1 ? 'serial' : 'serials'}`
            : 'separated by blanks, commas or lines')
        }
        onChange={(event) => put({ serials: event.target.value })}
        slotProps={{ htmlInput: { className: 'mono', spellCheck: false } }}
      />
      <label>
        <input
          type="checkbox"
          name="contract.parts"
          checked={form.parts}
          onChange={() => put({ parts: !form.parts })}
        />{' '}
        what a chassis holds is covered with it
      </label>
      {text('note', 'Note', '', { multiline: true })}
      {problem && (problem.errors.length === 0 || elsewhere.length > 0) && (
        <p className="bad" role="alert">
          {elsewhere.length > 0 ? elsewhere.map(({ message }) => message).join('. ') : problem.detail}
        </p>
      )}
      <div style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
        <Button type="submit" variant="contained" disabled={busy}>
          {editing ? 'Save' : 'Enter the contract'}
        </Button>
        {told && (
          <span role="status" className="quiet">
            {told}
          </span>
        )}
      </div>
    </form>
  );
}
