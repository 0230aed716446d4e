import { tokenRoles, type Person, type TokenRole } from '../core/people/person';
import { roleNames, type PersonRole } from '../core/people/roles';
import { eq, sql } from 'drizzle-orm';
import { inTransaction, type Db } from './base/database';
import { person } from './base/schema';
import { endSessions } from './sessions';
import { hashPassword, passwordMatches } from './vault';

export { roleNames, type PersonRole };
export { tokenRoles, type Person, type TokenRole };

/** How many people may sign in; none means that the first administrator is to be made. */
export function countPeople(db: Db): number {
  return (
    db
      .select({ count: sql<number>`count(*)` })
      .from(person)
      .get()?.count ?? 0
  );
}

export async function addPerson(db: Db, name: string, password: string, role: PersonRole): Promise<Person> {
  const passwordHash = await hashPassword(password);
  const { id } = db
    .insert(person)
    .values({ name, passwordHash, role, createdAt: new Date().toISOString() })
    .returning({ id: person.id })
    .get();
  return { id, name, role };
}

/** The first administrator, only while there is nobody: two at the same time cannot both succeed. */
export async function addFirstAdministrator(db: Db, name: string, password: string): Promise<Person | null> {
  const passwordHash = await hashPassword(password);
  return inTransaction(db, () => {
    if (countPeople(db) > 0) return null;
    const { id } = db
      .insert(person)
      .values({ name, passwordHash, role: 'administrator', createdAt: new Date().toISOString() })
      .returning({ id: person.id })
      .get();
    return { id, name, role: 'administrator' as const };
  });
}

const nobody = hashPassword('nobody has this password');

/** The person if name and password fit, and they may sign in. Takes as long for a name that does not exist. */
export async function signIn(
  db: Db,
  name: string,
  password: string,
): Promise<{ person: Person; mustChange: boolean } | null> {
  const row = db.select().from(person).where(eq(person.name, name)).get();
  const fits = await passwordMatches(password, row?.passwordHash ?? (await nobody));
  if (!row || !fits || row.disabledAt !== null) return null;
  return { person: { id: row.id, name: row.name, role: row.role }, mustChange: row.mustChange };
}

/** Gives somebody another password; whoever else is signed in as them is so no more. @returns whether the one before was right */
export async function changePassword(
  db: Db,
  { id, sessionId, before, after }: { id: number; sessionId: number | null; before: string; after: string },
): Promise<boolean> {
  const row = db.select().from(person).where(eq(person.id, id)).get();
  if (!row || !(await passwordMatches(before, row.passwordHash))) return false;
  const passwordHash = await hashPassword(after);
  inTransaction(db, () => {
    db.update(person).set({ passwordHash, mustChange: false }).where(eq(person.id, id)).run();
    endSessions(db, id, sessionId);
  });
  return true;
}

/** Gives somebody a password who has lost theirs; they are signed in nowhere any more. @param mustChange the next sign-in begins with another one */
export async function givePassword(db: Db, id: number, password: string, mustChange: boolean): Promise<void> {
  const passwordHash = await hashPassword(password);
  inTransaction(db, () => {
    db.update(person).set({ passwordHash, mustChange }).where(eq(person.id, id)).run();
    endSessions(db, id);
  });
}

/** What an administrator sees of a person. */
export interface ListedPerson extends Person {
  role: PersonRole;
  createdAt: string;
  /** since when they may not sign in; null while they may */
  disabledAt: string | null;
  /** their password was given by an administrator, and they have not chosen one yet */
  mustChange: boolean;
}

export const listPeople = (db: Db): ListedPerson[] =>
  db
    .select()
    .from(person)
    .orderBy(person.id)
    .all()
    .map(({ passwordHash: _, ...shown }) => shown);

/** Why a change of a person is refused: what keeps the application from having nobody left who may configure it. */
export class PersonMistake extends Error {
  constructor(
    readonly path: 'name' | 'role' | 'disabled',
    message: string,
  ) {
    super(message);
  }
}

/**
 * Renames somebody, gives them another role, or says whether they may sign in. Whoever may not, or may less, is signed in nowhere any more.
 * @returns the person before; null where there is none
 * @throws PersonMistake where the name is taken, or nobody would be left who may configure
 */
export function changePerson(
  db: Db,
  id: number,
  change: { name?: string | undefined; role?: PersonRole | undefined; disabled?: boolean | undefined },
  now = new Date(),
): ListedPerson | null {
  return inTransaction(db, () => {
    const all = listPeople(db);
    const before = all.find((one) => one.id === id);
    if (!before) return null;
    const { name = before.name, role = before.role, disabled = before.disabledAt !== null } = change;
    if (all.some((one) => one.id !== id && one.name === name))
      throw new PersonMistake('name', `There is a person “${name}” already`);
    const mayConfigure = (one: { role: PersonRole; disabledAt: string | null }) =>
      one.role === 'administrator' && one.disabledAt === null;
    const remains = role === 'administrator' && !disabled;
    if (mayConfigure(before) && !remains && !all.some((one) => one.id !== id && mayConfigure(one)))
      throw new PersonMistake(
        disabled ? 'disabled' : 'role',
        `${before.name} is the last administrator: make another one first`,
      );
    const disabledAt = disabled ? (before.disabledAt ?? now.toISOString()) : null;
    db.update(person).set({ name, role, disabledAt }).where(eq(person.id, id)).run();
    if (disabled || role !== before.role) endSessions(db, id);
    return before;
  });
}
