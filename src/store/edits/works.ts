import { eq } from 'drizzle-orm';
import type { Work } from '../../core/works/work';
import { work } from '../base/schema';
import { readWorks } from '../works';
import { numberOf, oneByOne, type Editable } from './editable';

/** Planned works and incidents, as the log of edits sees them. */
export const workEdits: Editable<Work> = {
  kind: 'works',
  one: 'work',
  many: 'works',
  role: 'operator',
  called: ({ title }) => title,
  read: (db, key) => {
    const found = readWorks(db).find(({ id }) => id === numberOf(key));
    if (!found) return null;
    const { id: _id, ...content } = found;
    return content;
  },
  write: oneByOne((db, key, after) => {
    const id = numberOf(key ?? '');
    if (after === null) {
      db.delete(work).where(eq(work.id, id)).run();
      return key ?? '';
    }
    const { from, until, ...content } = after;
    const row = { ...(key !== null && { id }), from, until, content };
    const { id: written } = db
      .insert(work)
      .values(row)
      .onConflictDoUpdate({ target: work.id, set: { from, until, content } })
      .returning({ id: work.id })
      .get();
    return String(written);
  }),
};
