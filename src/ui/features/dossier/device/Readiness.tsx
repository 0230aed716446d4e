'use client';

import type { SectionProps } from './dossierTypes';
import { Glyph, verdictGlyph } from '../../../components/Glyph';

/** May it go to its target? */
export function Readiness({ dossier: { readiness: rows } }: SectionProps) {
  return rows.map((row) => (
    <section key={row.id} className="section">
      <h3>May it go to {String(row.target)}?</h3>
      <p>
        <span className="state">
          <Glyph name={verdictGlyph(row.verdict)} />
          <b style={{ fontWeight: 600 }}>{String(row.verdict)}</b>
        </span>
      </p>
      <ul className="small">
        {(row.reasons as { kind: string; words: string }[]).map(({ words }) => (
          <li key={words} style={{ padding: '2px 0' }}>
            {words}
          </li>
        ))}
      </ul>
    </section>
  ));
}
