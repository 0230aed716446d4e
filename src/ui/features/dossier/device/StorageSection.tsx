'use client';

import type { SectionProps } from './dossierTypes';
import { formatBytes } from '@/core/values/quantity';

/** How full memory and storage are. */
export function StorageSection({ dossier: { storage } }: SectionProps) {
  const shown = storage.filter(({ sizeBytes }) => sizeBytes > 0).slice(0, 12);
  if (shown.length === 0) return null;
  return (
    <section className="section">
      <h3>Memory and storage</h3>
      {shown.map(({ name, sizeBytes, usedBytes }) => (
        <div key={name} style={{ marginBottom: 6 }}>
          <div className="small" style={{ display: 'flex', justifyContent: 'space-between', gap: 8 }}>
            <span>{name}</span>
            <span className="quiet">
              {usedBytes === null
                ? `${formatBytes(sizeBytes)}, use unknown`
                : `${formatBytes(usedBytes)} of ${formatBytes(sizeBytes)}`}
            </span>
          </div>
          {usedBytes !== null && (
            <div className="meter">
              <i style={{ width: `${Math.min(100, (100 * usedBytes) / sizeBytes)}%` }} />
            </div>
          )}
        </div>
      ))}
    </section>
  );
}
