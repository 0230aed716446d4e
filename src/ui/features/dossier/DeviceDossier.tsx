'use client';

import { spoken } from '@/core/values/spoken';
import { useState } from 'react';
import { Link } from '@/ui/components/Link';
import { TextButton } from '../../components/TextButton';
import { standsInTheWay } from '../../lib/api';
import { useView } from '../../lib/useView';
import type { Dossier, SectionProps } from './device/dossierTypes';
import { Facts } from './device/Facts';
import { Faults } from './device/Faults';
import { sections } from './device/sections';
import { useDossier } from './device/useDossier';
import { DossierProblem } from './DossierProblem';
import { fetched } from '../../lib/fetched';

const IdentityDialog = fetched(() => import('../identity/IdentityDialog').then((module) => module.IdentityDialog));

interface DossierProps {
  id: string;
  whole?: boolean;
  /** nothing to press, and no long lists unless it is whole */
  paper?: boolean;
}

/** Everything about a device, short for the panel, whole on its own page. */
export function DeviceDossier({ id, whole = false, paper = false }: DossierProps) {
  // who is who may change while it is asked: the dialog stays, whatever becomes of the dossier
  const [doubted, setDoubted] = useState<{ id: string; name: string } | null>(null);
  const { data, error } = useDossier(id);
  const body = () => {
    if (standsInTheWay(error, data)) return <DossierProblem problem={error} />;
    if (!data) return <p className="quiet">reading the dossier…</p>;
    const props = { dossier: data, id, whole, paper };
    if (whole) return <WholeDossier {...props} />;
    return <ShortDossier {...props} onDoubt={() => setDoubted({ id, name: data.device.name })} />;
  };
  return (
    <>
      {body()}
      {doubted && <IdentityDialog {...doubted} onClose={() => setDoubted(null)} />}
    </>
  );
}

function Heading({ dossier: { device } }: SectionProps) {
  const text = (field: string) => String(device[field] ?? '');
  return (
    <div className="small quiet">
      {spoken(text('role'))}
      {text('site') && ` at ${text('site')}`}
      {text('location') && `, ${text('location')}`}
    </div>
  );
}

/** Only those that fit. */
function Sections({ fits, ...props }: SectionProps & { fits: (section: (typeof sections)[number]) => boolean }) {
  return sections.filter(fits).map(({ name, Section }) => <Section key={name} {...props} />);
}

function WholeDossier(props: SectionProps) {
  return (
    <>
      <Heading {...props} />
      <h1>{props.dossier.device.name}</h1>
      <h2 className="unseen">Identity, modules, ports and history</h2>
      <div className="columns">
        {[1, 2, 3].map((column) => (
          <div key={column}>
            {column === 1 && (
              <>
                <Faults {...props} />
                <Facts {...props} />
              </>
            )}
            <Sections {...props} fits={(section) => section.column === column} />
          </div>
        ))}
      </div>
    </>
  );
}

function ShortDossier({ onDoubt, ...props }: SectionProps & { onDoubt: () => void }) {
  const { dossier, id, paper } = props;
  return (
    <>
      <Heading {...props} />
      <h2>{dossier.device.name}</h2>
      <Faults {...props} />
      <Facts {...props} />
      {!paper && <Ways dossier={dossier} id={id} onDoubt={onDoubt} />}
      <Sections {...props} fits={({ isPrinted }) => isPrinted || !paper} />
    </>
  );
}

/** Where else it can be looked at. */
function Ways({ dossier: { device, ports }, id, onDoubt }: { dossier: Dossier; id: string; onDoubt: () => void }) {
  const view = useView();
  return (
    <p style={{ marginTop: 8 }}>
      <Link href={view.href(`/estate/${id}`)}>open dossier</Link>
      {ports.some(({ physical }) => physical) && (
        <>
          {' '}
          · <Link href={view.href('/ports', { device: id })}>ports</Link>
        </>
      )}{' '}
      · <Link href={view.href('/map', { sel: `device:${id}` })}>on the map</Link> ·{' '}
      <Link href={view.href('/map', { of: 'trace', from: device.name, sel: `device:${id}` })}>trace</Link> ·{' '}
      <TextButton onClick={onDoubt}>is it one device?</TextButton>
    </p>
  );
}
