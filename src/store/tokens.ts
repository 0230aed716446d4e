import { and, eq, ne } from 'drizzle-orm';
import type { Area } from '../core/people/areas';
import type { Person, TokenRole } from '../core/people/person';
import type { Db } from './base/database';
import { writeIfFree } from './base/lock';
import { token } from './base/schema';
import { hashToken, newToken } from './vault';

/** A token as it is told of: never its text. */
export interface KeptToken {
  id: number;
  name: string;
  role: TokenRole;
  createdAt: string;
  /** the last day on which it opens anything; null for ever */
  expiresOn: string | null;
  /** when it was used last, to the hour; null for never */
  usedAt: string | null;
  /** the parts of the API it opens; null for all */
  areas: Area[] | null;
}

/** What a token is made of. */
export interface NewToken {
  name: string;
  role: TokenRole;
  /** the last day on which it opens anything */
  expiresOn?: string | null;
  areas?: Area[] | null;
}

/** Makes a token; its text is told once and kept nowhere. */
export function addToken(db: Db, { name, role, expiresOn = null, areas = null }: NewToken): string {
  const text = newToken();
  db.insert(token)
    .values({ name, hash: hashToken(text), role, createdAt: new Date().toISOString(), expiresOn, areas })
    .run();
  return text;
}

/** Tokens of people’s scripts, in the order they were made; those of collectors are told of with these. */
export const listTokens = (db: Db): KeptToken[] =>
  db
    .select({
      id: token.id,
      name: token.name,
      role: token.role,
      createdAt: token.createdAt,
      expiresOn: token.expiresOn,
      usedAt: token.usedAt,
      areas: token.areas,
    })
    .from(token)
    .where(ne(token.role, 'collector'))
    .orderBy(token.id)
    .all();

/** Whether a name is taken, by a collector too. */
export const hasToken = (db: Db, name: string): boolean =>
  db.select({ id: token.id }).from(token).where(eq(token.name, name)).get() !== undefined;

/** Takes a token away: it opens nothing any more. @returns its name; null where there is none */
export const revokeToken = (db: Db, id: number): string | null =>
  db
    .delete(token)
    .where(and(eq(token.id, id), ne(token.role, 'collector')))
    .returning({ name: token.name })
    .get()?.name ?? null;

/** To which accuracy the last use is kept: what is written makes tables be read anew. */
const useToMs = 3_600_000;

/** Whose a token is, and what it opens; null where it is nobody’s, or its last day is over. */
export function tokenOwner(
  db: Db,
  text: string,
  now = new Date(),
): { person: Person; tokenId: number; areas: Area[] | null } | null {
  const row = db
    .select()
    .from(token)
    .where(eq(token.hash, hashToken(text)))
    .get();
  if (!row || (row.expiresOn !== null && now.toISOString().slice(0, 10) > row.expiresOn)) return null;
  if (row.usedAt === null || now.getTime() - Date.parse(row.usedAt) >= useToMs) {
    writeIfFree(db.$client, () =>
      db.update(token).set({ usedAt: now.toISOString() }).where(eq(token.id, row.id)).run(),
    );
  }
  const name = row.role === 'collector' ? row.name : `token ${row.name}`;
  return { person: { id: 0, name, role: row.role }, tokenId: row.id, areas: row.areas };
}
