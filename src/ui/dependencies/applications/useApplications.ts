import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { Application, Member, MemberRule, MemberVerdict } from '@/core/applications/application';
import { memberKey } from '@/core/applications/application';
import type { Assembled } from '@/core/applications/assemble';
import { useWritten } from '../../features/edits/useWritten';
import { call, type ApiProblem } from '../../lib/api';

export type KeptApplication = Application & { id: number };

export const useApplications = () =>
  useQuery<{ rows: KeptApplication[]; version: number }, ApiProblem>({
    queryKey: ['application-rules'],
    queryFn: ({ signal }) => call('application-rules', { signal }),
  });

/** What an application is made of, and what its next round may bring. */
export const useRound = (id: number | null, survey: string | null) =>
  useQuery<Assembled, ApiProblem>({
    queryKey: ['round', id, survey],
    enabled: id !== null,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => call(`applications/${id}/round${survey ? `?survey=${survey}` : ''}`, { signal }),
  });

/** Rules with one more said of a member; what was said of it before is taken the place of. Null takes it away. */
export function withVerdict(rules: readonly MemberRule[], member: Member, verdict: MemberVerdict | null): MemberRule[] {
  const key = memberKey(member);
  const rest = rules.filter((rule) => memberKey(rule.member) !== key);
  return verdict === null ? rest : [...rest, { member, verdict }];
}

/** Writes an application as it is to be. */
export function useSaveApplication(): (application: KeptApplication, version: number) => Promise<void> {
  const written = useWritten();
  return async ({ id, ...application }, version) => {
    await call(`applications/${id}`, { method: 'PUT', body: application, seen: version });
    await written();
  };
}
