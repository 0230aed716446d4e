'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import { call } from './api';

/** A choice kept for the person who is signed in, for good. */
export function usePreference<Value>(key: string, fallback: Value): [Value, (value: Value) => void] {
  const client = useQueryClient();
  const { data } = useQuery({ queryKey: ['preferences'], queryFn: () => call<Record<string, unknown>>('preferences'), staleTime: Infinity });
  const value = (data?.[key] as Value | undefined) ?? fallback;
  const write = useCallback(
    (next: Value) => {
      client.setQueryData<Record<string, unknown>>(['preferences'], (before) => ({ ...before, [key]: next }));
      void call('preferences', { method: 'PUT', body: { key, value: next } });
    },
    [client, key],
  );
  return [value, write];
}
