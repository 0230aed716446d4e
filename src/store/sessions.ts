import { randomBytes } from 'node:crypto';
import { and, desc, eq, isNull, lt, ne, or } from 'drizzle-orm';
import type { Person } from '../core/people/person';
import { idleMs, isOver, longestMs, usedToMs } from '../core/people/sessionEnds';
import type { Db } from './base/database';
import { writeIfFree } from './base/lock';
import { person, session } from './base/schema';
import { hashToken } from './vault';

/** A session as it is told of: never what opens it. */
export interface KeptSession {
  id: number;
  createdAt: string;
  /** when somebody was last at it, to ten minutes */
  usedAt: string;
  /** the address they signed in from */
  source: string;
}

/** Signs somebody in. @returns what opens the session, which is kept nowhere */
export function beginSession(db: Db, personId: number, source: string, now = new Date()): string {
  const secret = randomBytes(30).toString('base64url');
  const at = now.toISOString();
  db.insert(session)
    .values({ hash: hashToken(secret), personId, createdAt: at, usedAt: at, source })
    .run();
  return secret;
}

/**
 * Whose session something opens; null where it is over or was ended, or where they may not sign in any more.
 * @param attended somebody is at it: a page that asks by itself keeps nobody signed in
 */
export function sessionOwner(
  db: Db,
  secret: string,
  attended: boolean,
  now = new Date(),
): { person: Person; sessionId: number; mustChange: boolean } | null {
  const found = db
    .select({ person, session })
    .from(session)
    .innerJoin(person, eq(person.id, session.personId))
    .where(and(eq(session.hash, hashToken(secret)), isNull(person.disabledAt)))
    .get();
  if (!found || isOver(found.session, now.getTime())) return null;
  const { id, usedAt } = found.session;
  if (attended && now.getTime() - Date.parse(usedAt) >= usedToMs)
    writeIfFree(db.$client, () =>
      db.update(session).set({ usedAt: now.toISOString() }).where(eq(session.id, id)).run(),
    );
  const { id: personId, name, role, mustChange } = found.person;
  return { person: { id: personId, name, role }, sessionId: id, mustChange };
}

/** Where somebody is signed in, where they were at it last first. */
export const sessionsOf = (db: Db, personId: number, now = new Date()): KeptSession[] =>
  db
    .select({ id: session.id, createdAt: session.createdAt, usedAt: session.usedAt, source: session.source })
    .from(session)
    .where(eq(session.personId, personId))
    .orderBy(desc(session.usedAt), desc(session.id))
    .all()
    .filter((one) => !isOver(one, now.getTime()));

/** Ends a session of somebody. @returns whether there was one */
export const endSession = (db: Db, personId: number, id: number): boolean =>
  db
    .delete(session)
    .where(and(eq(session.id, id), eq(session.personId, personId)))
    .run().changes > 0;

/** Ends all sessions of somebody, but one. @returns how many there were */
export const endSessions = (db: Db, personId: number, but: number | null = null): number =>
  db
    .delete(session)
    .where(and(eq(session.personId, personId), but === null ? undefined : ne(session.id, but)))
    .run().changes;

/** Takes away the sessions that are over. */
export function forgetSessions(db: Db, now = new Date()): void {
  const before = (ms: number) => new Date(now.getTime() - ms).toISOString();
  const over = or(lt(session.createdAt, before(longestMs)), lt(session.usedAt, before(idleMs + usedToMs)));
  // whoever has nothing to do writes nothing
  if (db.select({ id: session.id }).from(session).where(over).get()) db.delete(session).where(over).run();
}
