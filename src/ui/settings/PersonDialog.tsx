'use client';

import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { nameMistake } from '@/core/values/password';
import { CheckInput } from '../components/form/CheckInput';
import { SavingForm } from '../components/form/SavingForm';
import { SelectInput } from '../components/form/SelectInput';
import { TextInput } from '../components/form/TextInput';
import { useSavingForm } from '../components/form/useSavingForm';
import { TextButton } from '../components/TextButton';
import { useWritten } from '../features/edits/useWritten';
import { call } from '../lib/api';
import { roleChoices } from './roleChoices';
import { useTold } from './useTold';
import { SaveFoot } from '../components/dialogFeet';

export interface PersonRow {
  id: number;
  name: string;
  role: string;
  createdAt: string;
  disabledAt: string | null;
  mustChange: boolean;
  sessions: { id: number; usedAt: string }[];
}

/** What an administrator changes of a person. */
export function PersonDialog({ of, onClose }: { of: PersonRow; onClose: () => void }) {
  const written = useWritten();
  const { told, tell } = useTold();
  const [given, setGiven] = useState('');
  const values = { name: of.name, role: of.role, enabled: of.disabledAt === null };
  const saving = useSavingForm<typeof values, unknown>({
    values,
    mistakes: ({ name }) => {
      const wrong = nameMistake(name);
      return wrong ? [{ path: 'name', message: wrong }] : [];
    },
    save: ({ name, role, enabled }) =>
      call(`people/${of.id}`, { method: 'PATCH', body: { name, role, disabled: !enabled } }),
    done: async () => {
      await written();
      onClose();
      return undefined;
    },
  });
  const givePassword = () =>
    tell(async () => {
      const { password } = await call<{ password: string }>(`people/${of.id}/password`, { method: 'POST' });
      setGiven(password);
      await written();
      return `${of.name} is signed out everywhere, and chooses another at the next sign-in.`;
    });
  const signOut = () =>
    tell(async () => {
      await call(`people/${of.id}/sessions`, { method: 'DELETE' });
      await written();
      return `${of.name} is signed out everywhere.`;
    });
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="person-title">
      <DialogTitle id="person-title">Change {of.name}</DialogTitle>
      <DialogContent>
        <SavingForm of={saving} id="person" prefix="person" style={{ paddingTop: 8 }}>
          <TextInput name="name" label="Name" autoFocus />
          <SelectInput name="role" label="Role" choices={roleChoices} />
          <CheckInput name="enabled" label="May sign in" />
        </SavingForm>
        <p style={{ paddingTop: 12, display: 'flex', gap: 16, flexWrap: 'wrap' }}>
          <TextButton onClick={() => void givePassword()}>Give a new password</TextButton>
          {of.sessions.length > 0 && <TextButton onClick={() => void signOut()}>Sign out everywhere</TextButton>}
        </p>
        <div role="status">
          {given && (
            <>
              <p className="small">Their password for one sign-in, shown this once:</p>
              <pre className="mono secret">{given}</pre>
            </>
          )}
          {told && <p className="small">{told}</p>}
        </div>
      </DialogContent>
      <SaveFoot form="person" disabled={saving.isBusy} onLeave={onClose}>
        Save
      </SaveFoot>
    </Dialog>
  );
}
