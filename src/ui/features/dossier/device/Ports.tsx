'use client';

import type { SectionProps } from './dossierTypes';
import { useView } from '../../../lib/useView';
import { useMarkedRows } from '../../../components/table/markedRows';
import { Link } from '@/ui/components/Link';
import { Glyph, portGlyph } from '../../../components/Glyph';
import { cellText } from '../../../lib/format';

/** Its ports, and what is plugged in. */
export function Ports({ dossier, id, whole }: SectionProps) {
  const view = useView();
  const { marked } = useMarkedRows('ports');
  const ports = dossier.ports.filter(
    ({ physical, oper, addresses }) => physical || oper === 'up' || (addresses as unknown[]).length > 0,
  );
  if (ports.length === 0) return null;
  const up = ports.filter(({ oper }) => oper === 'up');
  const listed = whole ? ports : up.filter(({ pluggedIn }) => pluggedIn).slice(0, 12);
  return (
    <section className="section">
      <h3>
        Ports{' '}
        <span className="quiet" style={{ fontWeight: 400 }}>
          {up.length} of {ports.length} up
        </span>
      </h3>
      <table className="plain">
        {whole && (
          <thead>
            <tr>
              <th>Port</th>
              <th>State</th>
              <th>Plugged in</th>
              <th>Speed</th>
              <th>VLAN</th>
            </tr>
          </thead>
        )}
        <tbody>
          {listed.map((row) => (
            <tr key={row.id} className={marked.has(row.id) ? 'marked-line' : undefined}>
              <td>
                <Link
                  className="mono"
                  href={view.href('/ports', { device: id, sel: `port:${id}:${String(row.name)}` })}
                >
                  {String(row.name)}
                </Link>
              </td>
              {whole && (
                <td>
                  <span className="state">
                    <Glyph name={portGlyph(row)} />
                    {row.admin === 'down' ? 'off' : String(row.oper)}
                  </span>
                </td>
              )}
              <td>
                {String(row.pluggedIn)} {whole && <span className="quiet small">{String(row.alias)}</span>}
              </td>
              <td className="mono">{cellText(row.speedBps, 'bitsPerSecond')}</td>
              {whole && <td>{cellText(row.vlan, 'number')}</td>}
            </tr>
          ))}
        </tbody>
      </table>
      {!whole && (
        <p className="small" style={{ marginTop: 4 }}>
          <Link href={view.href('/ports', { device: id })}>all ports</Link>
        </p>
      )}
    </section>
  );
}
