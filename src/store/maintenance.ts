import { asc } from 'drizzle-orm';
import type { Maintenance } from '../core/groups/maintenance';
import type { Db } from './base/database';
import { maintenance } from './base/schema';

/** Times of maintenance, in the order in which they begin. */
export const readMaintenance = (db: Db): Maintenance[] =>
  db.select().from(maintenance).orderBy(asc(maintenance.from)).all();
