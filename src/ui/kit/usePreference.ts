'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import { call } from './api';

/** A choice kept for the person who is signed in, for good. */
export function usePreference<Value>(key: string, fallback: Value): [Value, (value: Value) => void] {
  const client = useQueryClient();
  // who keeps another choice is not drawn anew when this one changes
  const pick = useCallback((all: Record<string, unknown>) => all[key] as Value | undefined, [key]);
  const { data } = useQuery({ queryKey: ['preferences'], queryFn: () => call<Record<string, unknown>>('preferences'), staleTime: Infinity, select: pick });
  const value = data ?? fallback;
  const write = useCallback(
    (next: Value) => {
      client.setQueryData<Record<string, unknown>>(['preferences'], (before) => ({ ...before, [key]: next }));
      void call('preferences', { method: 'PUT', body: { key, value: next } });
    },
    [client, key],
  );
  return [value, write];
}
