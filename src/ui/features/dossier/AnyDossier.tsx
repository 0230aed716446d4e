'use client';

import { useEffect } from 'react';
import type { ThingName } from '@/core/things/things';
import { fetched } from '../../lib/fetched';
import { soon } from '../../lib/soon';

const loading = () => <p className="quiet">reading the dossier…</p>;
const ofDevice = () => import('./DeviceDossier').then((module) => module.DeviceDossier);
const ofThing = () => import('./ThingDossier').then((module) => module.ThingDossier);
const DeviceDossier = fetched(ofDevice, loading);
const ThingDossier = fetched(ofThing, loading);

/** The dossier of anything, for a panel. A page is there without it: it is fetched once somebody moves on the page, so that it is there when a row is chosen. */
export function AnyDossier({ thing, id }: { thing: ThingName; id: string }) {
  return thing === 'devices' ? (
    <DeviceDossier id={id} />
  ) : (
    <ThingDossier key={`${thing} ${id}`} thing={thing} id={id} />
  );
}

export function useDossiersSoon(): void {
  useEffect(() => soon(ofDevice, ofThing), []);
}
