'use client';

import type { SectionProps } from './dossierTypes';
import { useView } from '../../../lib/useView';
import { Link } from '@/ui/components/Link';
import { Glyph } from '../../../components/Glyph';

/** With what it is linked, as seen from its own end. */
export function Neighbours({ dossier, id }: SectionProps) {
  const view = useView();
  if (dossier.links.length === 0) return null;
  return (
    <section className="section">
      <h3>Neighbours</h3>
      <table className="plain">
        <tbody>
          {dossier.links.map((row) => {
            const own = String(row.fromId) === id;
            return (
              <tr key={row.id}>
                <td className="mono">{String(own ? row.fromPort : row.toPort)}</td>
                <td>
                  <Link href={view.href('/map', { sel: `link:${row.id}` })}>{String(own ? row.to : row.from)}</Link>{' '}
                  <span className="mono">{String(own ? row.toPort : row.fromPort)}</span>
                </td>
                <td className="quiet small">
                  {String(row.confidence)}
                  {(row.issues as unknown[]).length > 0 && (
                    <>
                      {' '}
                      <Glyph name="fault" word="ends disagree" />
                    </>
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
