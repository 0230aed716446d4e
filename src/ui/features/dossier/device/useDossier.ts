'use client';

import { call, type ApiProblem } from '../../../lib/api';
import { type Dossier } from './dossierTypes';
import { useView } from '../../../lib/useView';
import { useQuery, useQueryClient } from '@tanstack/react-query';

const dossierQuery = (id: string | null, survey: string | null) => ({
  queryKey: ['dossier', id, survey],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    call<Dossier>(`devices/${id}${survey ? `?survey=${survey}` : ''}`, { signal }),
});

export function useDossier(id: string | null) {
  const { survey } = useView();
  return useQuery<Dossier, ApiProblem>({ ...dossierQuery(id, survey), enabled: id !== null });
}

/** Asks for a dossier at once, before the page is drawn anew for it. */
export function useDossierAhead() {
  const client = useQueryClient();
  const { survey } = useView();
  return (id: string) => void client.prefetchQuery({ ...dossierQuery(id, survey), staleTime: 60_000 });
}
