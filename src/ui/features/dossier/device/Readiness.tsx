'use client';

import type { SectionProps } from './dossierTypes';
import { Glyph, verdictGlyph } from '../../../components/Glyph';

/** May it go to its target? */
export function Readiness({ dossier: { readiness: rows } }: SectionProps) {
  return rows.map((row) => (
    <section key={row.id} className="section">
      <h3>
        {row.component === 'system'
          ? 'May it'
          : `May its ${[row.component, row.name].filter(Boolean).map(String).join(' ')}`}{' '}
        go to {String(row.target)}?
      </h3>
      <p>
        <span className="state">
          <Glyph name={verdictGlyph(row.verdict)} />
          <b style={{ fontWeight: 600 }}>{String(row.verdict)}</b>
        </span>
      </p>
      <ul className="small">
        {(row.reasons as { kind: string; words: string; source?: string }[]).map(({ kind, words, source }) => (
          <li key={`${kind} ${words}`} style={{ padding: '2px 0' }}>
            {words} {source && <span className="quiet">as told by {source}</span>}
          </li>
        ))}
      </ul>
    </section>
  ));
}
