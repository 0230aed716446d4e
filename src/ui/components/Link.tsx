'use client';

import NextLink from 'next/link';
import { useRouter } from 'next/navigation';
import type { ComponentProps } from 'react';
import { showView } from '../lib/address';
import { staysHere } from '../lib/useGo';

const placeOf = (link: HTMLAnchorElement) => new URL(link.href);

/**
 * A link that keeps the moment viewed. Addresses change with every selection and every letter of a filter, so that nothing is fetched ahead but where somebody points; and
 * where only the view changes the page stays and asks nobody.
 */
export function Link({ onClick, onPointerEnter, ...rest }: ComponentProps<typeof NextLink>) {
  const router = useRouter();
  return (
    <NextLink
      {...rest}
      prefetch={false}
      onPointerEnter={(event) => {
        onPointerEnter?.(event);
        const to = placeOf(event.currentTarget);
        if (to.origin === window.location.origin && !staysHere(to)) router.prefetch(`${to.pathname}${to.search}`);
      }}
      onClick={(event) => {
        onClick?.(event);
        const to = placeOf(event.currentTarget);
        const elsewhere =
          event.defaultPrevented ||
          event.button !== 0 ||
          event.metaKey ||
          event.ctrlKey ||
          event.shiftKey ||
          event.altKey ||
          event.currentTarget.target === '_blank';
        if (elsewhere || !staysHere(to)) return;
        event.preventDefault();
        showView(to.pathname, to.searchParams.toString(), 'push');
      }}
    />
  );
}
