import {
  chmodSync,
  closeSync,
  copyFileSync,
  existsSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import Database from 'better-sqlite3';
import { eq, inArray } from 'drizzle-orm';
import { usualPlan, type BackupPlan } from '../core/backup/backupPlan';
import { recordAct } from './audit';
import { databaseFile, openStore, ownersAlone, type Store } from './base/database';
import type { Db } from './base/db';
import { job, setting, session } from './base/schema';
import { applicationId, schemaOf } from './base/schemaVersion';
import { restoredWorker } from './jobs';
import { keyFile, readKeyFile } from './vault';

/** Why a copy cannot be made, or is none. */
export class BackupError extends Error {}

const folderOf = (folder: string): string => path.join(folder, 'backups');
/** A copy that is to take the place of what there is, laid there for whoever has it open. */
export const restoreFile = (folder: string): string => path.join(folder, 'restore.sqlite');

/** Makes sure that a file is on the disk, not only on its way there. */
function settle(file: string): void {
  const open = openSync(file, 'r+');
  fsyncSync(open);
  closeSync(open);
}

/**
 * Copies the data into a file while others read and write them (SQLite's backup interface), and opens the copy to see that it is whole.
 * The file is there as a whole or not at all. It holds secrets sealed under the key, which is not in it.
 * @throws BackupError
 */
export async function backUp(folder: string, file: string): Promise<{ octets: number }> {
  if (existsSync(file)) throw new BackupError(`${file} is there already: name another one`);
  const part = `${file}.part`;
  rmSync(part, { force: true });
  const source = new Database(databaseFile(folder), { readonly: true, fileMustExist: true });
  try {
    source.pragma('busy_timeout = 30000');
    ownersAlone(part);
    // in one step once it began: in small ones it would begin anew whenever somebody writes
    await source.backup(part, { progress: () => Number.MAX_SAFE_INTEGER });
  } catch (error) {
    rmSync(part, { force: true });
    throw error;
  } finally {
    source.close();
  }
  const copy = new Database(part);
  // one file, which needs nothing beside it
  copy.pragma('journal_mode = DELETE');
  copy.close();
  try {
    expectBackup(part);
  } catch (error) {
    rmSync(part, { force: true });
    throw error;
  }
  settle(part);
  chmodSync(part, 0o600);
  renameSync(part, file);
  return { octets: statSync(file).size };
}

/** Opens a copy and looks whether it is whole, and of this program or an older one. @throws BackupError */
export function expectBackup(file: string): void {
  let raw: Database.Database;
  try {
    raw = new Database(file, { readonly: true, fileMustExist: true });
  } catch {
    throw new BackupError(`${file} cannot be opened`);
  }
  try {
    if (raw.pragma('application_id', { simple: true }) !== applicationId)
      throw new BackupError(`${file} is no copy of data of Bolide`);
    const found = raw.pragma('integrity_check(1)', { simple: true });
    if (found !== 'ok') throw new BackupError(`${file} is damaged: ${String(found)}`);
    if (schemaOf(raw) === 'newer')
      throw new BackupError(`${file} was made by a newer program: restore it with that one, or a later one`);
  } catch (error) {
    if (error instanceof BackupError) throw error;
    throw new BackupError(`${file} is no copy of data of Bolide`);
  } finally {
    raw.close();
  }
}

/** Copies the key to a file of its own. @throws BackupError, NoKey */
export function backUpKey(folder: string, file: string): void {
  if (existsSync(file)) throw new BackupError(`${file} is there already: name another one`);
  readKeyFile(keyFile(folder));
  copyFileSync(keyFile(folder), file);
  chmodSync(file, 0o600);
}

export interface KeptBackup {
  name: string;
  madeAt: string;
  octets: number;
}

const named = /^bolide-(\d{4}-\d\d-\d\dT\d{6})\.sqlite$/;

const namesIn = (place: string): string[] =>
  existsSync(place) && statSync(place).isDirectory() ? readdirSync(place) : [];

/** Copies that were made by the clock or the press of a button, the newest first. */
export function listBackups(folder: string): KeptBackup[] {
  const place = folderOf(folder);
  return namesIn(place)
    .filter((name) => named.test(name))
    .map((name) => {
      const { mtime, size } = statSync(path.join(place, name));
      return { name, madeAt: mtime.toISOString(), octets: size };
    })
    .sort((one, other) => (one.name < other.name ? 1 : -1));
}

/** Where the next copy goes. */
export function nextBackup(folder: string, now: Date): string {
  const place = folderOf(folder);
  mkdirSync(place, { recursive: true, mode: 0o700 });
  const moment = now.toISOString().slice(0, 19).replaceAll(':', '');
  return path.join(place, `bolide-${moment}.sqlite`);
}

/** Takes away all copies but the newest so many, and what was left half-made. */
export function keepBackups(folder: string, keep: number): void {
  const place = folderOf(folder);
  for (const { name } of listBackups(folder).slice(keep)) rmSync(path.join(place, name));
  for (const name of namesIn(place)) if (name.includes('.part')) rmSync(path.join(place, name), { force: true });
}

const planKey = 'backups';

interface KeptPlan extends BackupPlan {
  /** since when there are data to copy */
  since?: string;
}

const kept = (db: Db): KeptPlan | null =>
  (db.select().from(setting).where(eq(setting.key, planKey)).get()?.value as KeptPlan | undefined) ?? null;

export function readBackupPlan(db: Db): BackupPlan {
  const { on, at, keep } = kept(db) ?? usualPlan;
  return { on, at, keep };
}

export function saveBackupPlan(db: Db, plan: BackupPlan): void {
  const value: KeptPlan = { ...kept(db), ...plan };
  db.insert(setting).values({ key: planKey, value }).onConflictDoUpdate({ target: setting.key, set: { value } }).run();
}

/** When the newest copy was made; before there is any, since when there are data. */
export function lastBackup({ db, folder }: Pick<Store, 'db' | 'folder'>, now: Date): Date {
  const [newest] = listBackups(folder);
  if (newest) return new Date(newest.madeAt);
  const plan = kept(db);
  if (plan?.since) return new Date(plan.since);
  const value: KeptPlan = { ...usualPlan, ...plan, since: now.toISOString() };
  db.insert(setting).values({ key: planKey, value }).onConflictDoUpdate({ target: setting.key, set: { value } }).run();
  return now;
}

/** Lays a copy where whoever has the data open, or the next who opens them, takes it. @throws BackupError */
export function layRestore(folder: string, file: string): void {
  expectBackup(file);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  rmSync(outcomeFile(folder), { force: true });
  const part = `${restoreFile(folder)}.part`;
  copyFileSync(file, part);
  chmodSync(part, 0o600);
  settle(part);
  renameSync(part, restoreFile(folder));
}

/**
 * Puts a copy that was laid there in the place of what there is, which is kept beside it. Nobody may have the data open.
 * Whoever was signed in signs in anew.
 * @returns where what there was is kept; null where there was nothing
 */
export function takeRestore(folder: string, now = new Date()): string | null {
  const file = databaseFile(folder);
  const before = existsSync(file) ? path.join(folder, `before-restore-${now.getTime()}.sqlite`) : null;
  if (before !== null) {
    const raw = new Database(file);
    raw.pragma('wal_checkpoint(TRUNCATE)');
    raw.pragma('journal_mode = DELETE');
    raw.close();
    renameSync(file, before);
  }
  try {
    beginRestored(folder);
  } catch (error) {
    // what there was is there again, rather than nothing at all
    forgetBeside(file);
    if (before !== null) renameSync(before, file);
    throw error;
  }
  return before;
}

function forgetBeside(file: string): void {
  for (const end of ['-wal', '-shm']) rmSync(`${file}${end}`, { force: true });
}

/** Opens a copy in its place: signs everybody out, and has done by nobody what was queued when it was made. */
function beginRestored(folder: string): void {
  const file = databaseFile(folder);
  forgetBeside(file);
  renameSync(restoreFile(folder), file);
  const store = openStore(folder);
  try {
    store.db.delete(session).run();
    // what was queued then is nobody's wish now: whoever takes it up says so
    store.db
      .update(job)
      .set({ state: 'running', worker: restoredWorker, leaseUntil: 0 })
      .where(inArray(job.state, ['queued', 'running']))
      .run();
    recordAct(store.db, 'command line', 'restored a backup', '');
  } finally {
    store.close();
  }
}

/** Where whoever serves the data says what came of a copy that was laid there. */
const outcomeFile = (folder: string): string => path.join(folder, 'restore-outcome');

/** Says what came of the copy that was laid there: taken, or why not. */
export function tellRestored(folder: string, whyNot = ''): void {
  rmSync(restoreFile(folder), { force: true });
  writeFileSync(outcomeFile(folder), whyNot, { mode: 0o600 });
}

/** Why the copy that was laid there last was not taken, empty where it was; null where nobody has said so yet. */
export const restoreOutcome = (folder: string): string | null =>
  existsSync(outcomeFile(folder)) ? readFileSync(outcomeFile(folder), 'utf8') : null;
