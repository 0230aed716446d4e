'use client';

import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { WatchedThing } from '@/core/watch/watchedChanges';
import { useView } from '../../lib/useView';
import { call, type ApiProblem } from '../../lib/api';

export interface WatchedRow {
  id: number;
  thing: WatchedThing;
  rowId: string;
  name: string;
  words: string;
  since: string;
  changes: string[];
  there: boolean;
}

/** What one watches, as it stands at the survey viewed. */
export function useWatches() {
  const { survey, against } = useView();
  const parameters = new URLSearchParams({ ...(survey && { survey }), ...(against && { against }) }).toString();
  return useQuery<WatchedRow[], ApiProblem>({
    queryKey: ['watches', parameters],
    queryFn: async () => (await call<{ rows: WatchedRow[] }>(`watches${parameters && `?${parameters}`}`)).rows,
  });
}

/** Begins to watch one thing, or ends it. */
export function useWatch(thing: WatchedThing, rowId: string) {
  const client = useQueryClient();
  const watched = useWatches().data?.find((one) => one.thing === thing && one.rowId === rowId);
  const turn = useMutation<unknown, ApiProblem>({
    mutationFn: () =>
      watched
        ? call(`watches/${watched.id}`, { method: 'DELETE' })
        : call('watches', { method: 'POST', body: { thing, id: rowId } }),
    onSettled: () => client.invalidateQueries({ queryKey: ['watches'] }),
  });
  return { watched, turn };
}
