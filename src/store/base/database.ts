import { chmodSync, closeSync, existsSync, mkdirSync, openSync } from 'node:fs';
import path from 'node:path';
import Database from 'better-sqlite3';
import { drizzle } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import { settleKey } from '../keyring';
import { inTransaction, type Db, type Schema, type Store } from './db';
import { layEmptyFile } from './emptyFile';
import { programFolder } from './programFolder';
import * as schema from './schema';
import { applicationId, migrationsFolder, schemaOf } from './schemaVersion';
import { isStoreFault } from './storeFault';

export { inTransaction, type Db, type Schema, type Store };

export const databaseFile = (folder: string) => path.join(folder, 'bolide.sqlite');

export { programFolder };

/** Only a newer program knows the structure of a database. */
export class NewerDatabase extends Error {
  override name = 'NewerDatabase';
}

/** Lets nobody but its owner read or write a file of data, whatever its folder lets; what SQLite lays beside it follows. */
export function ownersAlone(file: string): void {
  closeSync(openSync(file, 'a', 0o600));
  for (const one of [file, `${file}-wal`, `${file}-shm`]) if (existsSync(one)) chmodSync(one, 0o600);
}

/**
 * Opens a data folder, makes it if absent, and applies migrations. Before migrations change an existing file,
 * a copy of it is written beside it.
 * @param waitMs how long a write waits for others: whoever answers people waits elsewhere
 */
export function openStore(folder: string, { waitMs = 10_000 }: { waitMs?: number } = {}): Store {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const file = databaseFile(folder);
  const existed = existsSync(file);
  if (!existed) layEmptyFile(file);
  ownersAlone(file);
  const raw = new Database(file);
  // where it could not be laid down whole
  if (!existed) raw.pragma('auto_vacuum = INCREMENTAL');
  raw.pragma('journal_mode = WAL');
  // changes of the structure are waited for in any case
  raw.pragma('busy_timeout = 10000');
  raw.pragma('synchronous = NORMAL');
  raw.pragma('foreign_keys = ON');
  // what is deleted is overwritten, not only forgotten
  raw.pragma('secure_delete = ON');
  // a survey's conclusion is one large transaction: its pages stay in memory until they are written once
  raw.pragma('cache_size = -65536');
  raw.pragma(`wal_autocheckpoint = ${pagesBeforeCheckpoint}`);
  const state = schemaOf(raw);
  if (state === 'newer') {
    raw.close();
    throw new NewerDatabase(
      `${file} was written by a newer program. Start that one, or restore a backup that was made before it`,
    );
  }
  if (raw.pragma('application_id', { simple: true }) !== applicationId) raw.pragma(`application_id = ${applicationId}`);
  if (existed && state === 'older') {
    const copy = path.join(folder, `before-migration-${Date.now()}.sqlite`);
    ownersAlone(copy);
    raw.exec(`VACUUM INTO '${copy.replaceAll("'", "''")}'`);
  }
  const db = drizzle(raw, { schema, casing: 'snake_case' });
  migrate(db, { migrationsFolder: migrationsFolder() });
  const store = { folder, db, raw, close: () => raw.close() };
  settleKey(store);
  raw.pragma(`busy_timeout = ${waitMs}`);
  return store;
}

const pagesBeforeCheckpoint = 8000;
const pagesAtMost = 50_000;

/**
 * While a survey runs, what it wrote stays in the log beside the file until it is sealed: copying it over is nobody's hurry.
 * @returns copies it over now, and goes on as before
 */
export function checkpointLater({ raw }: Store): () => void {
  raw.pragma(`wal_autocheckpoint = ${pagesAtMost}`);
  return () => {
    raw.pragma(`wal_autocheckpoint = ${pagesBeforeCheckpoint}`);
    try {
      raw.pragma('wal_checkpoint(PASSIVE)');
    } catch (error) {
      // where there is no room, or others are at it, it is copied later
      if (!isStoreFault(error)) throw error;
    }
  };
}

/** Opens a data folder that is open elsewhere in this program, to read only. */
export function openToRead(folder: string): Store {
  const raw = new Database(databaseFile(folder), { readonly: true, fileMustExist: true });
  raw.pragma('busy_timeout = 10000');
  return { folder, db: drizzle(raw, { schema, casing: 'snake_case' }), raw, close: () => raw.close() };
}
