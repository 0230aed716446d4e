import { eq } from 'drizzle-orm';
import { savedView } from '../base/schema';
import { ownViewNamed, viewNumbered, type KeptView } from '../savedViews';
import { EditRefused, numberOf, oneByOne, type Editable } from './editable';

const withId = (key: string) => eq(savedView.id, numberOf(key));

/** Saved views, as the log of edits sees them. What is written of them, only whose they are takes back. */
export const viewEdits: Editable<KeptView> = {
  kind: 'views',
  one: 'view',
  many: 'views',
  role: 'viewer',
  called: ({ name }) => name,
  ownerOf: ({ personId }) => personId,
  same: (one, other) => one.query === other.query && one.shared === other.shared && one.name === other.name,
  read: (db, key) => viewNumbered(db, numberOf(key)),
  write: oneByOne((db, key, after) => {
    if (after === null) {
      db.delete(savedView)
        .where(withId(key ?? ''))
        .run();
      return key ?? '';
    }
    const known = ownViewNamed(db, after);
    if (known !== null && String(known) !== key) {
      throw new EditRefused(`There is a view “${after.name}” already`, key, 'name');
    }
    const row = { ...(key !== null && { id: numberOf(key) }), ...after };
    const { id } = db
      .insert(savedView)
      .values(row)
      .onConflictDoUpdate({ target: savedView.id, set: after })
      .returning({ id: savedView.id })
      .get();
    return String(id);
  }),
};
