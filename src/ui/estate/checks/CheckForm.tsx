'use client';

import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { mayBeChecked, severities, type Severity } from '@/core/checks/check';
import { thingNames, things, type ThingName } from '@/core/things/things';
import { call, type ApiProblem } from '../../lib/api';
import { FilterField } from '../../components/filter/FilterField';
import { bodyOf, useChecksWritten, type CheckRow } from './useChecks';

const blank = {
  name: '',
  thing: 'devices' as ThingName,
  where: '',
  scope: '',
  severity: 'moderate' as Severity,
  why: '',
  remedy: '',
  on: true,
};

/** Makes a check, or changes one; it can be tried before. */
export function CheckForm({ editing, onDone }: { editing: CheckRow | null; onDone: (id?: string) => void }) {
  const written = useChecksWritten();
  const [form, setForm] = useState(editing ? bodyOf(editing) : blank);
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const [tried, setTried] = useState<{ failing: number; excused: number } | null>(null);
  const at = (path: string) => problem?.errors.find((mistake) => mistake.path === path)?.message;
  const change = (part: Partial<typeof form>) => {
    setTried(null);
    setForm((before) => ({ ...before, ...part }));
  };
  const attempt = async (work: () => Promise<void>) => {
    try {
      await work();
      setProblem(null);
    } catch (error) {
      setTried(null);
      setProblem(error as ApiProblem);
    }
  };
  const trial = () =>
    attempt(async () =>
      setTried(
        await call<{ failing: number; excused: number }>('checks/trial', {
          method: 'POST',
          body: { thing: form.thing, where: form.where, scope: form.scope },
        }),
      ),
    );
  const save = () =>
    attempt(async () => {
      const { id } = await call<{ id: string }>(editing ? `checks/${editing.id}` : 'checks', {
        method: editing ? 'PUT' : 'POST',
        body: { ...form, name: form.name.trim() },
      });
      await written();
      onDone(id);
    });
  const filterProblem = (path: string) =>
    problem?.errors.some((mistake) => mistake.path === path) ? (
      <p className="bad small" role="alert">
        {at(path)}
      </p>
    ) : null;
  return (
    <form
      className="form"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <h2>{editing ? 'Change the check' : 'Make a check'}</h2>
      <TextField
        label="What must be true"
        name="checkName"
        autoComplete="off"
        value={form.name}
        error={Boolean(at('name'))}
        helperText={at('name') ?? 'like “Every uplink is described”'}
        onChange={(event) => change({ name: event.target.value })}
      />
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 10 }}>
        <TextField
          select
          label="Looks at"
          name="checkThing"
          value={form.thing}
          onChange={(event) => change({ thing: event.target.value as ThingName })}
        >
          {thingNames.filter(mayBeChecked).map((thing) => (
            <MenuItem key={thing} value={thing}>
              {things[thing].title.toLowerCase()}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="Severity"
          name="checkSeverity"
          value={form.severity}
          onChange={(event) => change({ severity: event.target.value as Severity })}
        >
          {severities.map((severity) => (
            <MenuItem key={severity} value={severity}>
              {severity}
            </MenuItem>
          ))}
        </TextField>
      </div>
      <div>
        <div className="small quiet">What must not be there, as a filter</div>
        <FilterField
          key={form.thing}
          own
          about={{ thing: form.thing }}
          value={form.where}
          onChange={(where) => change({ where })}
          hint={'kind=uplink alias=""'}
        />
        {filterProblem('where')}
      </div>
      <div>
        <div className="small quiet">Only of these devices, as a filter; empty for all</div>
        <FilterField
          own
          about={{ thing: 'devices' }}
          value={form.scope}
          onChange={(scope) => change({ scope })}
          hint={'site=SGH, or group="North ring"'}
        />
        {filterProblem('scope')}
      </div>
      <TextField
        label="Why it matters"
        name="checkWhy"
        multiline
        minRows={2}
        value={form.why}
        onChange={(event) => change({ why: event.target.value })}
      />
      <TextField
        label="What to do"
        name="checkRemedy"
        multiline
        minRows={2}
        value={form.remedy}
        onChange={(event) => change({ remedy: event.target.value })}
      />
      {problem && problem.errors.length === 0 && (
        <p className="bad" role="alert">
          {problem.detail}
        </p>
      )}
      {tried && (
        <p role="status">
          {tried.failing === 0
            ? 'It would hold now.'
            : `It would fail now: ${tried.failing.toLocaleString('en')} found.`}
          {tried.excused > 0 && ` ${tried.excused} more in maintenance.`}
        </p>
      )}
      <div style={{ display: 'flex', gap: 8 }}>
        <Button type="submit" variant="contained" disabled={form.name.trim() === '' || form.where.trim() === ''}>
          {editing ? 'Save' : 'Make the check'}
        </Button>
        <Button variant="outlined" disabled={form.where.trim() === ''} onClick={() => void trial()}>
          Try it
        </Button>
        <Button color="secondary" onClick={() => onDone()}>
          Leave it
        </Button>
      </div>
    </form>
  );
}
