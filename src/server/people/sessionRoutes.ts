import * as yup from 'yup';
import { nameMistake, passwordMistake } from '../../core/values/password';
import { differs, passwordSchema } from '../../core/people/passwordSchema';
import { addFirstAdministrator, changePassword, countPeople, listPeople, signIn } from '../../store/people';
import { recordAct } from '../../store/audit';
import { invalid, Problem } from '../access/problem';
import { cookieFor, noCookie, whoAsks } from '../access/session';
import { forgetFailures, mustWaitSeconds, recordFailure } from '../access/signInLimit';
import { route } from '../api/route';

const text = (missing: string) => yup.string().required(missing);
const signInSchema = yup.object({ name: text('Give your name'), password: text('Give your password') }).noUnknown();
const setupSchema = yup
  .object({ name: yup.string().required(), password: yup.string().required(), confirmation: yup.string().required() })
  .noUnknown();
/** A name and a password: nobody needs more to sign in. */
const largest = 16 * 1024;

const tooMany = (wait: number) => {
  const words = `Too many failed tries. Try again in ${Math.ceil(wait / 60)} min.`;
  return new Problem(429, 'Too many tries', words, [], { 'retry-after': String(wait) });
};

export const sessionRoutes = [
  route({
    method: 'GET',
    path: '/session',
    role: 'anyone',
    summary: 'Who am I',
    run: async ({ request }) => ({ person: (await whoAsks(request))?.person ?? null }),
  }),
  route({
    method: 'POST',
    path: '/session',
    role: 'anyone',
    summary: 'Sign in',
    body: signInSchema,
    largest,
    run: async ({ store, answerHeaders, body: { name, password } }) => {
      const wait = mustWaitSeconds(name, Date.now());
      if (wait > 0) throw tooMany(wait);
      const person = await signIn(store.db, name, password);
      if (!person) {
        recordFailure(name, Date.now());
        // a name that nobody has may be a password in the wrong field
        if (listPeople(store.db).some((known) => known.name === name))
          recordAct(store.db, name, 'failed to sign in', '');
        throw new Problem(401, 'Not signed in', 'Name and password do not fit.');
      }
      forgetFailures(name);
      answerHeaders.set('set-cookie', await cookieFor(person.id));
      recordAct(store.db, person.name, 'signed in', '');
      return { person };
    },
  }),
  route({
    method: 'DELETE',
    path: '/session',
    role: 'anyone',
    summary: 'Sign out',
    run: async ({ store, request, answerHeaders }) => {
      const asking = await whoAsks(request);
      if (asking?.by === 'cookie') recordAct(store.db, asking.person.name, 'signed out', '');
      answerHeaders.set('set-cookie', noCookie());
      return {};
    },
  }),
  route({
    method: 'POST',
    path: '/session/password',
    role: 'viewer',
    summary: 'Change one’s own password',
    body: passwordSchema,
    largest,
    run: async ({ store, person, body }) => {
      const { current, password } = body;
      if (person.id === 0) throw new Problem(403, 'Not allowed', 'A token has no password: sign in to change yours.');
      const wait = mustWaitSeconds(person.name, Date.now());
      if (wait > 0) throw tooMany(wait);
      const mistake = passwordMistake(password, person.name);
      const mistakes = [...(mistake ? [{ path: 'password', message: mistake }] : []), ...differs(body)];
      if (mistakes.length > 0) throw invalid(mistakes);
      if (!(await changePassword(store.db, person.id, current, password))) {
        recordFailure(person.name, Date.now());
        recordAct(store.db, person.name, 'failed to change the password', '');
        throw invalid([{ path: 'current', message: 'This is not your password' }]);
      }
      forgetFailures(person.name);
      recordAct(store.db, person.name, 'changed the password', person.name);
      return {};
    },
  }),
  route({
    method: 'POST',
    path: '/setup',
    role: 'anyone',
    summary: 'Make the first administrator; closed for good once somebody is there',
    body: setupSchema,
    largest,
    run: async ({ store, answerHeaders, body: { name, password, confirmation } }) => {
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
      answerHeaders.set('set-cookie', await cookieFor(person.id));
      recordAct(store.db, name, 'set up as administrator', name);
      return { person };
    },
  }),
];
