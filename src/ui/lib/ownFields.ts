'use client';

import { useQuery } from '@tanstack/react-query';
import { useCallback } from 'react';
import { withOwnFields } from '@/core/own/ownField';
import type { ThingField } from '@/core/things/thing';
import type { ThingName } from '@/core/things/things';
import { call } from './api';
import { usePerson, type KeptOwnField } from './person';

const none: KeptOwnField[] = [];

/** Fields that people fill in, beside those that equipment tells. */
export function useOwnFields(): KeptOwnField[] {
  const { fields } = usePerson();
  const { data } = useQuery({
    queryKey: ['fields'],
    queryFn: async () => (await call<{ rows: KeptOwnField[] }>('fields')).rows,
    staleTime: Infinity,
    ...(fields && { initialData: fields }),
  });
  return data ?? none;
}

export type FieldsOf = (thing: ThingName) => ThingField[];

/** All fields of each thing, own ones too. */
export function useFieldsOf(): FieldsOf {
  const own = useOwnFields();
  return useCallback((thing) => withOwnFields(thing, own), [own]);
}
