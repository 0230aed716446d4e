import { createHash } from 'node:crypto';
import { sealData, unsealData } from 'iron-session';
import { cookies, headers } from 'next/headers';
import { redirect } from 'next/navigation';
import { placeWithin } from '../../core/values/placeWithin';
import { countPeople, personById, type Person } from '../../store/people';
import { tokenOwner } from '../../store/tokens';
import { vaultKey } from '../../store/vault';
import { askedHeader } from './askedHeader';
import { webStore } from './store';

interface SessionContent {
  personId?: number;
}

const cookieName = 'bolide-session';
const weekSeconds = 7 * 86_400;

/** The key that sessions are sealed with follows from the key of the vault: another data folder opens none of them. */
const password = () => createHash('sha256').update('session').update(vaultKey(webStore().folder)).digest('hex');
const seal = () => ({ password: password(), ttl: weekSeconds });

/** The header that keeps somebody signed in. */
export async function cookieFor(personId: number): Promise<string> {
  return cookieText(await sealData({ personId } satisfies SessionContent, seal()), weekSeconds);
}

/** The header that forgets whoever was signed in. */
export const noCookie = (): string => cookieText('', 0);

function cookieText(value: string, maxAgeSeconds: number): string {
  const secure = process.env.BOLIDE_SECURE_COOKIES === '1' ? '; Secure' : '';
  return `${cookieName}=${value}; Path=/; Max-Age=${maxAgeSeconds}; HttpOnly; SameSite=Strict${secure}`;
}

/** Who asks with a request: the bearer of a token, or whoever signed in with a cookie. */
export async function whoAsks(request: Request): Promise<{ person: Person; by: 'token' | 'cookie' } | null> {
  const bearer = /^Bearer (\S+)$/i.exec(request.headers.get('authorization') ?? '')?.[1];
  if (bearer) {
    const person = tokenOwner(webStore().db, bearer);
    return person && { person, by: 'token' };
  }
  const person = await personOf(cookieIn(request.headers.get('cookie') ?? ''));
  return person && { person, by: 'cookie' };
}

/** Who looks at a page. */
export async function whoLooks(): Promise<Person | null> {
  return personOf((await cookies()).get(cookieName)?.value);
}

/** Where somebody is once they signed in: where they wanted to be, if that is a place of ours. */
export const placeAfterSignIn = (wanted: unknown): string => placeWithin(wanted) ?? '/today';

/** Who looks at a page that only people of ours see; others sign in, and are then where they wanted to be. */
export async function whoLooksHere(): Promise<Person> {
  const person = await whoLooks();
  if (person) return person;
  if (needsSetup()) redirect('/setup');
  const to = placeWithin((await headers()).get(askedHeader));
  return redirect(to === null ? '/login' : `/login?to=${encodeURIComponent(to)}`);
}

function cookieIn(header: string): string | undefined {
  const wanted = `${cookieName}=`;
  const found = header.split(/; */).find((part) => part.startsWith(wanted));
  return found?.slice(wanted.length);
}

async function personOf(sealed: string | undefined): Promise<Person | null> {
  if (!sealed) return null;
  // what was not sealed here, or has run out, is empty
  const { personId } = await unsealData<SessionContent>(sealed, seal());
  return personId === undefined ? null : personById(webStore().db, personId);
}

/** Nobody can sign in yet: the first administrator is to be made. */
export function needsSetup(): boolean {
  return countPeople(webStore().db) === 0;
}
