'use client';

import { useQuery } from '@tanstack/react-query';
import { exampleFields, exampleWith } from '@/core/filter/example';
import type { ThingName } from '@/core/things/things';
import { call, thingPath, type ThingPage } from '../../lib/api';

/** A hint whose `{field}` stand for values that most rows have: an example that finds something here. */
export function useExample(thing: ThingName, hint: string): string {
  const fields = [...new Set(exampleFields(hint))];
  const { data } = useQuery({
    queryKey: ['example', thing, fields.join()],
    queryFn: () => call<ThingPage>(thingPath(thing, { size: 1, count: fields })),
    enabled: fields.length > 0,
    staleTime: Infinity,
    retry: false,
  });
  const values = new Map(
    fields.flatMap((field) => {
      const most = data?.shares?.[field]?.find(({ value }) => value !== '');
      return most ? [[field, most.value] as const] : [];
    }),
  );
  return exampleWith(hint, values);
}
