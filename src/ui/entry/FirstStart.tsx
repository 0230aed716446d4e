'use client';

import { nameMistake, passwordMistake, passwordRule } from '@/core/values/password';
import { differs } from '@/core/people/passwordSchema';
import { SaveLine } from '../components/form/SaveLine';
import { SavingForm } from '../components/form/SavingForm';
import { TextInput } from '../components/form/TextInput';
import { useSavingForm } from '../components/form/useSavingForm';
import { call } from '../lib/api';
import { EntryPage } from './EntryPage';

const blank = { name: '', password: '', confirmation: '', code: '' };

function mistakesOf(draft: typeof blank) {
  const [wrongName, wrongPassword] = [nameMistake(draft.name), passwordMistake(draft.password, draft.name)];
  return [
    ...(wrongName ? [{ path: 'name', message: wrongName }] : []),
    ...(wrongPassword ? [{ path: 'password', message: wrongPassword }] : []),
    ...differs(draft),
  ];
}

/** First start: the administrator is made here, once. */
export function FirstStart({ needsCode }: { needsCode: boolean }) {
  const saving = useSavingForm<typeof blank, unknown>({
    values: blank,
    exact: ['password', 'confirmation'],
    mistakes: mistakesOf,
    save: ({ code, ...body }) => call('setup', { method: 'POST', body: needsCode ? { ...body, code } : body }),
    done: () => {
      window.location.assign('/begin');
      return undefined;
    },
  });
  return (
    <EntryPage
      title="Make the administrator"
      about="Nobody can sign in yet. This person may configure everything and add others. Next come mail, credentials, ranges and the first survey."
    >
      <SavingForm of={saving} style={{ marginTop: 18 }}>
        <TextInput name="name" label="Name" autoComplete="username" autoFocus />
        <TextInput name="password" label="Password" type="password" autoComplete="new-password" help={passwordRule} />
        <TextInput name="confirmation" label="Password again" type="password" autoComplete="new-password" />
        {needsCode && <TextInput name="code" label="Code" help="the application printed it where it was started" />}
        <SaveLine of={saving} words="Make the administrator" />
      </SavingForm>
    </EntryPage>
  );
}
