'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import type { EstateGroup } from '@/core/groups/group';
import type { Maintenance, MaintenanceState } from '@/core/groups/maintenance';
import { useView } from '../../lib/useView';
import { call, type ApiProblem } from '../../lib/api';

/** A group as the list has it: how many rows it has at the moment viewed, and how many are named in it. */
export interface GroupRow extends Omit<EstateGroup, 'members'> {
  id: number;
  named: number;
  rows: number;
  mistake: string | null;
}

export type MaintenanceRow = Maintenance & { state: MaintenanceState };

export function useGroups() {
  const { survey } = useView();
  return useQuery<GroupRow[], ApiProblem>({
    queryKey: ['groups', survey],
    queryFn: async () => (await call<{ rows: GroupRow[] }>(`groups${survey ? `?survey=${survey}` : ''}`)).rows,
  });
}

export function useMaintenance() {
  return useQuery<MaintenanceRow[], ApiProblem>({
    queryKey: ['maintenance'],
    queryFn: async () => (await call<{ rows: MaintenanceRow[] }>('maintenance')).rows,
  });
}

/** Groups and maintenance are fields of rows: what shows rows may be another now. */
export function useGroupsWritten(): () => Promise<void> {
  const client = useQueryClient();
  return useCallback(async () => {
    await Promise.all(
      ['groups', 'maintenance', 'thing', 'dossier', 'one', 'today', 'checks'].map((key) =>
        client.invalidateQueries({ queryKey: [key] }),
      ),
    );
  }, [client]);
}
