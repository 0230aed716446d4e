import { eq } from 'drizzle-orm';
import { maker } from '../base/schema';
import { oneByOne, type Editable } from './editable';

/** Makers of MAC prefixes, as the log of edits sees them: the name of each prefix. */
export const makerEdits: Editable<string> = {
  kind: 'makers',
  one: 'maker',
  many: 'makers',
  role: 'operator',
  called: (name, prefix) => `${prefix} ${name}`,
  read: (db, prefix) => db.select().from(maker).where(eq(maker.prefix, prefix)).get()?.name ?? null,
  write: oneByOne((db, key, name) => {
    const prefix = key ?? '';
    if (name === null) db.delete(maker).where(eq(maker.prefix, prefix)).run();
    else db.insert(maker).values({ prefix, name }).onConflictDoUpdate({ target: maker.prefix, set: { name } }).run();
    return prefix;
  }),
};
