'use client';

import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import type { PlanLayout } from '@/core/floor/floorPlan';
import { useView } from '../../lib/useView';
import { call, type ApiProblem } from '../../lib/api';
import type { OutletRow } from '../../features/outlets/useOutlets';

export interface ListedPlan {
  id: number;
  site: string;
  name: string;
  rooms: number;
  marks: number;
  revision: number;
}

/** A plan and how what stands on it is at the survey viewed. */
export interface FloorPlan {
  plan: {
    id: number;
    site: string;
    name: string;
    width: number;
    height: number;
    layout: PlanLayout;
    revision: number;
    changedAt: string;
    changedBy: string;
  };
  devices: { id: number; name: string; role: string; state: string; model: string }[];
  outlets: OutletRow[];
}

export const useFloorPlans = () =>
  useQuery<ListedPlan[], ApiProblem>({
    queryKey: ['plans'],
    queryFn: async ({ signal }) => (await call<{ rows: ListedPlan[] }>('plans', { signal })).rows,
  });

export function useFloorPlan(id: number | null) {
  const { survey } = useView();
  return useQuery<FloorPlan, ApiProblem>({
    queryKey: ['plan', id, survey],
    enabled: id !== null,
    placeholderData: (before) => (before?.plan.id === id ? keepPreviousData(before) : undefined),
    queryFn: ({ signal }) => call<FloorPlan>(`plans/${id ?? 0}${survey ? `?survey=${survey}` : ''}`, { signal }),
  });
}

/** Plans, dossiers and tables tell of rooms. */
export function usePlansWritten(): () => Promise<void> {
  const client = useQueryClient();
  return useCallback(async () => {
    await Promise.all(
      ['plans', 'plan', 'where', 'thing', 'dossier'].map((key) => client.invalidateQueries({ queryKey: [key] })),
    );
  }, [client]);
}
