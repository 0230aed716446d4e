'use client';

import { useMemo } from 'react';
import type { ThingName } from '@/core/things/things';
import { usePreference } from '../../lib/usePreference';

/** More marks than this are a filter. */
const mostMarks = 2000;

/** Rows that a person has marked, kept until they take the mark away. Marked rows print marked. */
export function useMarkedRows(thing: ThingName): {
  marked: ReadonlySet<string>;
  toggle: (id: string) => void;
  clear: () => void;
} {
  const [ids, setIds] = usePreference<string[]>(`marked.${thing}`, none);
  const marked = useMemo(() => new Set(ids), [ids]);
  return {
    marked,
    clear: () => setIds(none),
    toggle: (id) => setIds(marked.has(id) ? ids.filter((other) => other !== id) : [...ids, id].slice(-mostMarks)),
  };
}

const none: string[] = [];
