'use client';

import type { SectionProps } from './dossierTypes';
import { moment } from '../../../lib/format';
import { changeValue } from '@/core/things/changeWords';

/** What happened to it, newest first. */
export function HistorySection({ dossier: { history } }: SectionProps) {
  return (
    <section className="section">
      <h3>History</h3>
      <ul className="small">
        {history.map((entry, at) => (
          <li key={at} style={{ padding: '2px 0' }}>
            <span className="quiet">{moment(entry.at)}</span> {entry.words}
            {entry.field && (
              <span className="mono">
                {' '}
                {changeValue('device', entry.field, entry.before) || 'nothing'} →{' '}
                {changeValue('device', entry.field, entry.after) || 'nothing'}
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
