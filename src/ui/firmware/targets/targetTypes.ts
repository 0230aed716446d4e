import type { Verdict } from '@/core/firmware/readiness';
import type { ReleaseTarget } from '@/core/firmware/target';

/** A target, with how those it is for stand to it. */
export interface StandingTarget extends ReleaseTarget {
  key: string;
  counts: { verdict: Verdict; count: number }[];
  total: number;
  findings: string[];
}

/** What a draft would change. */
export interface DraftDifference {
  counts: { verdict: Verdict; before: number; after: number }[];
  changes: {
    id: string;
    deviceId: number;
    device: string;
    component: string;
    current: string;
    before: { target: string; verdict: Verdict } | null;
    after: { target: string; verdict: Verdict };
    why: string;
  }[];
  changed: number;
}

/** What a target is for, as the API takes it. */
export const placeOf = ({ vendor, family, component, group, model, where, draft }: ReleaseTarget) => ({
  vendor,
  family,
  component,
  group,
  model,
  where,
  draft,
});
