'use client';

import type { SectionProps } from './dossierTypes';
import { Glyph } from '../../../components/Glyph';

/** Routers that it carries together with others, and who has each now. */
export function VirtualRouters({ dossier: { virtualRouters: rows } }: SectionProps) {
  if (rows.length === 0) return null;
  return (
    <section className="section">
      <h3>Virtual routers</h3>
      <table className="plain">
        <tbody>
          {rows.map((row) => {
            const partners = row.partners as string[];
            const isWell = row.standing === 'one master';
            return (
              <tr key={row.id}>
                <td className="mono">{String(row.port)}</td>
                <td>
                  group {String(row.group)} <span className="mono">{(row.addresses as string[]).join(', ')}</span>
                </td>
                <td>
                  {String(row.state)}
                  {row.priority !== null && <span className="quiet">, priority {String(row.priority)}</span>}
                </td>
                <td>
                  {partners.length > 0 && `with ${partners.join(', ')}`}
                  {!isWell && (
                    <span className="state">
                      <Glyph name="fault" word="look" />
                      {String(row.standing)}
                    </span>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}
