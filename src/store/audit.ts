import { and, desc, lt, sql } from 'drizzle-orm';
import type { Db } from './base/database';
import { audit } from './base/schema';

export function recordAct(db: Db, who: string, act: string, subject: string): void {
  db.insert(audit).values({ at: new Date().toISOString(), who, act, subject }).run();
}

export interface Act {
  id: number;
  at: string;
  who: string;
  act: string;
  subject: string;
}

/** What was done, newest first: what holds a text anywhere, older than an act. */
export function listActs(
  db: Db,
  { text, before, most }: { text: string; before: number | null; most: number },
): { rows: Act[]; total: number } {
  const fits = and(
    ...text
      .split(/\s+/)
      .filter(Boolean)
      .map(
        (word) =>
          sql`instr(lower(${audit.at} || ' ' || ${audit.who} || ' ' || ${audit.act} || ' ' || ${audit.subject}), lower(${word})) > 0`,
      ),
  );
  const rows = db
    .select()
    .from(audit)
    .where(before === null ? fits : and(fits, lt(audit.id, before)))
    .orderBy(desc(audit.id))
    .limit(most)
    .all();
  return {
    rows,
    total:
      db
        .select({ count: sql<number>`count(*)` })
        .from(audit)
        .where(fits)
        .get()?.count ?? 0,
  };
}
