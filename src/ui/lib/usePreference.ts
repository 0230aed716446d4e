'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import { againMs, call, type ApiProblem } from './api';

/** how often each choice was written on this page */
const writes = new Map<string, number>();

/** A choice kept for the person who is signed in, for good. */
export function usePreference<Value>(key: string, fallback: Value): [Value, (value: Value) => void] {
  const client = useQueryClient();
  // who keeps another choice is not drawn anew when this one changes
  const pick = useCallback((all: Record<string, unknown>) => all[key] as Value | undefined, [key]);
  const { data } = useQuery({
    queryKey: ['preferences'],
    queryFn: () => call<Record<string, unknown>>('preferences'),
    staleTime: Infinity,
    select: pick,
  });
  const value = data ?? fallback;
  const write = useCallback(
    (next: Value) => {
      client.setQueryData<Record<string, unknown>>(['preferences'], (before) => ({ ...before, [key]: next }));
      const number = (writes.get(key) ?? 0) + 1;
      writes.set(key, number);
      // while the application cannot be reached the choice waits, unless another takes its place; one that is not taken is shown as it was
      const send = () =>
        void call('preferences', { method: 'PUT', body: { key, value: next } }).catch((problem: ApiProblem) => {
          if (writes.get(key) !== number) return;
          if (problem.status === 0) setTimeout(send, againMs);
          else void client.invalidateQueries({ queryKey: ['preferences'] });
        });
      send();
    },
    [client, key],
  );
  return [value, write];
}
