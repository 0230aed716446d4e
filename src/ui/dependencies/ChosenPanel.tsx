'use client';

import type { ThingKind } from '@/core/dependency/graph';
import { Link } from '../components/Link';
import { Panel } from '../components/Panel';
import { AnyDossier } from '../features/dossier/AnyDossier';
import { RestsOn, useRestsOn } from '../features/dossier/RestsOn';
import { useView } from '../lib/useView';
import { listenersTerm, selectedThing } from './selectedThing';

/** Beside the work: the dossier of the thing that is chosen; of what has none, what it rests on. */
export function ChosenPanel() {
  const view = useView();
  const chosen = selectedThing(view.sel);
  if (!chosen) return null;
  const { kind, id, thing } = chosen;
  return (
    <Panel label="Dossier">{thing ? <AnyDossier thing={thing} id={id} /> : <Undescribed kind={kind} id={id} />}</Panel>
  );
}

/** A service or an application: its name, where it is looked at, what it rests on. */
function Undescribed({ kind, id }: { kind: ThingKind; id: string }) {
  const view = useView();
  const token = `${kind}:${id}`;
  const { data } = useRestsOn(token);
  return (
    <>
      <div className="small quiet">{kind}</div>
      <h2>{data?.of.name ?? id}</h2>
      <p className="small" style={{ marginTop: 8 }}>
        {kind === 'application' ? (
          <Link href={view.href('/dependencies', { of: 'applications', host: id, sel: null })}>the application</Link>
        ) : (
          <Link href={view.href('/estate', { of: 'services', where: listenersTerm(id), sel: null })}>
            its listeners
          </Link>
        )}{' '}
        · <Link href={view.href('/dependencies', { of: 'rehearse', down: token, sel: null })}>rehearse its loss</Link>
      </p>
      <RestsOn key={token} of={token} />
    </>
  );
}
