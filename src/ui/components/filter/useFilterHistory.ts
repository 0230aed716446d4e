'use client';

import { parseFilter } from '@/core/filter/syntax';
import type { ThingName } from '@/core/things/things';
import { usePreference } from '../../lib/usePreference';

const kept = 12;
const none: string[] = [];

/** The filters a person last used for a thing, the newest first, kept for good. */
export function useFilterHistory(thing: ThingName): { filters: string[]; remember: (text: string) => void } {
  const [filters, write] = usePreference<string[]>(`filters.${thing}`, none);
  const remember = (text: string) => {
    const filter = text.trim();
    if (filter === '' || filters[0] === filter || !isWhole(filter)) return;
    write([filter, ...filters.filter((other) => other !== filter)].slice(0, kept));
  };
  return { filters, remember };
}

function isWhole(text: string): boolean {
  try {
    parseFilter(text);
    return true;
  } catch {
    return false;
  }
}
