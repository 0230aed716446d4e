import { createHash, randomBytes } from 'node:crypto';
import { sealData, unsealData } from 'iron-session';
import { vaultKey } from '../../store/vault';
import { isSecure } from './served';
import { cookieIn, cookieText } from './session';
import { webStore } from './store';

/** A browser that people signed in with: guessing elsewhere does not keep them out of it. */
interface Known {
  device?: string;
  people?: number[];
}

const days = 180;
const mostPeople = 20;
const cookieName = (secure: boolean): string => (secure ? '__Host-bolide-known' : 'bolide-known');
const seal = () => ({
  password: createHash('sha256').update('known').update(vaultKey(webStore().folder)).digest('hex'),
  ttl: days * 86_400,
});

async function known(request: Request): Promise<Known> {
  const sealed = cookieIn(request.headers, cookieName(isSecure(request.headers)));
  return sealed ? unsealData<Known>(sealed, seal()) : {};
}

/** The browser a request comes from, where a person signed in with it before; null otherwise. */
export async function deviceOf(request: Request, personId: number | null): Promise<string | null> {
  const { device, people = [] } = await known(request);
  return personId !== null && device !== undefined && people.includes(personId) ? device : null;
}

/** The header by which a browser is known again as one that a person signed in with. */
export async function knowsFromNow(request: Request, personId: number): Promise<string> {
  const { device = randomBytes(12).toString('base64url'), people = [] } = await known(request);
  const all = [...people.filter((id) => id !== personId), personId].slice(-mostPeople);
  const secure = isSecure(request.headers);
  return cookieText(cookieName(secure), await sealData({ device, people: all }, seal()), days * 86_400, secure);
}
