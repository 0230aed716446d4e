'use client';

import NextLink from 'next/link';
import type { ComponentProps } from 'react';

/**
 * A link that keeps the moment viewed. Addresses change with every selection and every letter of a filter: nothing is fetched ahead, and where only the view changes the
 * page stays and asks nobody.
 */
export function Link({ onClick, ...rest }: ComponentProps<typeof NextLink>) {
  return (
    <NextLink
      {...rest} prefetch={false}
      onClick={(event) => {
        onClick?.(event);
        const to = new URL(event.currentTarget.href);
        const elsewhere = event.defaultPrevented || event.button !== 0 || event.metaKey || event.ctrlKey || event.shiftKey || event.altKey || event.currentTarget.target === '_blank';
        if (elsewhere || to.origin !== window.location.origin || to.pathname !== window.location.pathname || to.hash !== '') return;
        event.preventDefault();
        window.history.pushState(null, '', `${to.pathname}${to.search}`);
      }}
    />
  );
}
