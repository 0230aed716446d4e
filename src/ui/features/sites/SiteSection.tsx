'use client';

import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { deviceSiteSchema } from '@/core/sites/siteSchema';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { TextButton } from '../../components/TextButton';
import { call } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { UndoNote, type Done } from '../edits/UndoNote';
import { useWritten } from '../edits/useWritten';

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

function SiteForm({
  id,
  site,
  version,
  onDone,
}: {
  id: string;
  site: string;
  version: number;
  onDone: (done: Done | null) => void;
}) {
  const written = useWritten();
  const saving = useSavingForm<{ site: string }, { edit: number; version: number }>({
    values: { site },
    schema: deviceSiteSchema,
    version,
    save: (body, seen) => call(`devices/${id}/site`, { method: 'PUT', body: { site: body.site || null }, seen }),
    done: async ({ edit }, { site: set }) => {
      await written();
      onDone({ words: set ? `It stands at ${set} now.` : 'It stands where the rules say.', edit });
      return undefined;
    },
  });
  return (
    <SavingForm of={saving} className="form close">
      <TextInput name="site" label="Site" help="empty: as the rules say" autoFocus />
      <SaveLine of={saving} words="Save">
        <Button color="secondary" onClick={() => onDone(null)}>
          Leave it
        </Button>
      </SaveLine>
    </SavingForm>
  );
}
