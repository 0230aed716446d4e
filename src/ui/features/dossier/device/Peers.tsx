'use client';

import { spoken } from '@/core/values/spoken';
import type { SectionProps } from './dossierTypes';
import { Glyph } from '../../../components/Glyph';

/** With whom it exchanges routes, and how many it has. */
export function Peers({ dossier: { peers: rows, routeCounts: routes } }: SectionProps) {
  const counts = Object.entries(routes).sort(([, x], [, y]) => y - x);
  if (rows.length === 0 && counts.length === 0) return null;
  return (
    <section className="section">
      <h3>Routing</h3>
      {counts.length > 0 && (
        <p className="small quiet">
          Routes: {counts.map(([protocol, count]) => `${count.toLocaleString('en')} ${protocol}`).join(', ')}
        </p>
      )}
      <table className="plain">
        <tbody>
          {rows.map((row) => (
            <tr key={row.id}>
              <td>{String(row.protocol).toUpperCase()}</td>
              <td>
                {String(row.peer) || <span className="mono">{String(row.address)}</span>}
                {row.remoteAs !== null && <span className="quiet"> AS {String(row.remoteAs)}</span>}
              </td>
              <td>
                <span className="state">
                  <Glyph name={row.up ? 'up' : 'fault'} word={row.up ? 'talks' : 'does not talk'} />
                  {spoken(String(row.state))}
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** `openConfirm` as words. */
