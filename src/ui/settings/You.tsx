'use client';

import { passwordMistake, passwordRule } from '@/core/values/password';
import { differs, passwordSchema } from '@/core/people/passwordSchema';
import { Choices } from '../components/Choices';
import { SaveLine } from '../components/form/SaveLine';
import { SavingForm } from '../components/form/SavingForm';
import { TextInput } from '../components/form/TextInput';
import { useSavingForm } from '../components/form/useSavingForm';
import { call } from '../lib/api';
import { usePerson } from '../lib/person';
import { useThemeChoice } from '../theme/ThemeRegistry';

/** What is one's own: colours and password. */
export function You() {
  const { name, choose } = useThemeChoice();
  const person = usePerson();
  return (
    <div className="blocks">
      <section>
        <h2 className="sub">Appearance</h2>
        <Choices
          label="Theme"
          name="theme"
          value={name}
          choices={[
            { value: 'day', words: 'Day' },
            { value: 'night', words: 'Night' },
          ]}
          onChange={choose}
        />
        <p className="quiet small">Columns, panel width and theme are yours and stay.</p>
      </section>
      <section>
        <h2 className="sub">Password of {person.name}</h2>
        <PasswordForm name={person.name} />
      </section>
    </div>
  );
}

const blank = { current: '', password: '', confirmation: '' };

function PasswordForm({ name }: { name: string }) {
  const saving = useSavingForm<typeof blank, unknown>({
    values: blank,
    schema: passwordSchema,
    exact: ['current', 'password', 'confirmation'],
    mistakes: (draft) => {
      const mistake = draft.password === '' ? null : passwordMistake(draft.password, name);
      return [...(mistake ? [{ path: 'password', message: mistake }] : []), ...differs(draft)];
    },
    save: (body) => call('session/password', { method: 'POST', body }),
    done: () => ({ told: 'Your password is another now.', values: blank }),
  });
  return (
    <SavingForm of={saving} prefix="password" style={{ maxWidth: 420, marginTop: 10 }}>
      <TextInput name="current" label="The one you have" type="password" autoComplete="current-password" />
      <TextInput name="password" label="The new one" type="password" autoComplete="new-password" help={passwordRule} />
      <TextInput name="confirmation" label="The new one again" type="password" autoComplete="new-password" />
      <SaveLine of={saving} words="Change the password" variant="outlined" />
    </SavingForm>
  );
}
