import type { Db } from './database';

/**
 * Statements prepared once for each open database. Past the query builder, straight to the driver: a survey runs some of them tens of thousands of times, and
 * building each anew would cost more than running it.
 */
export function statements<Prepared>(prepare: (db: Db) => Prepared): (db: Db) => Prepared {
  const known = new WeakMap<Db, Prepared>();
  return (db) => {
    let prepared = known.get(db);
    if (!prepared) known.set(db, (prepared = prepare(db)));
    return prepared;
  };
}
