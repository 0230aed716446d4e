'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { ProblemNote } from '../components/ProblemNote';
import { TextButton } from '../components/TextButton';
import { call, type ApiProblem } from '../lib/api';
import { ago, moment } from '../lib/format';
import { useTold } from './useTold';

interface SessionRow {
  id: number;
  createdAt: string;
  usedAt: string;
  source: string;
  isThis: boolean;
}

/** Where one is signed in, and the way out of it. */
export function OwnSessions() {
  const client = useQueryClient();
  const { data, error } = useQuery<SessionRow[], ApiProblem>({
    queryKey: ['sessions'],
    queryFn: async () => (await call<{ rows: SessionRow[] }>('sessions')).rows,
  });
  const { told, tell } = useTold();
  const end = ({ id, source }: SessionRow) =>
    tell(async () => {
      await call(`sessions/${id}`, { method: 'DELETE' });
      await client.invalidateQueries({ queryKey: ['sessions'] });
      return `You are signed out at ${source || 'that place'}.`;
    });
  const endAll = () =>
    tell(async () => {
      await call('sessions', { method: 'DELETE' });
      window.location.assign('/login');
      return 'You are signed out everywhere.';
    });
  return (
    <>
      <h2 className="sub">Where you are signed in</h2>
      <p className="quiet small">A session ends after 12 hours without you, and after 7 days in any case.</p>
      {error && <ProblemNote problem={error} />}
      {data && (
        <table className="plain" aria-label="Where you are signed in" style={{ marginTop: 8 }}>
          <thead>
            <tr>
              <th>From</th>
              <th>Since</th>
              <th>Last at it</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {data.map((row) => (
              <tr key={row.id}>
                <td className="mono">{row.source || 'unknown'}</td>
                <td>{moment(row.createdAt)}</td>
                <td>{row.isThis ? 'here, now' : ago(row.usedAt)}</td>
                <td>
                  {!row.isThis && (
                    <TextButton
                      aria-label={`Sign out at ${row.source || 'unknown'}, since ${moment(row.createdAt)}`}
                      onClick={() => void end(row)}
                    >
                      Sign out
                    </TextButton>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p style={{ paddingTop: 8 }}>
        <TextButton onClick={() => void endAll()}>Sign out everywhere, here too</TextButton>
      </p>
      {told && (
        <p role="status" className="small">
          {told}
        </p>
      )}
    </>
  );
}
