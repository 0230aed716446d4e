import { timingSafeEqual } from 'node:crypto';
import * as yup from 'yup';
import { differs, passwordSchema } from '../../core/people/passwordSchema';
import { addFirstAdministrator, changePassword, countPeople, listPeople, signIn } from '../../store/people';
import { recordAct } from '../../store/audit';
import type { Store } from '../../store/base/database';
import { endSession, endSessions, forgetSessions, sessionsOf } from '../../store/sessions';
import { inTurn } from '../access/hashing';
import { deviceOf, knowsFromNow } from '../access/knownDevice';
import { invalid, notFound, Problem } from '../access/problem';
import { isFromHere, served, sourceOf } from '../access/served';
import { noCookie, signedIn } from '../access/session';
import { signInLimitOf, type Attempt } from '../access/signInLimit';
import { route } from '../api/route';
import { nameMistakes, passwordMistakes } from './newPassword';

const named = (missing: string) => yup.string().required(missing).max(60, 'A name has at most 60 characters');
const secret = (missing: string) => yup.string().required(missing).max(200, 'A password has at most 200 characters');
const signInSchema = yup.object({ name: named('Give your name'), password: secret('Give your password') }).noUnknown();
const setupSchema = yup
  .object({
    name: named('Give a name'),
    password: secret('Give a password'),
    confirmation: secret('Give it once more'),
    code: yup.string().max(40),
  })
  .noUnknown();
/** A name and a password: nobody needs more to sign in. */
const largest = 16 * 1024;

/** Counts a try, before anything is looked at. @throws Problem where it has to wait */
async function mayTry(store: Store, attempt: Attempt, known: boolean): Promise<void> {
  const { waitSeconds, begins } = await signInLimitOf(store.folder).count(attempt);
  // a name that nobody has may be a password in the wrong field
  if (begins)
    recordAct(store.db, known ? attempt.name : 'somebody', 'has to wait: too many failed tries', attempt.source);
  if (waitSeconds === 0) return;
  const time = waitSeconds < 60 ? `${waitSeconds} s` : `${Math.ceil(waitSeconds / 60)} min`;
  const words = `Too many failed tries. Try again in ${time}.`;
  throw new Problem(429, 'Too many tries', words, [], { 'retry-after': String(waitSeconds) });
}

function isCode(given: string, wanted: string): boolean {
  const plain = (text: string) =>
    Buffer.from(
      text
        .toUpperCase()
        .replace(/[^A-Z0-9]/g, '')
        .slice(0, 64)
        .padEnd(64),
    );
  return timingSafeEqual(plain(given), plain(wanted));
}

/** Signing in and out, and what is one's own about it. */
export const sessionRoutes = [
  route({
    method: 'GET',
    path: '/session',
    role: 'anyone',
    summary: 'Who am I',
    beforePassword: true,
    run: ({ asking }) => ({ person: asking?.person ?? null }),
  }),
  route({
    method: 'POST',
    path: '/session',
    role: 'anyone',
    summary: 'Sign in',
    body: signInSchema,
    largest,
    beforePassword: true,
    run: async ({ store, request, answerHeaders, body: { name, password } }) => {
      const known = listPeople(store.db).find((one) => one.name === name);
      const attempt = { name, source: sourceOf(request.headers), device: await deviceOf(request, known?.id ?? null) };
      await mayTry(store, attempt, known !== undefined);
      const fits = await inTurn(() => signIn(store.db, name, password));
      if (!fits) {
        recordAct(store.db, known ? name : 'somebody', 'failed to sign in', attempt.source);
        throw new Problem(401, 'Not signed in', 'Name and password do not fit.');
      }
      const { person, mustChange } = fits;
      await signInLimitOf(store.folder).succeeded(attempt);
      forgetSessions(store.db);
      answerHeaders.append('set-cookie', await signedIn(person.id, request));
      answerHeaders.append('set-cookie', await knowsFromNow(request, person.id));
      recordAct(store.db, person.name, 'signed in', attempt.source);
      return { person, mustChange };
    },
  }),
  route({
    method: 'DELETE',
    path: '/session',
    role: 'anyone',
    summary: 'Sign out',
    beforePassword: true,
    run: ({ store, request, asking, answerHeaders }) => {
      if (asking?.by === 'cookie') {
        endSession(store.db, asking.person.id, asking.sessionId);
        recordAct(store.db, asking.person.name, 'signed out', '');
      }
      answerHeaders.set('set-cookie', noCookie(request));
      return {};
    },
  }),
  route({
    method: 'GET',
    path: '/sessions',
    role: 'viewer',
    summary: 'Where one is signed in, and since when',
    run: ({ store, person, asking }) => {
      const own = asking?.by === 'cookie' ? asking.sessionId : null;
      const rows = sessionsOf(store.db, person.id).map((one) => ({ ...one, isThis: one.id === own }));
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'DELETE',
    path: '/sessions/{id}',
    role: 'viewer',
    summary: 'Sign out where one is signed in',
    run: ({ store, person, params }) => {
      if (!endSession(store.db, person.id, Number(params.id))) throw notFound(`session ${params.id} of yours`);
      recordAct(store.db, person.name, 'ended a session', '');
      return {};
    },
  }),
  route({
    method: 'DELETE',
    path: '/sessions',
    role: 'viewer',
    summary: 'Sign out everywhere, here too',
    run: ({ store, request, person, answerHeaders }) => {
      const ended = endSessions(store.db, person.id);
      recordAct(store.db, person.name, 'signed out everywhere', person.name);
      answerHeaders.set('set-cookie', noCookie(request));
      return { ended };
    },
  }),
  route({
    method: 'POST',
    path: '/session/password',
    role: 'viewer',
    summary: 'Change one’s own password; one is signed out everywhere else',
    body: passwordSchema,
    largest,
    beforePassword: true,
    run: async ({ store, person, request, asking, body }) => {
      const { current, password } = body;
      if (asking?.by !== 'cookie')
        throw new Problem(403, 'Not allowed', 'A token has no password: sign in to change yours.');
      const same = password === current ? [{ path: 'password', message: 'This is the one you have' }] : [];
      const mistakes = [...(await passwordMistakes(password, person.name)), ...same, ...differs(body)];
      if (mistakes.length > 0) throw invalid(mistakes);
      const attempt = { name: person.name, source: sourceOf(request.headers), device: `session ${asking.sessionId}` };
      await mayTry(store, attempt, true);
      const { id } = person;
      const change = { id, sessionId: asking.sessionId, before: current, after: password };
      if (!(await inTurn(() => changePassword(store.db, change)))) {
        recordAct(store.db, person.name, 'failed to change the password', attempt.source);
        throw invalid([{ path: 'current', message: 'This is not your password' }]);
      }
      await signInLimitOf(store.folder).succeeded(attempt);
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
    run: async ({ store, request, answerHeaders, body: { name, password, confirmation, code = '' } }) => {
      const taken = new Problem(409, 'Already set up', 'There is an administrator already: sign in.');
      if (countPeople(store.db) > 0) throw taken;
      const { setupCode } = served();
      if (setupCode !== null && !isFromHere(request.headers)) {
        await mayTry(store, { name: '(first start)', source: sourceOf(request.headers), device: null }, false);
        if (!isCode(code, setupCode)) {
          const message = 'This is not the code that the application printed where it was started';
          throw invalid([{ path: 'code', message }]);
        }
      }
      const mistakes = [
        ...nameMistakes(name),
        ...(await passwordMistakes(password, name)),
        ...(password === confirmation ? [] : [{ path: 'confirmation', message: 'The two passwords differ' }]),
      ];
      if (mistakes.length > 0) throw invalid(mistakes);
      const person = await inTurn(() => addFirstAdministrator(store.db, name, password));
      if (!person) throw taken;
      answerHeaders.append('set-cookie', await signedIn(person.id, request));
      answerHeaders.append('set-cookie', await knowsFromNow(request, person.id));
      recordAct(store.db, name, 'set up as administrator', name);
      return { person };
    },
  }),
];
