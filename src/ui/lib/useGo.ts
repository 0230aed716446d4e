'use client';

import { useRouter } from 'next/navigation';
import { useCallback } from 'react';
import { showView } from './address';

/** Whether an address is another view of the page one is on. */
export const staysHere = (to: URL): boolean =>
  to.origin === window.location.origin && to.pathname === window.location.pathname && to.hash === '';

/** Goes to an address. Another view of the page one is on is there at once and asks nobody: what is pressed next counts from it. */
export function useGo(): (href: string) => void {
  const router = useRouter();
  return useCallback(
    (href: string) => {
      const to = new URL(href, window.location.href);
      if (staysHere(to)) showView(to.pathname, to.searchParams.toString(), 'push');
      else router.push(href);
    },
    [router],
  );
}
