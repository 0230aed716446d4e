const nowhere = 'http://bolide.invalid';

/**
 * A place of the application that somebody asked to be taken to, as a path with its query.
 * Browsers read `//host`, `/\host` and a path with tabs or line ends in it as another host (WHATWG URL, section 4.4): those are no places of ours, nor are the pages that lead there.
 * @returns null where it is none
 */
export function placeWithin(asked: unknown): string | null {
  if (typeof asked !== 'string' || !asked.startsWith('/')) return null;
  if (!URL.canParse(asked, nowhere)) return null;
  const { origin, pathname, search, hash } = new URL(asked, nowhere);
  if (origin !== nowhere || pathname.startsWith('//')) return null;
  return /^\/(login|setup|api)(\/|$)/.test(pathname) ? null : pathname + search + hash;
}
