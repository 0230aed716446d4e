import { eq } from 'drizzle-orm';
import type { SaidNeed } from '../../core/dependency/saidNeed';
import { saidNeed } from '../base/schema';
import { readSaidNeeds } from '../saidNeeds';
import { numberOf, oneByOne, type Editable } from './editable';

/** What people say rests on what, as the log of edits sees it. */
export const saidNeedEdits: Editable<SaidNeed> = {
  kind: 'saidNeeds',
  one: 'dependence',
  many: 'dependences',
  role: 'operator',
  called: ({ of, from }) => `${of} rests on ${from.join(', ')}`,
  read: (db, key) => {
    const found = readSaidNeeds(db).find(({ id }) => id === numberOf(key));
    if (!found) return null;
    const { id: _id, ...content } = found;
    return content;
  },
  write: oneByOne((db, key, after) => {
    const id = numberOf(key ?? '');
    if (after === null) {
      db.delete(saidNeed).where(eq(saidNeed.id, id)).run();
      return key ?? '';
    }
    const { id: written } = db
      .insert(saidNeed)
      .values({ ...(key !== null && { id }), content: after })
      .onConflictDoUpdate({ target: saidNeed.id, set: { content: after } })
      .returning({ id: saidNeed.id })
      .get();
    return String(written);
  }),
};
