import { asc, eq, lte, sql } from 'drizzle-orm';
import type { Check, Judgement, Severity } from '../core/checks/check';
import { checkLibrary } from '../core/checks/library';
import type { ThingName } from '../core/things/things';
import { inTransaction, type Db } from './base/database';
import { checkResult, checkRule } from './base/schema';

export type KeptCheck = Check & {
  /** whether it is of the library, and whether somebody changed it */ origin: 'library' | 'changed' | 'own';
};

/** All checks: those of the library, as they were changed, then one's own. */
export function readChecks(db: Db): KeptCheck[] {
  const rules = new Map(
    db
      .select()
      .from(checkRule)
      .orderBy(asc(checkRule.name))
      .all()
      .map((row) => [row.key, checkAlone(row)]),
  );
  const library = checkLibrary.map((check): KeptCheck => {
    const changed = rules.get(check.key);
    rules.delete(check.key);
    return changed ? { ...changed, origin: 'changed' } : { ...check, origin: 'library' };
  });
  return [...library, ...Array.from(rules.values(), (rule): KeptCheck => ({ ...rule, origin: 'own' }))];
}

/** A rule as it is written. */
export const checkAlone = (row: typeof checkRule.$inferSelect): Check => ({
  ...row,
  thing: row.thing as ThingName,
  severity: row.severity as Severity,
});

export function newCheckKey(db: Db): string {
  const last =
    db
      .select({ last: sql<number>`coalesce(max(cast(substr(key, 5) as integer)), 0)` })
      .from(checkRule)
      .where(sql`key like 'own-%'`)
      .get()?.last ?? 0;
  return `own-${last + 1}`;
}

export function saveCheck(db: Db, check: Check): void {
  const { key, ...values } = check;
  db.insert(checkRule)
    .values({ key, ...values })
    .onConflictDoUpdate({ target: checkRule.key, set: values })
    .run();
}

/** Takes a check of one's own away; one of the library is as it was at first. */
export function forgetCheck(db: Db, key: string): void {
  db.delete(checkRule).where(eq(checkRule.key, key)).run();
  if (!checkLibrary.some((check) => check.key === key)) db.delete(checkResult).where(eq(checkResult.key, key)).run();
}

/** How checks stood, oldest first. @param survey at this one only */
export function readJudgements(db: Db, survey?: number): Judgement[] {
  return db
    .select()
    .from(checkResult)
    .where(survey === undefined ? undefined : eq(checkResult.surveyId, survey))
    .orderBy(asc(checkResult.surveyId))
    .all()
    .map(({ surveyId, ...rest }) => ({ ...rest, survey: surveyId }));
}

/** How many rows failed each check when it was judged last up to a survey, by its key. */
export function failingBefore(db: Db, survey: number): Map<string, number> {
  // of the row that holds the largest number (SQLite: bare columns beside max)
  const rows = db
    .select({ key: checkResult.key, failing: checkResult.failing, last: sql<number>`max(${checkResult.surveyId})` })
    .from(checkResult)
    .where(lte(checkResult.surveyId, survey))
    .groupBy(checkResult.key)
    .all();
  return new Map(rows.map(({ key, failing }) => [key, failing]));
}

export function recordJudgements(db: Db, judgements: Judgement[]): void {
  if (judgements.length === 0) return;
  inTransaction(db, () => {
    for (const { survey: surveyId, key, ...values } of judgements) {
      db.insert(checkResult)
        .values({ key, surveyId, ...values })
        .onConflictDoUpdate({ target: [checkResult.key, checkResult.surveyId], set: values })
        .run();
    }
  });
}
