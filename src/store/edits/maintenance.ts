import { eq } from 'drizzle-orm';
import type { Maintenance } from '../../core/groups/maintenance';
import { maintenance } from '../base/schema';
import { numberOf, oneByOne, type Editable } from './editable';

export type MaintenanceTime = Omit<Maintenance, 'id'>;

const withId = (key: string) => eq(maintenance.id, numberOf(key));

/** Times of maintenance, as the log of edits sees them. */
export const maintenanceEdits: Editable<MaintenanceTime> = {
  kind: 'maintenance',
  one: 'maintenance',
  many: 'maintenance',
  role: 'operator',
  called: ({ where, reason }) => `${where}: ${reason}`,
  read: (db, key) => {
    const row = db.select().from(maintenance).where(withId(key)).get();
    if (!row) return null;
    const { id: _id, ...time } = row;
    return time;
  },
  write: oneByOne((db, key, after) => {
    if (after === null) {
      db.delete(maintenance)
        .where(withId(key ?? ''))
        .run();
      return key ?? '';
    }
    const row = { ...(key !== null && { id: numberOf(key) }), ...after };
    const { id } = db
      .insert(maintenance)
      .values(row)
      .onConflictDoUpdate({ target: maintenance.id, set: after })
      .returning({ id: maintenance.id })
      .get();
    return String(id);
  }),
};
