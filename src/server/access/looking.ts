import { cookies, headers } from 'next/headers';
import { redirect } from 'next/navigation';
import type { Person } from '../../core/people/person';
import { placeWithin } from '../../core/values/placeWithin';
import { countPeople } from '../../store/people';
import { askedHeader } from './askedHeader';
import { isSecure } from './served';
import { cookieName, ownerOf } from './session';
import { webStore } from './store';

/** Who looks at a page. */
export async function whoLooks(): Promise<{ person: Person; mustChange: boolean } | null> {
  const name = cookieName(isSecure(await headers()));
  return ownerOf((await cookies()).get(name)?.value, true);
}

/** Where somebody is once they signed in: where they wanted to be, if that is a place of ours. */
export const placeAfterSignIn = (wanted: unknown): string => placeWithin(wanted) ?? '/today';

/** Who looks at a page that only people of ours see; others sign in, and are then where they wanted to be. */
export async function whoLooksHere(): Promise<Person> {
  const looking = await whoLooks();
  if (looking && !looking.mustChange) return looking.person;
  if (needsSetup()) redirect('/setup');
  const to = placeWithin((await headers()).get(askedHeader));
  return redirect(to === null ? '/login' : `/login?to=${encodeURIComponent(to)}`);
}

/** Nobody can sign in yet: the first administrator is to be made. */
export function needsSetup(): boolean {
  return countPeople(webStore().db) === 0;
}
