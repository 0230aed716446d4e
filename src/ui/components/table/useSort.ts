'use client';

import { useEffect, useRef, useState } from 'react';
import type { ThingName } from '@/core/things/things';
import { cameBackHere } from '../../lib/address';
import { useFieldsOf } from '../../lib/ownFields';
import { usePreference } from '../../lib/usePreference';
import { useView } from '../../lib/useView';

/** In which order a table stands: as its address says, or as the person had it last, which the address then says too. */
export function useSort(thing: ThingName): { sort: string; onSort: (next: (sort: string) => string) => void } {
  const view = useView();
  const [kept, keep] = usePreference(`sort.${thing}`, '');
  const usesKept = useUsesKept(thing, view.sort);
  // presses that follow each other quickly all count
  const latest = useRef('');
  const fields = useFieldsOf()(thing);
  // a field that is out of use sorts nothing any more
  const isKnown = (part: string) => fields.some(({ name }) => name === part.replace(/^-/, ''));
  const unsaid = view.sort === '' && usesKept ? kept.split(',').filter(isKnown).join(',') : '';
  latest.current = unsaid;
  const { say } = view;
  useEffect(() => {
    if (unsaid !== '') say({ sort: unsaid });
  }, [unsaid, say]);
  return {
    sort: view.sort || unsaid,
    onSort: (next) =>
      view.set((now) => {
        const sort = next(now('sort') || latest.current);
        latest.current = sort;
        keep(sort);
        return { sort };
      }),
  };
}

/** Whether what the person had last counts where the address says nothing: not where they went back to, where it was so before. */
function useUsesKept(thing: ThingName, sort: string): boolean {
  const [of, setOf] = useState(() => ({ thing, sort, uses: !isBack() }));
  if (of.thing === thing && of.sort === sort) return of.uses;
  const uses = of.thing === thing ? of.uses && !isBack() : !isBack();
  setOf({ thing, sort, uses });
  return uses;
}
const isBack = (): boolean => typeof window !== 'undefined' && cameBackHere();
