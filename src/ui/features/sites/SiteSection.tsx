'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { TextButton } from '../../components/TextButton';
import { call } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { UndoNote, type Done } from '../edits/UndoNote';
import { fetched } from '../../lib/fetched';

const SiteForm = fetched(() => import('./SiteForm').then((module) => module.SiteForm));

/** Where a device stands as somebody set it, or as the rules say; who may, sets it here. @param version in which it was read */
export function SiteSection({ id, site, version }: { id: string; site: string; version: number }) {
  const mayEdit = useMayEdit();
  const [begun, setBegun] = useState<number | null>(null);
  const [done, setDone] = useState<Done | null>(null);
  const { data: byHand } = useQuery({
    queryKey: ['sites', 'by hand'],
    queryFn: async () => (await call<{ byHand: { deviceId: number; site: string }[] }>('sites')).byHand,
    enabled: mayEdit,
  });
  if (!mayEdit) return null;
  const isByHand = byHand?.some(({ deviceId }) => String(deviceId) === id) === true;
  return (
    <section className="section" aria-label="Site">
      <p className="small">
        <span className="quiet">
          {site === '' ? 'At no site' : `At ${site}`}, {isByHand ? 'as somebody set it' : 'as the rules say'}.
        </span>{' '}
        {begun === null && <TextButton onClick={() => setBegun(version)}>Set the site</TextButton>}
      </p>
      {begun !== null && (
        <SiteForm
          id={id}
          site={isByHand ? site : ''}
          version={begun}
          onDone={(told) => {
            setBegun(null);
            if (told) setDone(told);
          }}
        />
      )}
      <UndoNote done={done} onDone={setDone} />
    </section>
  );
}
