'use client';

import { useEffect } from 'react';
import type { ThingName } from '@/core/things/things';
import { fetched } from '../../lib/fetched';

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

const movements = ['pointermove', 'keydown', 'touchstart'] as const;

export function useDossiersSoon(): void {
  useEffect(() => {
    const fetchThem = () => {
      stop();
      // one that does not come now is fetched when it is wanted
      for (const fetchOne of [ofDevice, ofThing]) fetchOne().catch(() => undefined);
    };
    const stop = () => {
      for (const movement of movements) window.removeEventListener(movement, fetchThem);
    };
    for (const movement of movements) window.addEventListener(movement, fetchThem, { passive: true });
    return stop;
  }, []);
}
