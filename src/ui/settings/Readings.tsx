'use client';

import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { ReadingRule } from '@/core/signatures/reading';
import { type ApiProblem, call } from '../lib/api';
import { useMayConfigure } from '../lib/person';

interface Listed extends ReadingRule {
  devices: number;
  answered: number;
}
type Form = Record<'name' | 'where' | 'place' | 'unit' | 'multiplyBy' | 'above' | 'below', string>;

const blank: Form = { name: '', where: '', place: '', unit: '', multiplyBy: '', above: '', below: '' };
const numbers = ['multiplyBy', 'above', 'below'] as const;
const bounds = ({ above, below }: ReadingRule) =>
  [below === undefined ? '' : `not below ${below}`, above === undefined ? '' : `not above ${above}`]
    .filter(Boolean)
    .join(', ');

/** Values that people want to see over time, on every device a filter finds. */
export function Readings() {
  const mayConfigure = useMayConfigure();
  const client = useQueryClient();
  const list = useQuery<{ rows: Listed[] }, ApiProblem>({
    queryKey: ['readings'],
    queryFn: () => call<{ rows: Listed[] }>('readings'),
  });
  const [form, setForm] = useState<Form | null>(null);
  const [mistakes, setMistakes] = useState<{ path: string; message: string }[]>([]);
  const [removed, setRemoved] = useState<ReadingRule | null>(null);
  const at = (path: string) =>
    mistakes
      .filter(
        (mistake) => mistake.path === path || (path === 'place' && ['oid', 'resource', ''].includes(mistake.path)),
      )
      .map(({ message }) => message)
      .join('\n');
  const open = (rule: ReadingRule | null) => {
    setMistakes([]);
    setForm(
      rule === null
        ? blank
        : {
            name: rule.name,
            where: rule.where,
            place: rule.oid ?? rule.resource ?? '',
            unit: rule.unit ?? '',
            multiplyBy: String(rule.multiplyBy ?? ''),
            above: String(rule.above ?? ''),
            below: String(rule.below ?? ''),
          },
    );
  };
  const send = async (rule: object) => {
    await call('readings', { method: 'POST', body: rule });
    await client.invalidateQueries({ queryKey: ['readings'] });
  };
  const save = async (given: Form) => {
    const odd = numbers
      .filter((name) => given[name].trim() !== '' && !Number.isFinite(Number(given[name])))
      .map((name) => ({ path: name, message: 'is no number' }));
    setMistakes(odd);
    if (odd.length > 0) return;
    const place = given.place.trim();
    try {
      await send({
        name: given.name.trim(),
        where: given.where.trim(),
        ...(place.startsWith('/') ? { resource: place } : place ? { oid: place.replace(/^\./, '') } : {}),
        ...(given.unit.trim() && { unit: given.unit.trim() }),
        ...Object.fromEntries(
          numbers.flatMap((name) => (given[name].trim() === '' ? [] : [[name, Number(given[name])]])),
        ),
      });
      setForm(null);
      setRemoved(null);
    } catch (error) {
      const problem = error as ApiProblem;
      setMistakes(problem.errors.length > 0 ? problem.errors : [{ path: 'name', message: problem.detail }]);
    }
  };
  const remove = async (rule: Listed) => {
    await call(`readings/${encodeURIComponent(rule.name)}`, { method: 'DELETE' });
    const { devices: _devices, answered: _answered, ...bare } = rule;
    setRemoved(bare);
    await client.invalidateQueries({ queryKey: ['readings'] });
  };
  const field = (name: keyof Form, label: string, hint: string, mono = false) =>
    form && (
      <TextField
        label={label}
        name={name}
        value={form[name]}
        autoComplete="off"
        error={at(name) !== ''}
        helperText={at(name) || hint}
        onChange={(event) => setForm({ ...form, [name]: event.target.value })}
        slotProps={{
          htmlInput: {
            spellCheck: false,
            ...(mono && { style: { fontFamily: "'JetBrains Mono Variable', monospace" } }),
          },
          formHelperText: { style: { whiteSpace: 'pre-line' } },
        }}
      />
    );
  return (
    <section style={{ padding: '0 16px 24px' }} aria-labelledby="readings-title">
      <h2 className="sub" id="readings-title">
        Readings: values to see over time
      </h2>
      {list.error && <p className="quiet">{list.error.detail}</p>}
      {list.data && list.data.rows.length === 0 && (
        <p className="quiet">
          None yet. Any number a device tells, over SNMP, Redfish or RESTCONF, can be kept at every survey; its line
          stands in the dossier, and beyond its bounds it is a fault.
        </p>
      )}
      {list.data && list.data.rows.length > 0 && (
        <table className="plain">
          <thead>
            <tr>
              <th>Reading</th>
              <th>Of devices</th>
              <th>Read at</th>
              <th>Unit</th>
              <th>Well while</th>
              <th>Answered by</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {list.data.rows.map((rule) => (
              <tr key={rule.name}>
                <td>
                  {mayConfigure ? (
                    <button type="button" className="textlink" onClick={() => open(rule)}>
                      {rule.name}
                    </button>
                  ) : (
                    rule.name
                  )}
                </td>
                <td className="mono">{rule.where || 'all'}</td>
                <td className="mono" style={{ maxWidth: 420, overflowWrap: 'anywhere' }}>
                  {rule.oid ?? rule.resource}
                </td>
                <td>{rule.unit ?? ''}</td>
                <td>{bounds(rule) || <span className="quiet">anything</span>}</td>
                <td>
                  {rule.answered} of {rule.devices}
                </td>
                <td>
                  {mayConfigure && (
                    <button type="button" className="textlink" onClick={() => void remove(rule)}>
                      Remove
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {removed && (
        <p role="status" className="quiet">
          “{removed.name}” is read no more; what was read stays.{' '}
          <button type="button" className="textlink" onClick={() => void send(removed).then(() => setRemoved(null))}>
            Undo
          </button>
        </p>
      )}
      {form === null ? (
        mayConfigure && (
          <p style={{ paddingTop: 8 }}>
            <Button variant="outlined" onClick={() => open(null)}>
              Add a reading
            </Button>
          </p>
        )
      ) : (
        <form
          className="form"
          style={{ marginTop: 12, maxWidth: 760 }}
          onSubmit={(event) => {
            event.preventDefault();
            void save(form);
          }}
        >
          <div className="pair">
            {field('name', 'Name', 'as the line is called')}
            {field('where', 'Of devices', 'a filter: role=switch site=LQY; empty for all', true)}
          </div>
          {field(
            'place',
            'Read at',
            'an object, 1.3.6.1.4.1.59101.1.5.0, or a place in a resource, /redfish/v1/Chassis/1/Power#/PowerControl/0/PowerConsumedWatts',
            true,
          )}
          <div style={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 8 }}>
            {field('unit', 'Unit', 'W, °C, %')}
            {field('multiplyBy', 'Factor', 'times, 1 if empty')}
            {field('below', 'Not below', 'a fault beneath')}
            {field('above', 'Not above', 'a fault beyond')}
          </div>
          <div style={{ display: 'flex', gap: 10 }}>
            <Button type="submit" variant="contained">
              Save the reading
            </Button>
            <Button color="secondary" onClick={() => setForm(null)}>
              Leave it
            </Button>
          </div>
        </form>
      )}
    </section>
  );
}
