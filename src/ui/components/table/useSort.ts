'use client';

import { useRef } from 'react';
import type { ThingName } from '@/core/things/things';
import { useFieldsOf } from '../../lib/ownFields';
import { usePreference } from '../../lib/usePreference';
import { useView } from '../../lib/useView';

/** In which order a table stands: as its address says, or else as the person had it last. */
export function useSort(thing: ThingName): { sort: string; onSort: (next: (sort: string) => string) => void } {
  const view = useView();
  const [kept, keep] = usePreference(`sort.${thing}`, '');
  // presses that follow each other quickly all count
  const latest = useRef(kept);
  latest.current = kept;
  const fields = useFieldsOf()(thing);
  // a field that is out of use sorts nothing any more
  const isKnown = (part: string) => fields.some(({ name }) => name === part.replace(/^-/, ''));
  return {
    sort: view.sort || kept.split(',').filter(isKnown).join(','),
    onSort: (next) =>
      view.set((now) => {
        const sort = next(now('sort') || latest.current);
        latest.current = sort;
        keep(sort);
        return { sort };
      }),
  };
}
