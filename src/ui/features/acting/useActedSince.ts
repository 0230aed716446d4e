'use client';

import { sealedOf, useSurveys } from '../../lib/useSurveys';
import { useView } from '../../lib/useView';
import { usePortActs, type PortActRow } from './usePortActs';

/** What somebody did to the state of a port since the newest survey saw it; null where nobody did, or an earlier survey is looked at. */
export function useActedSince(port: string): PortActRow | null {
  const { survey } = useView();
  const newest = sealedOf(useSurveys().data).at(-1);
  const acts = usePortActs(port).data ?? [];
  if (survey !== null && survey !== String(newest?.id)) return null;
  const isOfState = ({ act, state, at }: PortActRow) =>
    (act.kind === 'shut' || act.kind === 'enable') && state === 'done' && at > (newest?.sealedAt ?? '');
  return acts.find(isOfState) ?? null;
}
