'use client';

import { useQueries, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import { filterOfGroup } from '@/core/things/grouping';
import type { ThingName } from '@/core/things/things';
import type { ThingRequest, ThingRow } from '../../lib/api';
import type { Line, Lines } from './lines';
import { pageQuery, pageSize, type useFirstPage } from './thingPages';

/** The first page of all rows came with the counts. */
const firstKey = '1 ';

interface TableQuestion {
  thing: ThingName;
  request: ThingRequest;
  sort: string;
  group: string[];
}

/** The rows of a table's lines: only the pages in sight are asked for, those within groups by the filter of their group. */
export function useTableRows(
  { thing, request, sort, group }: TableQuestion,
  first: ReturnType<typeof useFirstPage>,
  lines: Lines,
  inSight: readonly { index: number }[],
) {
  const client = useQueryClient();
  const by = useMemo(() => group.map((name) => ({ name })), [group]);
  const keyOf = (line: Line & { kind: 'row' }) =>
    `${Math.floor(line.at / pageSize) + 1} ${line.path.length > 0 ? filterOfGroup(by, line.path) : ''}`;
  const pages = useMemo(() => {
    const wanted = new Set(
      inSight.flatMap(({ index }) => {
        const line = lines.at(index);
        return line?.kind === 'row' ? [keyOf(line)] : [];
      }),
    );
    wanted.delete(firstKey);
    return [...wanted];
    // oxlint-disable-next-line react/exhaustive-deps
  }, [inSight, lines, by]);
  const queryOf = (key: string) => {
    const at = key.indexOf(' ');
    const within = key.slice(at + 1);
    const where = request.where ?? '';
    return pageQuery(thing, {
      ...request,
      where: within ? [where && `(${where})`, within].filter(Boolean).join(' ') : where,
      sort,
      page: Number(key.slice(0, at)),
      size: pageSize,
    });
  };
  const others = useQueries({ queries: pages.map(queryOf) });
  const rowOf = (line: Line | undefined): ThingRow | undefined => {
    if (line?.kind !== 'row') return undefined;
    const key = keyOf(line);
    const answer = key === firstKey ? first.data : others[pages.indexOf(key)]?.data;
    return answer?.rows[line.at % pageSize];
  };
  return {
    /** the row of a line in sight, once its page is there */
    rowAt: (index: number) => rowOf(lines.at(index)),
    /** also of a line that is not in sight */
    rowFor: async (index: number): Promise<ThingRow | undefined> => {
      const line = lines.at(index);
      if (line?.kind !== 'row') return undefined;
      return (
        rowOf(line) ??
        (await client.fetchQuery({ ...queryOf(keyOf(line)), staleTime: 60_000 })).rows[line.at % pageSize]
      );
    },
  };
}
