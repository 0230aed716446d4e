import { existsSync, linkSync, rmSync, writeFileSync } from 'node:fs';
import { randomUUID } from 'node:crypto';
import Database from 'better-sqlite3';
import { drizzle } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import { applicationId, migrationsFolder } from './schemaVersion';

let made: Buffer | null = null;

/** A database of the newest structure with nothing in it, as its file's octets. */
function emptyDatabase(): Buffer {
  const raw = new Database(':memory:');
  try {
    // room that nothing lies in any more can be given back without writing all anew; only a new file can be made so
    raw.pragma('auto_vacuum = INCREMENTAL');
    raw.pragma(`application_id = ${applicationId}`);
    migrate(drizzle(raw), { migrationsFolder: migrationsFolder() });
    return raw.serialize();
  } finally {
    raw.close();
  }
}

/**
 * Lays down a new database whole, for its owner alone: whoever is killed meanwhile leaves no half of one. What is there already, or is laid down by somebody else just
 * then, is left as it is.
 */
export function layEmptyFile(file: string): void {
  // a log without its file belongs to nothing: SQLite takes it away with the file it begins itself
  if (existsSync(file) || existsSync(`${file}-wal`)) return;
  const beside = `${file}.${randomUUID()}`;
  try {
    writeFileSync(beside, (made ??= emptyDatabase()), { mode: 0o600, flag: 'wx' });
    linkSync(beside, file);
  } catch (error) {
    // a disk that knows no links, or has no room: SQLite begins the file, and says what is wrong with it
    if ((error as NodeJS.ErrnoException).code === undefined) throw error;
  } finally {
    rmSync(beside, { force: true });
  }
}
