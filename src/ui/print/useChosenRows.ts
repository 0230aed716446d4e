'use client';

import { useQuery } from '@tanstack/react-query';
import type { ThingName } from '@/core/things/things';
import { useView } from '../lib/useView';
import { call, thingPath, type ApiProblem, type ThingPage, type ThingRow } from '../lib/api';
import { useMarkedRows } from '../components/table/markedRows';
import { useFirstRows } from './useFirstRows';

const rowsAtOnce = 1000;

/** Rows of a table as the address of the page names them, or, where a person has marked any, only those. */
export function useChosenRows(
  thing: ThingName,
  most: number,
  onlyMarked: boolean,
): { rows: ThingRow[] | undefined; total: number; marked: number; error: ApiProblem | null } {
  const view = useView();
  const { marked } = useMarkedRows(thing);
  const request = { survey: view.survey, where: view.where, sort: view.sort, first: useFirstRows() };
  const { data, error } = useQuery<{ rows: ThingRow[]; total: number }, ApiProblem>({
    queryKey: ['print', thing, request, most, onlyMarked ? [...marked] : null],
    queryFn: async ({ signal }) => {
      const rows: ThingRow[] = [];
      for (let page = 1; ; page++) {
        const next = await call<ThingPage>(thingPath(thing, { ...request, page, size: rowsAtOnce }), { signal });
        rows.push(...next.rows.filter(({ id }) => !onlyMarked || marked.has(id)));
        if (next.rows.length < rowsAtOnce || rows.length >= most)
          return { rows: rows.slice(0, most), total: onlyMarked ? rows.length : next.total };
      }
    },
  });
  return { rows: data?.rows, total: data?.total ?? 0, marked: marked.size, error };
}
