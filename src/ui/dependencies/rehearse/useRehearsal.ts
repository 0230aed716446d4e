import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { ThingKind } from '@/core/dependency/graph';
import { call, type ApiProblem } from '../../lib/api';

export interface NamedThing {
  kind: ThingKind;
  id: string;
  name: string;
}

export interface LostThing extends NamedThing {
  why: string;
}

/** What an outage would cost, as the API tells it; endpoints counted, not named. */
export interface Rehearsal {
  survey: number;
  chosen: NamedThing[];
  cut: { port: string; name: string }[];
  lost: LostThing[];
  degraded: (LostThing & { spare: string })[];
  people: { application: string; id: string; criticality: string; owner: string; contacts: string[]; lost: boolean }[];
  endpoints: { site: string; vlan: string; lost: number }[];
  untouched: Record<'devices' | 'endpoints' | 'machines' | 'services' | 'applications', number>;
}

/** A rehearsal of what is named; nothing while nothing is. */
export function useRehearsal(tokens: string[], survey: string | null) {
  const down = tokens.join(',');
  return useQuery<Rehearsal, ApiProblem>({
    queryKey: ['rehearsal', down, survey],
    enabled: tokens.length > 0,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      call(`rehearsal?${new URLSearchParams({ down, endpoints: 'no', ...(survey && { survey }) }).toString()}`, {
        signal,
      }),
  });
}
