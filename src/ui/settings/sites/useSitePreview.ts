'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import { siteRuleMistakes, type SiteRule } from '@/core/sites/siteRules';
import { call, type ApiProblem } from '../../lib/api';
import { useMayEdit } from '../../lib/person';

/** What one rule gives. */
export interface RuleGives {
  devices: number;
  first: string[];
  sites: string[];
}

export interface SitePreview {
  rules: RuleGives[];
  byHand: number;
  without: { devices: number; first: string[] };
  changed: number;
  changes: { id: number; device: string; before: string; after: string }[];
}

/** What rules would give, while they are written; null while they cannot be asked. */
export function useSitePreview(rules: readonly SiteRule[]): SitePreview | null {
  const mayEdit = useMayEdit();
  const bare = rules.map(({ of, pattern, site }) => ({ of, pattern: pattern.trim(), site: site.trim() }));
  const asked = useDeferredValue(JSON.stringify(bare));
  const isRight = siteRuleMistakes(bare).length === 0;
  const { data } = useQuery<SitePreview, ApiProblem>({
    queryKey: ['sites', 'preview', asked],
    queryFn: ({ signal }) =>
      call('sites/preview', { method: 'POST', body: { rules: JSON.parse(asked) as SiteRule[] }, signal }),
    enabled: mayEdit && isRight,
    placeholderData: keepPreviousData,
  });
  return data ?? null;
}
