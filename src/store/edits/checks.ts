import { eq } from 'drizzle-orm';
import type { Check } from '../../core/checks/check';
import { checkRule } from '../base/schema';
import { checkAlone, forgetCheck, newCheckKey, readChecks, saveCheck } from '../checks';
import { EditRefused, oneByOne, type Editable } from './editable';

/** Checks that people wrote, as the log of edits sees them: null stands for what the library says, or for none. */
export const checkEdits: Editable<Check> = {
  kind: 'checks',
  one: 'check',
  many: 'checks',
  role: 'operator',
  called: ({ name }) => name,
  read: (db, key) => {
    const row = db.select().from(checkRule).where(eq(checkRule.key, key)).get();
    return row ? checkAlone(row) : null;
  },
  write: oneByOne((db, given, after) => {
    if (after === null) {
      forgetCheck(db, given ?? '');
      return given ?? '';
    }
    const key = given ?? newCheckKey(db);
    const same = (other: Check) => other.key !== key && other.name.toLowerCase() === after.name.toLowerCase();
    if (readChecks(db).some(same)) throw new EditRefused(`There is a check “${after.name}” already`, key, 'name');
    saveCheck(db, { ...after, key });
    return key;
  }),
};
