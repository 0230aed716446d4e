import * as yup from 'yup';
import { nameMistake, passwordMistake } from '../../core/values/password';
import { invalid } from '../access/problem';
import { route } from '../access/route';
import { addPerson, listPeople, recordAct, roleNames } from '../../store/people';

const personSchema = yup
  .object({
    name: yup.string().required('Give a name'),
    password: yup.string().required('Give a password'),
    role: yup
      .string()
      .oneOf([...roleNames])
      .required(),
  })
  .noUnknown();

export const GET = route('administrator', null, ({ store }) => {
  const rows = listPeople(store.db);
  return { rows, total: rows.length };
});

export const POST = route('administrator', personSchema, async ({ store, person, body: { name, password, role } }) => {
  const wrongName =
    nameMistake(name) ??
    (listPeople(store.db).some((known) => known.name === name) ? `There is a person “${name}” already` : null);
  const wrongPassword = passwordMistake(password, name);
  const mistakes = [
    ...(wrongName ? [{ path: 'name', message: wrongName }] : []),
    ...(wrongPassword ? [{ path: 'password', message: wrongPassword }] : []),
  ];
  if (mistakes.length > 0) throw invalid(mistakes);
  await addPerson(store.db, name, password, role);
  recordAct(store.db, person.name, `added ${role}`, name);
  return {};
});
