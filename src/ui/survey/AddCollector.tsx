'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { SavingForm } from '../components/form/SavingForm';
import { TextInput } from '../components/form/TextInput';
import { useSavingForm } from '../components/form/useSavingForm';
import { useWritten } from '../features/edits/useWritten';
import { call } from '../lib/api';

interface Made {
  name: string;
  token: string;
}

const mistakesOf = ({ name }: { name: string }) =>
  name === '' ? [{ path: 'name', message: 'Give the collector a name' }] : [];

/** A new engine for another site: its name, then the line that starts it. */
export function AddCollector({ onClose }: { onClose: () => void }) {
  const written = useWritten();
  const [made, setMade] = useState<Made | null>(null);
  const saving = useSavingForm<{ name: string }, Made>({
    values: { name: '' },
    mistakes: mistakesOf,
    save: (body) => call('collectors', { method: 'POST', body }),
    done: async (answer) => {
      setMade(answer);
      await written();
      return undefined;
    },
  });
  const command =
    made && `BOLIDE_TOKEN=${made.token} bolide collector --server ${window.location.origin} --spool /var/spool/bolide`;
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="add-collector">
      <DialogTitle id="add-collector">{made ? `Start ${made.name}` : 'Add a collector'}</DialogTitle>
      <DialogContent>
        {command ? (
          <>
            <p>Run this on a machine at the other site. The token is shown this once.</p>
            <pre className="mono secret">{command}</pre>
            <p className="quiet small">
              It only ever connects out to this server. Then choose it under “How it is reached” in the scopes of its
              site.
            </p>
          </>
        ) : (
          <SavingForm of={saving} prefix="collector" id="collector-form" style={{ paddingTop: 8 }}>
            <TextInput name="name" label="Name" help="of the site or the machine, as in hdp-1" autoFocus />
          </SavingForm>
        )}
      </DialogContent>
      <DialogActions>
        {command ? (
          <>
            <Button color="secondary" onClick={() => void navigator.clipboard?.writeText(command)}>
              Copy
            </Button>
            <Button variant="contained" onClick={onClose}>
              Done
            </Button>
          </>
        ) : (
          <>
            <Button color="secondary" onClick={onClose}>
              Leave it
            </Button>
            <Button variant="contained" type="submit" form="collector-form" disabled={saving.isBusy}>
              Add
            </Button>
          </>
        )}
      </DialogActions>
    </Dialog>
  );
}
