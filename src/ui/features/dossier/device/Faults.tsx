'use client';

import type { SectionProps } from './dossierTypes';
import { Glyph } from '../../../components/Glyph';
import { moment } from '../../../lib/format';

/** What is broken comes before everything else. */
export function Faults({ dossier: { faults: rows } }: SectionProps) {
  if (rows.length === 0) return null;
  return (
    <section className="section">
      <h3>Broken</h3>
      {rows.map((row) => (
        <p key={row.id} className="small" style={{ padding: '2px 0' }}>
          <span className="state">
            <Glyph name="fault" word={String(row.severity)} />
            <b style={{ fontWeight: 600 }}>{String(row.part).split(' / ').slice(1).join(' / ') || String(row.part)}</b>
          </span>{' '}
          {String(row.message).replace(/\.$/, '')}
          {Boolean(row.since) && `, since ${moment(String(row.since))}`}. {String(row.action)}
        </p>
      ))}
    </section>
  );
}
