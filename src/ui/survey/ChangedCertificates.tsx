'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { call, type ApiProblem } from '../lib/api';
import { moment } from '../lib/format';
import { Glyph } from '../components/Glyph';
import { TextButton } from '../components/TextButton';

interface Changed {
  address: string;
  port: number;
  fingerprint: string;
  offered: string;
  pinnedAt: string;
  offeredAt: string | null;
}

/** Devices that show another certificate than before: nothing is asked of them until somebody has looked. */
export function ChangedCertificates() {
  const client = useQueryClient();
  const { data } = useQuery<{ rows: Changed[] }, ApiProblem>({
    queryKey: ['certificates'],
    queryFn: () => call<{ rows: Changed[] }>('certificates'),
  });
  const [problem, setProblem] = useState('');
  const trust = async ({ address, port }: Changed) => {
    try {
      await call('certificates/trust', { method: 'POST', body: { address, port } });
      setProblem('');
    } catch (error) {
      setProblem((error as ApiProblem).words);
    }
    await client.invalidateQueries({ queryKey: ['certificates'] });
  };
  if (!data || data.rows.length === 0) return null;
  return (
    <section style={{ padding: '0 16px 16px' }}>
      <h2 className="sub">Certificates that changed</h2>
      <p className="quiet small">
        Nothing is asked of these until the new certificate is trusted. If nobody renewed it, somebody may stand
        between.
      </p>
      {problem && (
        <p role="alert" className="small" style={{ color: 'var(--bad)' }}>
          {problem}
        </p>
      )}
      <ul className="lines">
        {data.rows.map((row) => (
          <li key={`${row.address} ${row.port}`} style={{ justifyContent: 'space-between' }}>
            <div>
              <span className="state">
                <Glyph name="fault" word="changed" />
                <b style={{ fontWeight: 600 }} className="mono">
                  {row.address}
                </b>
              </span>{' '}
              <span className="quiet small">
                port {row.port}, known since {moment(row.pinnedAt)}
                {row.offeredAt && `, another since ${moment(row.offeredAt)}`}
              </span>
              <div className="small mono quiet" style={{ overflowWrap: 'anywhere' }}>
                {row.offered}
              </div>
            </div>
            <TextButton style={{ flex: 'none' }} onClick={() => void trust(row)}>
              Trust the new one
            </TextButton>
          </li>
        ))}
      </ul>
    </section>
  );
}
