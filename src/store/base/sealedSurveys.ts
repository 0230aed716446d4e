import { sql } from 'drizzle-orm';
import type { Db } from './database';
import { survey } from './schema';

/** Number of the newest survey that is sealed, or 0. */
export function latestSealed(db: Db): number {
  return (
    db
      .select({ id: sql<number>`coalesce(max(${survey.id}), 0)` })
      .from(survey)
      .where(sql`${survey.sealedAt} is not null`)
      .get()?.id ?? 0
  );
}
