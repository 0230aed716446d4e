'use client';

import { useQuery } from '@tanstack/react-query';
import type { Check } from '@/core/checks/check';
import { useView } from '../../lib/useView';
import { call, type ApiProblem } from '../../lib/api';

export interface CheckRow extends Check {
  id: string;
  /** in which it was read */
  version: number;
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
    queryFn: async () => {
      const path = `checks${survey ? `?survey=${survey}` : ''}`;
      const { rows, version } = await call<{ rows: Omit<CheckRow, 'version'>[]; version: number }>(path);
      return rows.map((row) => ({ ...row, version }));
    },
  });
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
