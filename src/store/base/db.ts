import type Database from 'better-sqlite3';
import type { BetterSQLite3Database } from 'drizzle-orm/better-sqlite3';
import type * as schema from './schema';

export type Schema = typeof schema;
export type Db = BetterSQLite3Database<Schema> & { $client: Database.Database };

/** An open data folder. */
export interface Store {
  folder: string;
  db: Db;
  /** the driver's handle, for statements the query builder has no words for */
  raw: Database.Database;
  close(): void;
}

/** Runs work in one transaction, begun with the right to write; inside another it joins that one. */
export function inTransaction<Result>(db: Db, work: () => Result): Result {
  return db.$client.transaction(work).immediate();
}
