import { and, eq, ne, sql } from 'drizzle-orm';
import type { Application } from '../../core/applications/application';
import { application } from '../base/schema';
import { readApplications } from '../applications';
import { EditRefused, numberOf, oneByOne, type Editable } from './editable';

/** Applications, as the log of edits sees them: each version of one is an entry of the log. */
export const applicationEdits: Editable<Application> = {
  kind: 'applications',
  one: 'application',
  many: 'applications',
  role: 'operator',
  called: ({ name }) => name,
  read: (db, key) => {
    const found = readApplications(db).find(({ id }) => id === numberOf(key));
    if (!found) return null;
    const { id: _id, ...content } = found;
    return content;
  },
  write: oneByOne((db, key, after, before) => {
    const id = numberOf(key ?? '');
    if (after === null) {
      db.delete(application).where(eq(application.id, id)).run();
      return key ?? '';
    }
    const { name, ...content } = after;
    const namesake = and(sql`lower(${application.name}) = lower(${name})`, ne(application.id, id));
    if (db.select({ id: application.id }).from(application).where(namesake).get())
      throw new EditRefused(`There is an application “${name}” already`, key, 'name');
    if (before === null) {
      const row = { ...(key !== null && { id }), name, content };
      return String(db.insert(application).values(row).returning({ id: application.id }).get().id);
    }
    db.update(application).set({ name, content }).where(eq(application.id, id)).run();
    return key ?? '';
  }),
};
