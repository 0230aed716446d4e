'use client';

import type { SectionProps } from './dossierTypes';

/** Its addresses, and the ports they are on. */
export function Addresses({ dossier: { addresses: rows } }: SectionProps) {
  if (rows.length === 0) return null;
  return (
    <section className="section">
      <h3>Addresses</h3>
      <table className="plain">
        <tbody>
          {rows.map((row) => (
            <tr key={row.id}>
              <td className="mono">
                {String(row.address)}
                {row.prefixLength !== null && `/${String(row.prefixLength)}`}
              </td>
              <td>
                {String(row.port)}
                {Boolean(row.vrf) && <span className="quiet"> in virtual router {String(row.vrf)}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
