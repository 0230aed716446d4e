'use client';

import { useSearchParams } from 'next/navigation';

/** How many rows at most the address of the page asks for; null for all. */
export function useFirstRows(): number | null {
  const written = useSearchParams().get('first');
  return written !== null && /^[1-9]\d*$/.test(written) ? Number(written) : null;
}
