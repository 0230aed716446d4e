import { and, asc, eq, or } from 'drizzle-orm';
import type { Db } from './base/database';
import { person, savedView } from './base/schema';

export interface SavedView {
  id: number;
  name: string;
  /** of the workspace: `/estate` */
  path: string;
  /** as it stands in the address behind the question mark */
  query: string;
  shared: boolean;
  savedAt: string;
  /** whose it is */
  by: string;
  own: boolean;
}

/** One's own views and those that others share, by name. */
export function viewsFor(db: Db, personId: number): SavedView[] {
  return db
    .select({ view: savedView, by: person.name })
    .from(savedView)
    .innerJoin(person, eq(savedView.personId, person.id))
    .where(or(eq(savedView.personId, personId), eq(savedView.shared, true)))
    .orderBy(asc(savedView.name))
    .all()
    .map(({ view: { personId: owner, ...view }, by }) => ({ ...view, by, own: owner === personId }));
}

/** Saves a view; one's own of the same name on the same page is taken the place of. */
export function saveView(
  db: Db,
  personId: number,
  { name, path, query, shared }: Pick<SavedView, 'name' | 'path' | 'query' | 'shared'>,
  now = new Date(),
): number {
  const values = { query, shared, savedAt: now.toISOString() };
  return db
    .insert(savedView)
    .values({ personId, name, path, ...values })
    .onConflictDoUpdate({ target: [savedView.personId, savedView.path, savedView.name], set: values })
    .returning({ id: savedView.id })
    .get().id;
}

/** @param others whether it may be somebody else's, where that is shared @returns its name, or null where there is none that may be deleted */
export function deleteView(db: Db, id: number, personId: number, others: boolean): string | null {
  const mine = eq(savedView.personId, personId);
  return (
    db
      .delete(savedView)
      .where(and(eq(savedView.id, id), others ? or(mine, eq(savedView.shared, true)) : mine))
      .returning({ name: savedView.name })
      .get()?.name ?? null
  );
}
