'use client';

import { useRouter } from 'next/navigation';
import { useCallback } from 'react';

/** Whether an address is another view of the page one is on. */
export const staysHere = (to: URL): boolean =>
  to.origin === window.location.origin && to.pathname === window.location.pathname && to.hash === '';

/** Goes to an address. Another view of the page one is on is there at once and asks nobody: what is pressed next counts from it. */
export function useGo(): (href: string) => void {
  const router = useRouter();
  return useCallback(
    (href: string) => {
      const to = new URL(href, window.location.href);
      if (staysHere(to)) window.history.pushState(null, '', `${to.pathname}${to.search}`);
      else router.push(href);
    },
    [router],
  );
}
