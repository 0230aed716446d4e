'use client';

import { useQuery } from '@tanstack/react-query';
import { call } from './api';

export interface SurveyRow {
  id: number;
  scopeName: string;
  /** the survey it is compared with where nobody says otherwise */
  comparedWith: number | null;
  state: 'running' | 'sealed' | 'cancelled' | 'failed';
  startedAt: string;
  sealedAt: string | null;
  asked: number;
  summary: {
    seconds: number;
    changes?: number;
    addresses: { asked: number; answered: number; silent: number };
    devices: { found: number; new: number; changed: number; replaced: number; silent: number };
    phases: Record<string, number>;
    askedAgain?: { machines: number; heard: number };
    failures: { address: string; part: string; reason: string; remedy: string }[];
  } | null;
}

interface SurveyList {
  rows: SurveyRow[];
  total: number;
  /** why nothing would be surveyed, in words; null where it would */
  stopped: string | null;
  /** those that wait for the one at work, the next first */
  waiting: { jobId: number; words: string }[];
  active: {
    jobId: number;
    state: string;
    surveyId: number | null;
    progress: { asked: number; done: number; secondsLeft: number | null } | null;
  } | null;
}

/** All surveys, newest first, and what runs now. Asked again now and then, more often while one runs. */
export function useSurveys() {
  return useQuery({
    queryKey: ['surveys'],
    queryFn: () => call<SurveyList>('surveys'),
    refetchInterval: (query) => (query.state.data?.active ? 700 : 15_000),
  });
}

/** Sealed surveys, oldest first. */
export function sealedOf(list: SurveyList | undefined): SurveyRow[] {
  return (list?.rows ?? []).filter(({ sealedAt }) => sealedAt !== null).reverse();
}
