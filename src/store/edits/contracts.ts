import { eq, sql } from 'drizzle-orm';
import { contractWords, type Contract } from '../../core/cover/contract';
import { sameContract } from '../../core/cover/planContracts';
import { contract } from '../base/schema';
import { contractAlone } from '../contracts';
import { EditRefused, numberOf, oneByOne, type Editable } from './editable';

const withId = (key: string) => eq(contract.id, numberOf(key));

/** Contracts, as the log of edits sees them. */
export const contractEdits: Editable<Contract> = {
  kind: 'contracts',
  one: 'contract',
  many: 'contracts',
  role: 'operator',
  called: contractWords,
  same: sameContract,
  read: (db, key) => {
    const row = db.select().from(contract).where(withId(key)).get();
    return row ? contractAlone(row) : null;
  },
  write: oneByOne((db, key, after, before) => {
    if (after === null) {
      db.delete(contract)
        .where(withId(key ?? ''))
        .run();
      return key ?? '';
    }
    const numbered = sql`lower(${contract.number}) = lower(${after.number})`;
    const taken = db.select({ id: contract.id }).from(contract).where(numbered).get();
    if (taken && String(taken.id) !== key) {
      throw new EditRefused(`There is a contract “${after.number}” already`, key, 'number');
    }
    if (before !== null) {
      db.update(contract)
        .set(contractAlone(after))
        .where(withId(key ?? ''))
        .run();
      return key ?? '';
    }
    const row = { ...(key !== null && { id: numberOf(key) }), ...contractAlone(after) };
    return String(db.insert(contract).values(row).returning({ id: contract.id }).get().id);
  }),
};
