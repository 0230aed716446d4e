import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import Database from 'better-sqlite3';
import { databaseFile, openStore } from './database';
import { layEmptyFile } from './emptyFile';
import { schemaOf } from './schemaVersion';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-empty-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

test('a new database is there whole, for its owner alone, and nothing beside it', () => {
  const file = databaseFile(folder);
  layEmptyFile(file);
  expect([readdirSync(folder), statSync(file).mode & 0o777]).toEqual([['bolide.sqlite'], 0o600]);
  const raw = new Database(file, { readonly: true });
  expect([schemaOf(raw), raw.pragma('integrity_check', { simple: true })]).toEqual(['same', 'ok']);
  expect(raw.pragma('auto_vacuum', { simple: true })).toBe(2);
  raw.close();
});

test('one that is there is left as it is, whoever made it', () => {
  const file = databaseFile(folder);
  writeFileSync(file, 'somebody else’s');
  layEmptyFile(file);
  expect(readFileSync(file, 'utf8')).toBe('somebody else’s');
});

test('the log of a file that was taken away is not written into a new one', () => {
  writeFileSync(`${databaseFile(folder)}-wal`, 'left');
  layEmptyFile(databaseFile(folder));
  expect(readdirSync(folder)).toEqual(['bolide.sqlite-wal']);
  const store = openStore(folder);
  expect(store.raw.pragma('integrity_check', { simple: true })).toBe('ok');
  store.close();
});

test('where there is no place for it, opening says so', () => {
  expect(() => layEmptyFile(path.join(folder, 'nowhere/bolide.sqlite'))).not.toThrow();
  writeFileSync(path.join(folder, 'file'), '');
  expect(() => openStore(path.join(folder, 'file'))).toThrow(/EEXIST|ENOTDIR/);
});
