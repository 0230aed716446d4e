import type { Db } from './base/database';
import { maker } from './base/schema';

/** Puts makers in as a program brings them along: what people import goes through the log of edits. */
export function saveMakers(db: Db, makers: { prefix: string; name: string }[]): void {
  for (const { prefix, name } of makers)
    db.insert(maker)
      .values({ prefix: prefix.toLowerCase(), name })
      .onConflictDoUpdate({ target: maker.prefix, set: { name } })
      .run();
}

export function readMakers(db: Db): Map<string, string> {
  return new Map(
    db
      .select()
      .from(maker)
      .all()
      .map(({ prefix, name }) => [prefix, name]),
  );
}
