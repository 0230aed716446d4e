'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import type { Check } from '@/core/checks/check';
import { useView } from '../../lib/useView';
import { call, type ApiProblem } from '../../lib/api';

export interface CheckRow extends Check {
  id: string;
  origin: 'library' | 'changed' | 'own';
  /** the rule within its scope */
  filter: string;
  /** null where it was not judged at the survey */
  failing: number | null;
  excused: number | null;
  fault: string;
  failingSince: number | null;
  history: { survey: number; failing: number; excused: number }[];
}

export function useChecks() {
  const { survey } = useView();
  return useQuery<CheckRow[], ApiProblem>({
    queryKey: ['checks', survey],
    queryFn: async () => (await call<{ rows: CheckRow[] }>(`checks${survey ? `?survey=${survey}` : ''}`)).rows,
  });
}

export function useChecksWritten(): () => Promise<void> {
  const client = useQueryClient();
  return useCallback(() => client.invalidateQueries({ queryKey: ['checks'] }), [client]);
}

/** What of a check is written back when a part of it changes. */
export const bodyOf = ({ name, thing, where, scope, severity, why, remedy, on }: Check): Omit<Check, 'key'> => ({
  name,
  thing,
  where,
  scope,
  severity,
  why,
  remedy,
  on,
});
