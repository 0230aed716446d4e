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

/** A saved view as it is kept, with whose it is. */
export type KeptView = Omit<typeof savedView.$inferSelect, 'id'>;

export function viewNumbered(db: Db, id: number): KeptView | null {
  const row = db.select().from(savedView).where(eq(savedView.id, id)).get();
  if (!row) return null;
  const { id: _id, ...view } = row;
  return view;
}

/** The number of one's own view of a name on a page; null where there is none: saving it makes one. */
export function ownViewNamed(
  db: Db,
  { personId, path, name }: Pick<KeptView, 'personId' | 'path' | 'name'>,
): number | null {
  const named = and(eq(savedView.personId, personId), eq(savedView.path, path), eq(savedView.name, name));
  return db.select({ id: savedView.id }).from(savedView).where(named).get()?.id ?? null;
}

/** Whether somebody may delete a view: one's own, and an administrator what is shared. */
export const mayDeleteView = ({ personId, shared }: KeptView, who: { id: number; role: string }): boolean =>
  personId === who.id || (shared && who.role === 'administrator');
