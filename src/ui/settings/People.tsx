'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { personSchema } from '@/core/people/personSchema';
import { nameMistake, passwordMistake, passwordRule } from '@/core/values/password';
import { SaveLine } from '../components/form/SaveLine';
import { SavingForm } from '../components/form/SavingForm';
import { SelectInput } from '../components/form/SelectInput';
import { TextInput } from '../components/form/TextInput';
import { useSavingForm } from '../components/form/useSavingForm';
import { TextButton } from '../components/TextButton';
import { useWritten } from '../features/edits/useWritten';
import { call, type ApiProblem } from '../lib/api';
import { ago, moment } from '../lib/format';
import { useMayConfigure, usePerson } from '../lib/person';
import { PersonDialog, type PersonRow } from './PersonDialog';
import { roleChoices } from './roleChoices';

/** Who may sign in. */
export function People() {
  const person = usePerson();
  const administrator = useMayConfigure();
  const people = useQuery<{ rows: PersonRow[] }, ApiProblem>({
    queryKey: ['people'],
    queryFn: () => call<{ rows: PersonRow[] }>('people'),
    enabled: administrator,
  });
  const [open, setOpen] = useState<number | null>(null);
  if (!administrator) {
    return (
      <p className="quiet" style={{ padding: '0 16px' }}>
        You are {person.name}, {person.role}. Administrators add people and say what they may.
      </p>
    );
  }
  const opened = people.data?.rows.find(({ id }) => id === open);
  return (
    <div className="blocks">
      <section>
        {people.error && <p className="quiet">{people.error.detail}</p>}
        <table className="plain" aria-label="People">
          <thead>
            <tr>
              <th>Name</th>
              <th>Role</th>
              <th>Since</th>
              <th>Last at it, signed in where</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {people.data?.rows.map((one) => (
              <tr key={one.id}>
                <td>{one.name}</td>
                <td>{one.role}</td>
                <td>{moment(one.createdAt)}</td>
                <td>
                  <PersonState of={one} />
                </td>
                <td>
                  <TextButton aria-label={`Change ${one.name}`} onClick={() => setOpen(one.id)}>
                    Change
                  </TextButton>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section>
        <AddPerson />
      </section>
      {opened && <PersonDialog of={opened} onClose={() => setOpen(null)} />}
    </div>
  );
}

function PersonState({ of: { disabledAt, mustChange, sessions } }: { of: PersonRow }) {
  if (disabledAt !== null) return <span className="caution">may not sign in since {moment(disabledAt)}</span>;
  const [latest] = sessions;
  const places = sessions.length === 1 ? 'in one place' : `in ${sessions.length} places`;
  if (latest) return `${ago(latest.usedAt)}, ${places}`;
  return <span className="quiet">{mustChange ? 'has to choose a password' : 'not signed in'}</span>;
}

const blank = { name: '', password: '', role: 'viewer' };

function mistakesOf({ name, password }: typeof blank) {
  const [wrongName, wrongPassword] = [nameMistake(name), passwordMistake(password, name)];
  return [
    ...(name !== '' && wrongName ? [{ path: 'name', message: wrongName }] : []),
    ...(password !== '' && wrongPassword ? [{ path: 'password', message: wrongPassword }] : []),
  ];
}

function AddPerson() {
  const written = useWritten();
  const saving = useSavingForm<typeof blank, unknown>({
    values: blank,
    schema: personSchema,
    exact: ['password'],
    mistakes: mistakesOf,
    save: (body) => call('people', { method: 'POST', body }),
    done: async (_, { name, role }) => {
      await written();
      return { told: `${name} may sign in, as ${role}.`, values: blank };
    },
  });
  return (
    <SavingForm of={saving} style={{ maxWidth: 420 }}>
      <h2 className="sub">Add a person</h2>
      <TextInput name="name" label="Name" />
      <TextInput name="password" label="Password" type="password" autoComplete="new-password" help={passwordRule} />
      <SelectInput name="role" label="Role" choices={roleChoices} />
      <SaveLine of={saving} words="Add" variant="outlined" />
    </SavingForm>
  );
}
