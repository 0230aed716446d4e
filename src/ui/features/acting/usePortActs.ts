'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { PlannedSet, PortAct, PortActState, PortSettings } from '@/core/acting/portAct';
import type { Hanging } from '@/core/acting/portGuard';
import { call, type ApiProblem } from '../../lib/api';

/** What somebody did to a port. */
export interface PortActRow {
  id: number;
  at: string;
  who: string;
  act: PortAct;
  state: PortActState;
  seen: PortSettings;
  after: PortSettings | null;
  sent: (PlannedSet & { at: string })[];
  reason: string;
  remedy: string;
  undoneBy?: number | null;
}

export interface HangingThere extends Hanging {
  device: string;
  port: string;
}

/** What a look at a port came to: how it is now, or why nothing can be done. */
export type PortLook = { settings: PortSettings; credential: string } | { reason: string; remedy: string };

const pollMs = 150;
const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));

/** Acts on a port, newest first. */
export function usePortActs(port: string) {
  return useQuery<PortActRow[], ApiProblem>({
    queryKey: ['acts', port],
    queryFn: async ({ signal }) =>
      (await call<{ rows: PortActRow[] }>(`acts?port=${encodeURIComponent(port)}`, { signal })).rows,
    refetchInterval: (query) =>
      query.state.data?.some(({ state }) => state === 'queued' || state === 'sending') ? 1000 : false,
  });
}

/** Asks the device how a port is now, and what hangs on it. */
export async function lookAtPort(port: string): Promise<{ there: HangingThere; look: PortLook }> {
  const { jobId, there } = await call<{ jobId: number; there: HangingThere }>('acts/look', {
    method: 'POST',
    body: { port },
  });
  for (;;) {
    const job = await call<{ state: string; error: string | null; result: PortLook | null }>(`jobs/${jobId}`);
    if (job.state === 'failed')
      return { there, look: { reason: job.error ?? 'the look failed', remedy: 'Try again.' } };
    if (job.result) return { there, look: job.result };
    await pause(pollMs);
  }
}

/** Lets an act be done, and tells how it goes until it is over. */
export function useSendPortAct(port: string) {
  const client = useQueryClient();
  return async (
    body: { act: PortAct; seen: PortSettings; name?: string; force?: boolean; undoes?: number },
    going: (row: PortActRow) => void,
  ): Promise<PortActRow> => {
    const { actId } = await call<{ actId: number }>('acts', { method: 'POST', body: { port, ...body } });
    try {
      for (;;) {
        const row = await call<PortActRow>(`acts/${actId}`);
        going(row);
        if (row.state !== 'queued' && row.state !== 'sending') return row;
        await pause(pollMs);
      }
    } finally {
      await client.invalidateQueries({ queryKey: ['acts'] });
    }
  };
}
