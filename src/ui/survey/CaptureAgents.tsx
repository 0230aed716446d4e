'use client';

import { useQuery } from '@tanstack/react-query';
import { Ago } from '../components/Ago';
import { Glyph } from '../components/Glyph';
import { call } from '../lib/api';

interface Agent {
  point: string;
  lastHeardAt: string;
  everySeconds: number;
  packets: number;
  overflowed: number;
  heldBack: number;
  isSilent: boolean;
}

const everyMs = 15_000;
const count = (number: number) => number.toLocaleString('en');

/** Who captures at hosts and mirror ports, and who of them has fallen silent; nothing where nobody does. */
export function CaptureAgents() {
  const { data } = useQuery<{ rows: Agent[] }>({
    queryKey: ['capture-agents'],
    queryFn: () => call('captures/agents'),
    refetchInterval: everyMs,
  });
  const rows = data?.rows ?? [];
  if (rows.length === 0) return null;
  return (
    <div style={{ padding: '0 16px 16px' }}>
      <h2 className="sub">Captures at hosts and mirror ports</h2>
      <table className="plain">
        <thead>
          <tr>
            <th>Where</th>
            <th>Last heard</th>
            <th>Packets</th>
            <th>Not sent: no known listener</th>
            <th>Too many to count</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ point, lastHeardAt, packets, overflowed, heldBack, isSilent }) => (
            <tr key={point}>
              <td>
                <span className="state">
                  <Glyph name={isSilent ? 'silent' : 'up'} word={isSilent ? 'silent' : 'heard'} />
                  {point}
                </span>
              </td>
              <td>
                <Ago at={lastHeardAt} />
              </td>
              <td>{count(packets)}</td>
              <td>{count(heldBack)}</td>
              <td>{count(overflowed)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
