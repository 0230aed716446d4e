'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { formatAge, formatBytes } from '@/core/values/quantity';
import { call, type ApiProblem } from '../lib/api';
import { useMayConfigure } from '../lib/person';
import { AddCollector } from './AddCollector';
import { Glyph, type GlyphName } from '../components/Glyph';
import { TextButton } from '../components/TextButton';

interface CollectorRow {
  id: number;
  name: string;
  heard: {
    at: string;
    version: string;
    fault: string;
    load: { addresses: number; spooled: number; spooledBytes: number; memoryBytes: number; processor: number };
  } | null;
  scopes: string[];
  inHand: number;
}
interface CollectorList {
  rows: CollectorRow[];
  version: string;
  now: string;
}

const silentAfterSeconds = 15;
const pollMs = 2000;

export function useCollectors() {
  return useQuery<CollectorList, ApiProblem>({
    queryKey: ['collectors'],
    queryFn: () => call<CollectorList>('collectors'),
    refetchInterval: pollMs,
  });
}

const counted = (count: number, one: string, many: string) => `${count} ${count === 1 ? one : many}`;

/** How a collector fares, in words. The clock is the server's: that of the browser may be wrong. */
function stateOf({ heard, inHand }: CollectorRow, now: string): { glyph: GlyphName; words: string } {
  if (!heard) return { glyph: 'unknown', words: 'never heard' };
  const age = Math.max(0, (Date.parse(now) - Date.parse(heard.at)) / 1000);
  if (age > silentAfterSeconds)
    return {
      glyph: 'silent',
      words: `not heard for ${formatAge(Math.round(age))}${inHand > 0 ? '; what it had in hand goes to others' : ''}`,
    };
  if (heard.fault) return { glyph: 'fault', words: heard.fault };
  return {
    glyph: 'up',
    words: inHand > 0 ? `at work: ${counted(inHand, 'address', 'addresses')} in hand` : 'waits for work',
  };
}

/** Engines at other sites: whether they are there, how they fare, and how to add one. */
export function Collectors() {
  const mayConfigure = useMayConfigure();
  const client = useQueryClient();
  const { data, error } = useCollectors();
  const [adding, setAdding] = useState(false);
  const [removing, setRemoving] = useState<CollectorRow | null>(null);
  const [problem, setProblem] = useState('');
  const remove = async ({ id }: CollectorRow) => {
    try {
      await call(`collectors/${id}`, { method: 'DELETE' });
      setProblem('');
    } catch (fault) {
      setProblem((fault as ApiProblem).words);
    }
    setRemoving(null);
    await client.invalidateQueries({ queryKey: ['collectors'] });
  };
  return (
    <section style={{ padding: '0 16px 24px' }}>
      <h2 className="sub">Collectors: who asks at other sites</h2>
      {error && <p className="quiet">{error.detail}</p>}
      {problem && (
        <p role="alert" className="small" style={{ color: 'var(--bad)' }}>
          {problem}
        </p>
      )}
      {data?.rows.length === 0 && (
        <p className="quiet">
          None. A collector runs inside a site that cannot be reached from here, and reports out over HTTPS.
        </p>
      )}
      {data && data.rows.length > 0 && (
        <table className="plain" style={{ width: '100%' }}>
          <thead>
            <tr>
              <th>Name</th>
              <th>State</th>
              <th>Asks</th>
              <th>Waiting in its spool</th>
              <th>Load</th>
              <th>Version</th>
              <th>
                <span className="unseen">Remove</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {data.rows.map((row) => {
              const { glyph, words } = stateOf(row, data.now);
              const load = row.heard?.load;
              return (
                <tr key={row.id}>
                  <td>
                    <b style={{ fontWeight: 600 }}>{row.name}</b>
                  </td>
                  <td>
                    <span className="state">
                      <Glyph name={glyph} />
                      {words}
                    </span>
                  </td>
                  <td>{row.scopes.join(', ') || <span className="quiet">no scope yet</span>}</td>
                  <td>
                    {load
                      ? load.spooled > 0
                        ? `${counted(load.spooled, 'delivery', 'deliveries')}, ${formatBytes(load.spooledBytes)}`
                        : 'nothing'
                      : ''}
                  </td>
                  <td>
                    {load ? `${Math.round(load.processor * 100)} % of a core, ${formatBytes(load.memoryBytes)}` : ''}
                  </td>
                  <td className="mono">
                    {row.heard?.version ?? ''}
                    {row.heard && row.heard.version !== data.version && (
                      <span className="quiet"> (here {data.version})</span>
                    )}
                  </td>
                  <td style={{ textAlign: 'right' }}>
                    {mayConfigure && <TextButton onClick={() => setRemoving(row)}>Remove</TextButton>}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {mayConfigure && (
        <p style={{ marginTop: 10 }}>
          <Button variant="outlined" onClick={() => setAdding(true)}>
            Add a collector
          </Button>
        </p>
      )}
      {adding && <AddCollector onClose={() => setAdding(false)} />}
      {removing && (
        <Dialog open onClose={() => setRemoving(null)} maxWidth="xs" aria-labelledby="remove-collector">
          <DialogTitle id="remove-collector">Remove {removing.name}?</DialogTitle>
          <DialogContent>
            Its token opens nothing any more, and what is in its spool cannot be delivered.{' '}
            {removing.scopes.length > 0 &&
              `${removing.scopes.join(', ')} will not be asked until another collector is chosen there.`}
          </DialogContent>
          <DialogActions>
            <Button color="secondary" onClick={() => setRemoving(null)}>
              Keep it
            </Button>
            <Button variant="contained" onClick={() => void remove(removing)}>
              Remove it
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </section>
  );
}
