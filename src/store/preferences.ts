import { eq } from 'drizzle-orm';
import type { Db } from './base/database';
import { preference } from './base/schema';

export function readPreferences(db: Db, personId: number): Record<string, unknown> {
  return Object.fromEntries(
    db
      .select()
      .from(preference)
      .where(eq(preference.personId, personId))
      .all()
      .map(({ key, value }) => [key, value]),
  );
}

export function writePreference(db: Db, personId: number, key: string, value: unknown): void {
  db.insert(preference)
    .values({ personId, key, value })
    .onConflictDoUpdate({ target: [preference.personId, preference.key], set: { value } })
    .run();
}
