'use client';

import { useMemo } from 'react';
import { chassisPlans, type Bay, type BayPart, type BayRow } from '@/core/estate/bays';
import { useView } from '../../lib/useView';
import { Link } from '@/ui/components/Link';
import type { ThingRow } from '../../lib/api';
import { Glyph } from '../../components/Glyph';

type Part = ThingRow & BayPart;

const titles: Record<BayRow<Part>['kind'], string> = {
  module: 'Cards',
  powerSupply: 'Supplies',
  fan: 'Fans',
  cpu: 'Processors',
  memory: 'Memory',
  drive: 'Drives',
  transceiver: 'Cages',
  other: 'Bays',
};

/** Where the modules sit: slots, supplies, fans, sockets, drives and cages of each chassis, empty ones dashed, broken ones marked. A press opens the module. */
export function BayPicture({ modules, faults }: { modules: ThingRow[]; faults: ThingRow[] }) {
  const plans = useMemo(() => chassisPlans(modules as Part[]), [modules]);
  const broken = useMemo(() => new Map(faults.map((fault) => [String(fault.part), String(fault.message)])), [faults]);
  if (plans.length === 0) return null;
  return plans.map(({ path, name, rows }) => (
    <div key={path} className="chassis" role="group" aria-label={`Bays of ${name}`}>
      {plans.length > 1 && <div className="small quiet">{name}</div>}
      {rows.map(({ kind, on, bays }) => (
        <div key={`${kind} ${on ?? ''}`} className={`bayrow ${kind}`}>
          <div className="small quiet">
            {titles[kind]}
            {on !== null && ` of ${on.split(' / ').at(-1) ?? ''}`}
          </div>
          <div className="places">
            {bays.map((bay) => (
              <Place key={bay.part.id} bay={bay} kind={kind} fault={broken.get(bay.part.path)} />
            ))}
          </div>
        </div>
      ))}
    </div>
  ));
}

function Place({
  bay: { label, name, part, empty },
  kind,
  fault,
}: {
  bay: Bay<Part>;
  kind: BayRow<Part>['kind'];
  fault: string | undefined;
}) {
  const view = useView();
  const what = empty
    ? 'empty'
    : [part.name === name ? '' : part.name, part.model === part.name ? '' : part.model, part.serial]
        .filter(Boolean)
        .join(' ');
  const words = `${name}: ${what || 'in place'}${fault ? `, ${fault}` : ''}`;
  return (
    <Link
      href={view.href('/estate', { of: 'modules', where: `device="${String(part.device)}"`, sel: `module:${part.id}` })}
      className={`place ${empty ? 'vacant' : ''} ${fault ? 'broken' : ''}`}
      title={words}
      aria-label={words}
    >
      {(kind !== 'module' || label !== part.name) && label && <span className="mark">{label}</span>}
      {kind === 'module' && (
        <>
          <span className="what">{empty ? 'empty' : part.name}</span>
          <span className="mono">{String(part.serial ?? '')}</span>
        </>
      )}
      {fault && <Glyph name="fault" word="broken" size={9} />}
    </Link>
  );
}
