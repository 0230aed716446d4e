import { asc } from 'drizzle-orm';
import type { Outlet } from '../core/floor/outlet';
import type { Db } from './base/database';
import { outlet } from './base/schema';

export type KeptOutlet = Outlet & { id: number };

export const readOutlets = (db: Db): KeptOutlet[] =>
  db.select().from(outlet).orderBy(asc(outlet.site), asc(outlet.label)).all();

/** An outlet as it is written: without its number in the list. */
export const outletAlone = ({ site, label, room, panel, position, port, note }: Outlet): Outlet => ({
  site,
  label,
  room,
  panel,
  position,
  port,
  note,
});

export const outletWords = ({ label, site }: Outlet): string => `${label} of ${site}`;
