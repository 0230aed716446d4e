import { eq, inArray } from 'drizzle-orm';
import type { EditChange } from '../../core/edits/edit';
import { OutletPlaces, sameOutlet, type Outlet } from '../../core/floor/outlet';
import type { Db } from '../base/database';
import { outlet } from '../base/schema';
import { outletAlone, outletWords, readOutlets } from '../outlets';
import { EditRefused, numberOf, type Editable } from './editable';

/** Outlets, as the log of edits sees them. */
export const outletEdits: Editable<Outlet> = {
  kind: 'outlets',
  one: 'outlet',
  many: 'outlets',
  role: 'operator',
  called: (value) => `outlet ${outletWords(value)}`,
  same: sameOutlet,
  read: (db, key) => {
    const row = db
      .select()
      .from(outlet)
      .where(eq(outlet.id, numberOf(key)))
      .get();
    return row ? outletAlone(row) : null;
  },
  write: writeAll,
};

function writeAll(db: Db, changes: readonly EditChange<Outlet>[]): string[] {
  // what is written anew makes room for the others first: two may change places
  const known = changes.flatMap(({ key, before }) => (before === null || key === null ? [] : [numberOf(key)]));
  for (let at = 0; at < known.length; at += 500) {
    db.delete(outlet)
      .where(inArray(outlet.id, known.slice(at, at + 500)))
      .run();
  }
  const places = new OutletPlaces(readOutlets(db));
  return changes.map(({ key, after }) => {
    if (after === null) return key ?? '';
    const clash = places.clash(after);
    if (clash) throw new EditRefused(`${outletWords(after)}: ${clash.message}`, key, clash.field, 'Taken already');
    places.add(after);
    const row = { ...(key !== null && { id: numberOf(key) }), ...outletAlone(after) };
    return String(db.insert(outlet).values(row).returning({ id: outlet.id }).get().id);
  });
}
