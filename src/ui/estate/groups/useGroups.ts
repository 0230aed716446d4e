'use client';

import { useQuery } from '@tanstack/react-query';
import type { EstateGroup } from '@/core/groups/group';
import type { Maintenance, MaintenanceState } from '@/core/groups/maintenance';
import { call, type ApiProblem } from '../../lib/api';
import { useView } from '../../lib/useView';

/** A group as the list has it: how many rows it has at the moment viewed, and how many are named in it. */
export interface GroupRow extends Omit<EstateGroup, 'members'> {
  id: number;
  named: number;
  rows: number;
  mistake: string | null;
  /** in which it was read */
  version: number;
}

export type MaintenanceRow = Maintenance & { state: MaintenanceState; version: number };

interface Versioned<Row> {
  rows: Omit<Row, 'version'>[];
  version: number;
}

export function useGroups() {
  const { survey } = useView();
  return useQuery<GroupRow[], ApiProblem>({
    queryKey: ['groups', survey],
    queryFn: async () => {
      const { rows, version } = await call<Versioned<GroupRow>>(`groups${survey ? `?survey=${survey}` : ''}`);
      return rows.map((row) => ({ ...row, version }));
    },
  });
}

export function useMaintenance() {
  return useQuery<MaintenanceRow[], ApiProblem>({
    queryKey: ['maintenance'],
    queryFn: async () => {
      const { rows, version } = await call<Versioned<MaintenanceRow>>('maintenance');
      return rows.map((row) => ({ ...row, version }));
    },
  });
}
