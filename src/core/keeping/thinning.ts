/** A survey as far as it matters which are kept. */
export interface ThinnedBy {
  id: number;
  scope: string;
  startedAt: string;
  /** cut short, so that it stands for nothing */
  isCutShort: boolean;
}

const dayMs = 86_400_000;

/** Weeks begin on Monday (ISO 8601); numbered from the first one of 1970. */
const weekOf = (moment: string): number => Math.floor((Date.parse(moment) / dayMs + 3) / 7);

/**
 * Which surveys may go: of those older than all are kept, each scope keeps the last of every week that was not cut short. The first and the newest of a scope stay.
 * @param surveys the sealed ones, oldest first
 * @param allDays for so many days all are kept
 * @returns their numbers, oldest first
 */
export function thinnable(surveys: readonly ThinnedBy[], allDays: number, now: Date): number[] {
  const border = now.getTime() - allDays * dayMs;
  const kept = new Set<number>();
  const byScope = new Map<string, ThinnedBy[]>();
  for (const survey of surveys) byScope.set(survey.scope, [...(byScope.get(survey.scope) ?? []), survey]);
  for (const own of byScope.values()) {
    for (const end of [own[0], own.at(-1)]) if (end) kept.add(end.id);
    const lastOfWeek = new Map<number, ThinnedBy>();
    for (const survey of own) {
      const before = lastOfWeek.get(weekOf(survey.startedAt));
      if (!before || !survey.isCutShort || before.isCutShort) lastOfWeek.set(weekOf(survey.startedAt), survey);
    }
    for (const { id } of lastOfWeek.values()) kept.add(id);
  }
  return surveys.filter(({ id, startedAt }) => Date.parse(startedAt) < border && !kept.has(id)).map(({ id }) => id);
}
