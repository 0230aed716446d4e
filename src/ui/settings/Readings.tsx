'use client';

import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { ReadingRule } from '@/core/signatures/reading';
import { type ApiProblem, call } from '../lib/api';
import { useMayConfigure } from '../lib/person';
import { ReadingForm } from './ReadingForm';
import { TextButton } from '../components/TextButton';

interface Listed extends ReadingRule {
  devices: number;
  answered: number;
}
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
  const [editing, setEditing] = useState<ReadingRule | 'new' | null>(null);
  const [removed, setRemoved] = useState<ReadingRule | null>(null);
  const send = async (rule: object) => {
    await call('readings', { method: 'POST', body: rule });
    await client.invalidateQueries({ queryKey: ['readings'] });
  };
  const remove = async (rule: Listed) => {
    await call(`readings/${encodeURIComponent(rule.name)}`, { method: 'DELETE' });
    const { devices: _devices, answered: _answered, ...bare } = rule;
    setRemoved(bare);
    await client.invalidateQueries({ queryKey: ['readings'] });
  };
  return (
    <section style={{ padding: '0 16px 24px' }} aria-label="Readings">
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
                  {mayConfigure ? <TextButton onClick={() => setEditing(rule)}>{rule.name}</TextButton> : rule.name}
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
                <td>{mayConfigure && <TextButton onClick={() => void remove(rule)}>Remove</TextButton>}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {removed && (
        <p role="status" className="quiet">
          “{removed.name}” is read no more; what was read stays.{' '}
          <TextButton onClick={() => void send(removed).then(() => setRemoved(null))}>Undo</TextButton>
        </p>
      )}
      {editing === null ? (
        mayConfigure && (
          <p style={{ paddingTop: 8 }}>
            <Button variant="outlined" onClick={() => setEditing('new')}>
              Add a reading
            </Button>
          </p>
        )
      ) : (
        <ReadingForm
          key={editing === 'new' ? '' : editing.name}
          rule={editing === 'new' ? null : editing}
          onSend={send}
          onDone={() => {
            setEditing(null);
            setRemoved(null);
          }}
          onLeave={() => setEditing(null)}
        />
      )}
    </section>
  );
}
