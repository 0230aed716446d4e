'use client';

import Button from '@mui/material/Button';
import { deviceSiteSchema } from '@/core/sites/siteSchema';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { call } from '../../lib/api';
import type { Done } from '../edits/UndoNote';
import { useWritten } from '../edits/useWritten';

/** Where the site of a device is set by hand. @param version in which it was read */
export function SiteForm({
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
