'use client';

import { SaveLine } from '../components/form/SaveLine';
import { SavingForm } from '../components/form/SavingForm';
import { TextInput } from '../components/form/TextInput';
import { useSavingForm } from '../components/form/useSavingForm';
import { call } from '../lib/api';
import { EntryPage } from './EntryPage';

const blank = { name: '', password: '' };

export function SignIn({ to }: { to: string }) {
  const saving = useSavingForm<typeof blank, unknown>({
    values: blank,
    exact: ['password'],
    save: (body) => call('session', { method: 'POST', body }),
    done: () => {
      window.location.assign(to);
      return undefined;
    },
  });
  const { name, password } = saving.form.watch();
  return (
    <EntryPage title="Sign in">
      <SavingForm of={saving} style={{ marginTop: 16 }}>
        <TextInput name="name" label="Name" autoComplete="username" autoFocus />
        <TextInput name="password" label="Password" type="password" autoComplete="current-password" />
        <SaveLine of={saving} words="Sign in" disabled={!name || !password} />
      </SavingForm>
    </EntryPage>
  );
}
