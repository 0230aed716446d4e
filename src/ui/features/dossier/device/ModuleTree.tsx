'use client';

import type { SectionProps } from './dossierTypes';
import { type ThingRow } from '../../../lib/api';
import { useMarkedRows } from '../../../components/table/markedRows';
import { plural } from './plural';
import { BayPicture } from '../BayPicture';
import { Hint } from '../../../components/Hint';

const holders = new Set(['container', 'backplane']);

/** Slots and what is in them, empty ones too. A slot and its only content are one line. */
export function ModuleTree({ dossier: { modules, faults } }: SectionProps) {
  const { marked } = useMarkedRows('modules');
  if (modules.length === 0)
    return (
      <section className="section">
        <h3>Modules</h3>
        <p className="small quiet">The device tells nothing of its modules (no ENTITY table).</p>
      </section>
    );
  const byParent = new Map<string | null, ThingRow[]>();
  for (const row of modules) {
    const parent = (row.parent as string | null) ?? null;
    byParent.set(parent, [...(byParent.get(parent) ?? []), row]);
  }
  const lines: { row: ThingRow; slot: string; depth: number }[] = [];
  const visit = (row: ThingRow, slot: string, depth: number) => {
    const below = byParent.get(String(row.path)) ?? [];
    const only = below[0];
    if (holders.has(String(row.class)) && below.length === 1 && only) return visit(only, String(row.name), depth);
    lines.push({ row, slot, depth });
    below.forEach((child) => visit(child, '', depth + 1));
  };
  (byParent.get(null) ?? []).forEach((row) => visit(row, '', 0));
  const vacant = modules.filter(({ empty }) => empty).length;
  return (
    <section className="section">
      <h3>
        Modules{' '}
        <span className="quiet" style={{ fontWeight: 400 }}>
          {plural(modules.filter((row) => row.serial).length, 'serial')}
          {vacant > 0 && `, ${vacant} empty`}
        </span>
      </h3>
      <BayPicture modules={modules} faults={faults} />
      <div className="bays">
        {lines.map(({ row, slot, depth }) => (
          <Hint
            key={row.id}
            words={[
              row.description,
              row.model,
              row.hardwareRevision && `hardware ${String(row.hardwareRevision)}`,
              row.firmwareRevision && `firmware ${String(row.firmwareRevision)}`,
              row.softwareRevision && `software ${String(row.softwareRevision)}`,
            ]
              .filter(Boolean)
              .join(', ')}
          >
            <div
              className={`bay ${row.empty ? 'vacant' : ''} ${marked.has(row.id) ? 'marked-line' : ''}`}
              style={{ marginLeft: Math.min(depth, 4) * 12 }}
            >
              {row.empty ? (
                <>{String(row.name)}: empty</>
              ) : (
                <>
                  <span>
                    {slot && <span className="quiet">{slot} </span>}
                    {String(row.name)}{' '}
                    <span className="quiet">{String(row.model) !== String(row.name) ? String(row.model) : ''}</span>
                  </span>
                  <span className="mono">{String(row.serial)}</span>
                </>
              )}
            </div>
          </Hint>
        ))}
      </div>
    </section>
  );
}
