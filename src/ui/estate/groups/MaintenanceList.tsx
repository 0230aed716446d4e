'use client';

import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { format } from 'date-fns';
import { useState } from 'react';
import { Link } from '@/ui/components/Link';
import { useView } from '../../lib/useView';
import { call, type ApiProblem } from '../../lib/api';
import { FilterField } from '../../components/filter/FilterField';
import { moment } from '../../lib/format';
import { Glyph } from '../../components/Glyph';
import { useMayEdit } from '../../lib/person';
import { useGroupsWritten, useMaintenance, type MaintenanceRow } from './useGroups';

const glyphs = { now: 'fault', planned: 'silent', over: 'off' } as const;
const stateWords = { now: 'goes on', planned: 'is to come', over: 'is over' } as const;
const localMoment = (date: Date) => format(date, "yyyy-MM-dd'T'HH:mm");

/** Who works at what, and until when: what goes wrong there meanwhile is expected. */
export function MaintenanceList() {
  const view = useView();
  const mayEdit = useMayEdit();
  const written = useGroupsWritten();
  const { data: rows } = useMaintenance();
  const [told, setTold] = useState('');
  const end = async (row: MaintenanceRow) => {
    try {
      await call(`maintenance/${row.id}/end`, { method: 'POST', body: {} });
      setTold(`“${row.reason}” ${row.state === 'planned' ? 'is taken off the plan' : 'is ended'}.`);
    } catch (error) {
      setTold((error as ApiProblem).words);
    }
    await written();
  };
  return (
    <div className="blocks wide">
      <section>
        <h2 className="sub">Maintenance</h2>
        <p className="quiet small">
          Devices in maintenance are told apart in Today and in checks, and can be left out of tables with{' '}
          <span className="mono">maintenance=no</span>.
        </p>
        {rows?.length === 0 ? (
          <p className="quiet">Nobody works at anything.</p>
        ) : (
          <table className="plain" aria-label="Maintenance">
            <thead>
              <tr>
                <th>State</th>
                <th>What is done</th>
                <th>Devices</th>
                <th>From</th>
                <th>Until</th>
                <th>Set by</th>
                <td />
              </tr>
            </thead>
            <tbody>
              {rows?.slice(0, 30).map((row) => (
                <tr key={row.id}>
                  <td>
                    <span className="state">
                      <Glyph name={glyphs[row.state]} word={stateWords[row.state]} />
                      {stateWords[row.state]}
                    </span>
                  </td>
                  <td>{row.reason}</td>
                  <td>
                    <Link className="mono" href={view.href('/estate', { where: row.where, sel: null })}>
                      {row.where}
                    </Link>
                  </td>
                  <td>{moment(row.from)}</td>
                  <td>{row.until ? moment(row.until) : <span className="quiet">somebody ends it</span>}</td>
                  <td>{row.by}</td>
                  <td>
                    {mayEdit && row.state !== 'over' && (
                      <button type="button" className="textlink" onClick={() => void end(row)}>
                        {row.state === 'planned' ? 'Take off' : 'End now'}
                      </button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {told && (
          <p role="status" className="small">
            {told}
          </p>
        )}
      </section>
      {mayEdit && (
        <section>
          <MaintenanceForm />
        </section>
      )}
    </div>
  );
}

function MaintenanceForm() {
  const view = useView();
  const written = useGroupsWritten();
  const now = new Date();
  const [form, setForm] = useState({
    where: view.where,
    reason: '',
    from: localMoment(now),
    until: localMoment(new Date(now.getTime() + 4 * 3_600_000)),
  });
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const [told, setTold] = useState('');
  const at = (path: string) => problem?.errors.find((mistake) => mistake.path === path)?.message;
  const iso = (local: string) => (local ? new Date(local).toISOString() : null);
  const save = async () => {
    try {
      const { devices } = await call<{ devices: number }>('maintenance', {
        method: 'POST',
        body: { where: form.where, reason: form.reason.trim(), from: iso(form.from) ?? '', until: iso(form.until) },
      });
      setProblem(null);
      setTold(`Set for ${devices} ${devices === 1 ? 'device' : 'devices'}.`);
      setForm({ ...form, reason: '' });
      await written();
    } catch (error) {
      setTold('');
      setProblem(error as ApiProblem);
    }
  };
  return (
    <form
      className="form"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <h2 className="sub">Set maintenance</h2>
      <div>
        <div className="small quiet">Devices, as a filter</div>
        <FilterField
          own
          about={{ thing: 'devices' }}
          value={form.where}
          onChange={(where) => setForm((before) => ({ ...before, where }))}
          problem={problem}
          hint="site=RPW role=switch, or a group"
        />
        {at('where') && (
          <p className="bad small" role="alert">
            {at('where')}
          </p>
        )}
      </div>
      <TextField
        label="What is done"
        name="maintenanceReason"
        autoComplete="off"
        value={form.reason}
        error={Boolean(at('reason'))}
        helperText={at('reason')}
        onChange={(event) => setForm({ ...form, reason: event.target.value })}
      />
      <div className="form">
        <TextField
          label="From"
          name="maintenanceFrom"
          type="datetime-local"
          value={form.from}
          error={Boolean(at('from'))}
          helperText={at('from')}
          slotProps={{ inputLabel: { shrink: true } }}
          onChange={(event) => setForm({ ...form, from: event.target.value })}
        />
        <TextField
          label="Until"
          name="maintenanceUntil"
          type="datetime-local"
          value={form.until}
          error={Boolean(at('until'))}
          helperText={at('until') ?? 'empty: until somebody ends it'}
          slotProps={{ inputLabel: { shrink: true } }}
          onChange={(event) => setForm({ ...form, until: event.target.value })}
        />
      </div>
      <div style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
        <Button type="submit" variant="outlined" disabled={form.where.trim() === '' || form.reason.trim() === ''}>
          Set maintenance
        </Button>
        {told && (
          <span role="status" className="quiet small">
            {told}
          </span>
        )}
      </div>
    </form>
  );
}
