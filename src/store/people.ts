import { and, desc, eq, lt, sql } from 'drizzle-orm';
import type { Db } from './database';
import { audit, person, preference, token } from './schema';
import { hashPassword, hashToken, newToken, passwordMatches } from './vault';

export const roleNames = ['viewer', 'operator', 'administrator'] as const;
export type PersonRole = (typeof roleNames)[number];

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
  return db.transaction((tx) => {
    if (countPeople(tx as unknown as Db) > 0) return null;
    const { id } = tx
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

/** Makes a token; its text is told once and kept nowhere. */
export function addToken(db: Db, name: string, role: TokenRole): string {
  const text = newToken();
  db.insert(token)
    .values({ name, hash: hashToken(text), role, createdAt: new Date().toISOString() })
    .run();
  return text;
}

export function tokenOwner(db: Db, text: string): Person | null {
  const row = db
    .select()
    .from(token)
    .where(eq(token.hash, hashToken(text)))
    .get();
  return row ? { id: 0, name: row.role === 'collector' ? row.name : `token ${row.name}`, role: row.role } : null;
}

export function readPreferences(db: Db, personId: number): Record<string, unknown> {
  return Object.fromEntries(
    db
      .select()
      .from(preference)
      .where(eq(preference.personId, personId))
      .all()
      .map(({ key, value }) => [key, value]),
  );
}

export function writePreference(db: Db, personId: number, key: string, value: unknown): void {
  db.insert(preference)
    .values({ personId, key, value })
    .onConflictDoUpdate({ target: [preference.personId, preference.key], set: { value } })
    .run();
}

export function recordAct(db: Db, who: string, act: string, subject: string): void {
  db.insert(audit).values({ at: new Date().toISOString(), who, act, subject }).run();
}

export interface Act {
  id: number;
  at: string;
  who: string;
  act: string;
  subject: string;
}

/** What was done, newest first: what holds a text anywhere, older than an act. */
export function listActs(
  db: Db,
  { text, before, most }: { text: string; before: number | null; most: number },
): { rows: Act[]; total: number } {
  const fits = and(
    ...text
      .split(/\s+/)
      .filter(Boolean)
      .map(
        (word) =>
          sql`instr(lower(${audit.at} || ' ' || ${audit.who} || ' ' || ${audit.act} || ' ' || ${audit.subject}), lower(${word})) > 0`,
      ),
  );
  const rows = db
    .select()
    .from(audit)
    .where(before === null ? fits : and(fits, lt(audit.id, before)))
    .orderBy(desc(audit.id))
    .limit(most)
    .all();
  return {
    rows,
    total:
      db
        .select({ count: sql<number>`count(*)` })
        .from(audit)
        .where(fits)
        .get()?.count ?? 0,
  };
}
