'use client';

import { useQuery } from '@tanstack/react-query';
import { call, type ApiProblem } from '../../lib/api';
import type { SavedScope, ShownCredential } from './savedRows';

export const useScopes = () =>
  useQuery<SavedScope[], ApiProblem>({
    queryKey: ['scopes'],
    queryFn: async () => {
      const { rows, version } = await call<{ rows: Omit<SavedScope, 'version'>[]; version: number }>('scopes');
      return rows.map((row) => ({ ...row, version }));
    },
  });

export const useCredentials = (enabled: boolean) =>
  useQuery<ShownCredential[], ApiProblem>({
    queryKey: ['credentials'],
    queryFn: async () => {
      const { rows, version } = await call<{ rows: Omit<ShownCredential, 'version'>[]; version: number }>(
        'credentials',
      );
      return rows.map((row) => ({ ...row, version }));
    },
    enabled,
  });
