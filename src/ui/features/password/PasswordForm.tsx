'use client';

import { passwordMistake, passwordRule } from '@/core/values/password';
import { differs, passwordSchema } from '@/core/people/passwordSchema';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { call } from '../../lib/api';

const blank = { current: '', password: '', confirmation: '' };

/** Another password of one's own. @param done where one goes on; without it, it is told here */
export function PasswordForm({ name, current, done }: { name: string; current: string; done?: () => void }) {
  const saving = useSavingForm<typeof blank, unknown>({
    values: blank,
    schema: passwordSchema,
    exact: ['current', 'password', 'confirmation'],
    mistakes: (draft) => {
      const mistake = draft.password === '' ? null : passwordMistake(draft.password, name);
      return [...(mistake ? [{ path: 'password', message: mistake }] : []), ...differs(draft)];
    },
    save: (body) => call('session/password', { method: 'POST', body }),
    done: () => {
      if (!done) return { told: 'Your password is another now; elsewhere you are signed out.', values: blank };
      done();
      return undefined;
    },
  });
  return (
    <SavingForm of={saving} prefix="password" style={{ maxWidth: 420, marginTop: 10 }}>
      <TextInput name="current" label={current} type="password" autoComplete="current-password" />
      <TextInput name="password" label="The new one" type="password" autoComplete="new-password" help={passwordRule} />
      <TextInput name="confirmation" label="The new one again" type="password" autoComplete="new-password" />
      <SaveLine of={saving} words="Change the password" variant="outlined" />
    </SavingForm>
  );
}
