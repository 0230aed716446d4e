import { createHash } from 'node:crypto';
import { getIronSession, type IronSession, type SessionOptions } from 'iron-session';
import { cookies } from 'next/headers';
import { countPeople, personById, tokenOwner, type Person } from '../../store/people';
import { vaultKey } from '../../store/vault';
import { webStore } from './store';

interface SessionContent {
  personId?: number;
}

const weekSeconds = 7 * 86_400;

function options(): SessionOptions {
  const password = createHash('sha256').update('session').update(vaultKey(webStore().folder)).digest('hex');
  return {
    password,
    cookieName: 'bolide-session',
    ttl: weekSeconds,
    cookieOptions: { httpOnly: true, sameSite: 'strict', secure: process.env.BOLIDE_SECURE_COOKIES === '1', path: '/' },
  };
}

export async function session(): Promise<IronSession<SessionContent>> {
  return getIronSession<SessionContent>(await cookies(), options());
}

/** Who is asking: the bearer of a token or whoever signed in with a cookie. */
export async function whoAsks(request?: Request): Promise<{ person: Person; by: 'token' | 'cookie' } | null> {
  const { db } = webStore();
  const bearer = /^Bearer (\S+)$/i.exec(request?.headers.get('authorization') ?? '')?.[1];
  if (bearer) {
    const person = tokenOwner(db, bearer);
    return person && { person, by: 'token' };
  }
  const { personId } = await session();
  const person = personId === undefined ? null : personById(db, personId);
  return person && { person, by: 'cookie' };
}

/** Nobody can sign in yet: the first administrator is to be made. */
export function needsSetup(): boolean {
  return countPeople(webStore().db) === 0;
}
