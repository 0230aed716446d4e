import { randomInt } from 'node:crypto';
import { personChangeSchema, personSchema } from '../../core/people/personSchema';
import { recordAct } from '../../store/audit';
import {
  addPerson,
  changePerson,
  givePassword,
  listPeople,
  PersonMistake,
  type ListedPerson,
} from '../../store/people';
import { endSessions, sessionsOf } from '../../store/sessions';
import type { Db } from '../../store/base/database';
import { inTurn } from '../access/hashing';
import { invalid, notFound } from '../access/problem';
import { route } from '../api/route';
import { nameMistakes, passwordMistakes } from './newPassword';

// none that is taken for another: it is read aloud
const letters = 'abcdefghjkmnpqrstuvwxyz23456789';

/** A password for a first sign-in, in groups that can be read aloud: 70 bits. */
const passwordToGive = (): string =>
  Array.from({ length: 4 }, () => Array.from({ length: 4 }, () => letters[randomInt(letters.length)]).join('')).join(
    '-',
  );

function personNumbered(db: Db, id: string): ListedPerson {
  const found = listPeople(db).find((one) => String(one.id) === id);
  if (!found) throw notFound(`person ${id}`);
  return found;
}

/** What was done to somebody, in words for the list of acts. */
function actsOf(
  before: ListedPerson,
  { name, role, disabled }: { name?: string | undefined; role?: string | undefined; disabled?: boolean | undefined },
): string[] {
  const was = before.disabledAt !== null;
  return [
    ...(name !== undefined && name !== before.name ? [`renamed ${before.name}`] : []),
    ...(role !== undefined && role !== before.role ? [`made ${before.role} ${role}`] : []),
    ...(disabled !== undefined && disabled !== was ? [disabled ? 'disabled' : 'enabled'] : []),
  ];
}

/** Who may sign in, as administrators see to it. */
export const personRoutes = [
  route({
    method: 'GET',
    path: '/people',
    role: 'administrator',
    summary: 'People: what each may, and where they are signed in',
    run: ({ store }) => {
      const rows = listPeople(store.db).map((one) => ({ ...one, sessions: sessionsOf(store.db, one.id) }));
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'POST',
    path: '/people',
    role: 'administrator',
    summary: 'Add a person',
    body: personSchema,
    run: async ({ store, person, body: { name, password, role } }) => {
      const known = listPeople(store.db).some((other) => other.name === name);
      const taken = known ? [{ path: 'name', message: `There is a person “${name}” already` }] : [];
      const mistakes = [...nameMistakes(name), ...taken, ...(await passwordMistakes(password, name))];
      if (mistakes.length > 0) throw invalid(mistakes);
      await inTurn(() => addPerson(store.db, name, password, role));
      recordAct(store.db, person.name, `added ${role}`, name);
      return {};
    },
  }),
  route({
    method: 'PATCH',
    path: '/people/{id}',
    role: 'administrator',
    summary: 'Rename a person, give them another role, or say whether they may sign in',
    body: personChangeSchema,
    run: ({ store, person, params, body }) => {
      if (body.name !== undefined) {
        const mistakes = nameMistakes(body.name);
        if (mistakes.length > 0) throw invalid(mistakes);
      }
      try {
        const before = changePerson(store.db, Number(params.id), body);
        if (!before) throw notFound(`person ${params.id}`);
        for (const act of actsOf(before, body)) recordAct(store.db, person.name, act, body.name ?? before.name);
      } catch (error) {
        if (error instanceof PersonMistake) throw invalid([{ path: error.path, message: error.message }]);
        throw error;
      }
      return {};
    },
  }),
  route({
    method: 'POST',
    path: '/people/{id}/password',
    role: 'administrator',
    summary: 'Give a person a password for one sign-in, told this once; they are signed in nowhere any more',
    run: async ({ store, person, params }) => {
      const { id, name } = personNumbered(store.db, params.id);
      const password = passwordToGive();
      await inTurn(() => givePassword(store.db, id, password, true));
      recordAct(store.db, person.name, 'gave a new password', name);
      return { name, password };
    },
  }),
  route({
    method: 'DELETE',
    path: '/people/{id}/sessions',
    role: 'administrator',
    summary: 'Sign a person out everywhere',
    run: ({ store, person, params }) => {
      const { id, name } = personNumbered(store.db, params.id);
      const ended = endSessions(store.db, id);
      recordAct(store.db, person.name, 'signed out everywhere', name);
      return { ended };
    },
  }),
];
