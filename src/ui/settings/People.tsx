'use client';

import { useQuery } from '@tanstack/react-query';
import { personSchema } from '@/core/people/personSchema';
import { nameMistake, passwordMistake, passwordRule } from '@/core/values/password';
import { SaveLine } from '../components/form/SaveLine';
import { SavingForm } from '../components/form/SavingForm';
import { SelectInput } from '../components/form/SelectInput';
import { TextInput } from '../components/form/TextInput';
import { useSavingForm } from '../components/form/useSavingForm';
import { useWritten } from '../features/edits/useWritten';
import { call, type ApiProblem } from '../lib/api';
import { moment } from '../lib/format';
import { useMayConfigure, usePerson } from '../lib/person';
import { roleChoices } from './roleChoices';

interface PersonRow {
  id: number;
  name: string;
  role: string;
  createdAt: string;
}

/** Who may sign in. */
export function People() {
  const person = usePerson();
  const administrator = useMayConfigure();
  const people = useQuery<{ rows: PersonRow[] }, ApiProblem>({
    queryKey: ['people'],
    queryFn: () => call<{ rows: PersonRow[] }>('people'),
    enabled: administrator,
  });
  if (!administrator) {
    return (
      <p className="quiet" style={{ padding: '0 16px' }}>
        You are {person.name}, {person.role}. Administrators add people and say what they may.
      </p>
    );
  }
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
            </tr>
          </thead>
          <tbody>
            {people.data?.rows.map((one) => (
              <tr key={one.id}>
                <td>{one.name}</td>
                <td>{one.role}</td>
                <td>{moment(one.createdAt)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section>
        <AddPerson />
      </section>
    </div>
  );
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
