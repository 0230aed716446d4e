'use client';

import { useQuery } from '@tanstack/react-query';
import { useView } from '../../lib/useView';
import { call, type ApiProblem } from '../../lib/api';

/** An outlet with what is at the other end of its wire. */
export interface OutletRow {
  id: number;
  site: string;
  label: string;
  room: string;
  panel: string;
  position: string;
  way: string;
  port: { deviceId: number; name: string } | null;
  note: string;
  device: string;
  admin: string;
  oper: string;
  duplex: string;
  pluggedIn: string;
  /** in which it was read; plans do not say */
  version?: number;
}

/** Where something is: its outlet, and the plans on which it stands. */
export interface Whereabouts {
  outlet: Pick<OutletRow, 'id' | 'site' | 'label' | 'room' | 'panel' | 'position'> | null;
  plans: { id: number; site: string; name: string; room: string; kind: 'device' | 'outlet'; markId: number }[];
}

export function useOutlets(enabled = true) {
  const { survey } = useView();
  return useQuery<OutletRow[], ApiProblem>({
    queryKey: ['outlets', survey],
    enabled,
    queryFn: async ({ signal }) => {
      const path = `outlets${survey ? `?survey=${survey}` : ''}`;
      const { rows, version } = await call<{ rows: OutletRow[]; version: number }>(path, { signal });
      return rows.map((row) => ({ ...row, version }));
    },
  });
}

/** @param what `port=12:7` or `device=12` */
export const useWhereabouts = (what: string) =>
  useQuery<Whereabouts, ApiProblem>({
    queryKey: ['where', what],
    queryFn: ({ signal }) => call<Whereabouts>(`plans/where?${what}`, { signal }),
  });
