import { eq } from 'drizzle-orm';
import { advisoryKey, type Advisory } from '../core/firmware/advisories/advisory';
import type { Db } from './base/database';
import { advisory } from './base/schema';

/** What makers say is wrong with their releases, the latest first. */
export const readAdvisories = (db: Db): Advisory[] =>
  db
    .select()
    .from(advisory)
    .all()
    .map(({ body }) => body as Advisory)
    .sort((x, y) => (x.published < y.published ? 1 : x.published > y.published ? -1 : x.number < y.number ? -1 : 1));

export function readAdvisoryOf(db: Db, key: string): Advisory | null {
  const row = db.select().from(advisory).where(eq(advisory.key, key)).get();
  return row ? (row.body as Advisory) : null;
}

export function saveAdvisory(db: Db, body: Advisory): void {
  const takenAt = new Date().toISOString();
  db.insert(advisory)
    .values({ key: advisoryKey(body), body, takenAt })
    .onConflictDoUpdate({ target: advisory.key, set: { body, takenAt } })
    .run();
}

export function deleteAdvisory(db: Db, key: string): void {
  db.delete(advisory).where(eq(advisory.key, key)).run();
}
