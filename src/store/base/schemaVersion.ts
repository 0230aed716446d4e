import { readFileSync } from 'node:fs';
import path from 'node:path';
import type Database from 'better-sqlite3';
import { programFolder } from './programFolder';

/** By this SQLite files of ours are known (`pragma application_id`). */
export const applicationId = 0x426f6c69;

export const migrationsFolder = (): string => path.join(programFolder(), 'src/store/migrations');

/** Whether a database has the structure that this program knows, an older one, or one that only a newer program knows; new where it has none. */
export function schemaOf(raw: Database.Database): 'new' | 'older' | 'same' | 'newer' {
  const { entries } = JSON.parse(readFileSync(path.join(migrationsFolder(), 'meta/_journal.json'), 'utf8')) as {
    entries: { when: number }[];
  };
  if (!raw.prepare("select 1 from sqlite_master where name = '__drizzle_migrations'").get()) return 'new';
  const { last } = raw.prepare('select max(created_at) as last from __drizzle_migrations').get() as {
    last: number | null;
  };
  if (last === null) return 'new';
  const known = Math.max(...entries.map(({ when }) => when));
  return last > known ? 'newer' : last < known ? 'older' : 'same';
}
