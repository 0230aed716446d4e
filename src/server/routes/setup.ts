import * as yup from 'yup';
import { nameMistake, passwordMistake } from '../../core/values/password';
import { invalid, Problem } from '../access/problem';
import { route } from '../access/route';
import { session } from '../access/session';
import { addFirstAdministrator, countPeople, recordAct } from '../../store/people';

const setupSchema = yup
  .object({ name: yup.string().required(), password: yup.string().required(), confirmation: yup.string().required() })
  .noUnknown();

/** The first administrator. Closed for good once somebody is there. */
export const POST = route('anyone', setupSchema, async ({ store, body: { name, password, confirmation } }) => {
  const taken = new Problem(409, 'Already set up', 'There is an administrator already: sign in.');
  if (countPeople(store.db) > 0) throw taken;
  const wrongName = nameMistake(name);
  const wrongPassword = passwordMistake(password, name);
  const mistakes = [
    ...(wrongName ? [{ path: 'name', message: wrongName }] : []),
    ...(wrongPassword ? [{ path: 'password', message: wrongPassword }] : []),
    ...(password === confirmation ? [] : [{ path: 'confirmation', message: 'The two passwords differ' }]),
  ];
  if (mistakes.length > 0) throw invalid(mistakes);
  const person = await addFirstAdministrator(store.db, name, password);
  if (!person) throw taken;
  const current = await session();
  current.personId = person.id;
  await current.save();
  recordAct(store.db, name, 'set up as administrator', name);
  return { person };
});
