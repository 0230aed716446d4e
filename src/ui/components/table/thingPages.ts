'use client';

import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import type { ThingName } from '@/core/things/things';
import { call, thingPath, type ApiProblem, type ThingPage, type ThingRequest } from '../../lib/api';

export const pageSize = 100;
const none: string[] = [];

/** How a page of a thing is asked for: what was shown stays until it is there, and an application that cannot be reached is asked again. */
export function pageQuery(thing: ThingName, request: ThingRequest) {
  const path = thingPath(thing, request);
  return {
    queryKey: ['thing', path],
    queryFn: ({ signal }: { signal: AbortSignal }) => call<ThingPage>(path, { signal }),
    placeholderData: keepPreviousData,
    retry: retryUnlessRefused,
  };
}

const retryUnlessRefused = (count: number, error: ApiProblem) => error.status === 0 && count < 20;

/** The page a table begins with, and the counts beside it: one request for both, however many ask. */
export function useFirstPage(
  thing: ThingName,
  request: ThingRequest,
  sort: string,
  count: string[] = none,
  enabled = true,
) {
  return useThingPage(thing, { ...request, sort, page: 1, size: pageSize, count }, enabled);
}

/** Sends the question for a first page at once, before the page is drawn anew for it. */
export function useAskAhead() {
  const client = useQueryClient();
  return (thing: ThingName, request: ThingRequest, sort: string, count: string[] = none) =>
    void client.prefetchQuery(pageQuery(thing, { ...request, sort, page: 1, size: pageSize, count }));
}

/** One page of a thing. */
export function useThingPage(thing: ThingName, request: ThingRequest, enabled = true) {
  return useQuery<ThingPage, ApiProblem>({ ...pageQuery(thing, request), enabled });
}
