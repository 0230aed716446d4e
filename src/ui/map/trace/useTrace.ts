import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Trace } from '@/core/trace/trace';
import { call, type ApiProblem } from '../../lib/api';

/** A trace, and what of it is lit on the map. */
export interface LitTrace {
  trace: Trace | undefined;
  problem: ApiProblem | null;
  pending: boolean;
  lit: { devices: ReadonlySet<number>; links: ReadonlySet<string> } | null;
}

export function useTrace(wanted: boolean, from: string | null, to: string | null, survey: string | null): LitTrace {
  const asks = wanted && Boolean(from?.trim()) && Boolean(to?.trim());
  const asked = new URLSearchParams({ from: from ?? '', to: to ?? '', ...(survey && { survey }) }).toString();
  const { data, error, isPending } = useQuery<Trace, ApiProblem>({
    queryKey: ['trace', asked],
    enabled: asks,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) => call(`trace?${asked}`, { signal }),
  });
  const trace = asks && !error ? data : undefined;
  const lit = useMemo(
    () =>
      trace
        ? {
            devices: new Set(trace.hops.map(({ deviceId }) => deviceId)),
            links: new Set(trace.hops.flatMap(({ link }) => link ?? [])),
          }
        : null,
    [trace],
  );
  return { trace, problem: asks ? error : null, pending: asks && isPending, lit };
}
