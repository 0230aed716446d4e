import { roleNames, type PersonRole } from '../core/people/roles';
import { eq, sql } from 'drizzle-orm';
import { inTransaction, type Db } from './base/database';
import { person } from './base/schema';
import { hashPassword, passwordMatches } from './vault';

export { roleNames, type PersonRole };

/** A collector's token opens nothing but what collectors need. */
export const tokenRoles = [...roleNames, 'collector'] as const;
export type TokenRole = (typeof tokenRoles)[number];

export interface Person {
  id: number;
  name: string;
  role: TokenRole;
}

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

/** The person if name and password fit. Takes as long for a name that does not exist. */
export async function signIn(db: Db, name: string, password: string): Promise<Person | null> {
  const row = db.select().from(person).where(eq(person.name, name)).get();
  const fits = await passwordMatches(password, row?.passwordHash ?? (await nobody));
  return row && fits ? { id: row.id, name: row.name, role: row.role } : null;
}

/** Gives somebody another password. @returns whether the one before was right */
export async function changePassword(db: Db, id: number, before: string, after: string): Promise<boolean> {
  const row = db.select().from(person).where(eq(person.id, id)).get();
  if (!row || !(await passwordMatches(before, row.passwordHash))) return false;
  const passwordHash = await hashPassword(after);
  db.update(person).set({ passwordHash }).where(eq(person.id, id)).run();
  return true;
}

export function personById(db: Db, id: number): Person | null {
  const row = db.select().from(person).where(eq(person.id, id)).get();
  return row ? { id: row.id, name: row.name, role: row.role } : null;
}

export function listPeople(db: Db): (Person & { createdAt: string })[] {
  return db
    .select()
    .from(person)
    .all()
    .map(({ id, name, role, createdAt }) => ({ id, name, role, createdAt }));
}
