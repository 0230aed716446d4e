import { createHash } from 'node:crypto';
import { sealData, unsealData } from 'iron-session';
import type { Area } from '../../core/people/areas';
import type { Person } from '../../core/people/person';
import { longestMs } from '../../core/people/sessionEnds';
import { beginSession, sessionOwner } from '../../store/sessions';
import { tokenOwner } from '../../store/tokens';
import { vaultKey } from '../../store/vault';
import { isSecure, sourceOf } from './served';
import { webStore } from './store';

interface SessionContent {
  secret?: string;
}

/** Who asks, and with what. */
export type Asking = { person: Person } & (
  | { by: 'cookie'; sessionId: number; mustChange: boolean }
  | { by: 'token'; tokenId: number; areas: Area[] | null }
);

const maxAgeSeconds = longestMs / 1000;

/** Over lines that nobody else reads, the name binds the cookie to this host and to such lines (RFC 6265bis, 4.1.3.2). */
export const cookieName = (secure: boolean): string => (secure ? '__Host-bolide-session' : 'bolide-session');

/** The key that sessions are sealed with follows from the key of the vault: another data folder opens none of them. */
const password = () => createHash('sha256').update('session').update(vaultKey(webStore().folder)).digest('hex');
const seal = () => ({ password: password(), ttl: maxAgeSeconds });

/** A cookie that is ours alone to read. */
export const cookieText = (name: string, value: string, maxAge: number, secure: boolean): string =>
  `${name}=${value}; Path=/; Max-Age=${maxAge}; HttpOnly; SameSite=Strict${secure ? '; Secure' : ''}`;

/** Signs somebody in. @returns the header that keeps them so */
export async function signedIn(personId: number, request: Request): Promise<string> {
  const secure = isSecure(request.headers);
  const secret = beginSession(webStore().db, personId, sourceOf(request.headers));
  const sealed = await sealData({ secret } satisfies SessionContent, seal());
  return cookieText(cookieName(secure), sealed, maxAgeSeconds, secure);
}

/** The header that forgets whoever was signed in. */
export function noCookie(request: Request): string {
  const secure = isSecure(request.headers);
  return cookieText(cookieName(secure), '', 0, secure);
}

/** Who asks with a request: the bearer of a token, or whoever signed in with a cookie. */
export async function whoAsks(request: Request): Promise<Asking | null> {
  const bearer = /^Bearer (\S+)$/i.exec(request.headers.get('authorization') ?? '')?.[1];
  if (bearer) {
    const owner = tokenOwner(webStore().db, bearer);
    return owner && { ...owner, by: 'token' };
  }
  // a page that asks by itself says so
  const attended = request.headers.get('x-bolide-attended') !== 'no';
  return ownerOf(cookieIn(request.headers, cookieName(isSecure(request.headers))), attended);
}

/** Whether whoever asked still may, for what goes on being answered. */
export async function stillMay(request: Request): Promise<boolean> {
  const headersNow = new Headers(request.headers);
  headersNow.set('x-bolide-attended', 'no');
  return (await whoAsks(new Request(request.url, { headers: headersNow }))) !== null;
}

export function cookieIn(from: Pick<Headers, 'get'>, name: string): string | undefined {
  const wanted = `${name}=`;
  const found = (from.get('cookie') ?? '').split(/; */).find((part) => part.startsWith(wanted));
  return found?.slice(wanted.length);
}

/** Whose session a cookie holds. */
export async function ownerOf(
  sealed: string | undefined,
  attended: boolean,
): Promise<(Asking & { by: 'cookie' }) | null> {
  if (!sealed) return null;
  // what was not sealed here, or has run out, is empty
  const { secret } = await unsealData<SessionContent>(sealed, seal());
  const owner = secret === undefined ? null : sessionOwner(webStore().db, secret, attended);
  return owner && { ...owner, by: 'cookie' };
}
