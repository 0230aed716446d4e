import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import {
  copyFileSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { openStore, type Store } from './base/database';
import { deleteCredential, listCredentials, openCredentials, saveCredential, wipeDeleted } from './credentials';
import { keyProblem, newKey, rotateKey } from './keyring';
import { mailPassword, saveMailServer } from './mailServer';
import { readKeyFile, vaultKey } from './vault';

let folder: string;
let store: Store;
const file = (end = '') => path.join(folder, `key${end}`);
const reopen = (): Store => {
  store.close();
  return (store = openStore(folder));
};
const secrets = () => [
  openCredentials(store, ['core']).map((one) => ('community' in one ? one.community : null)),
  mailPassword(store),
];
const both = [['olr-readonly'], 'harbour-bell'];

beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-keys-'));
  store = openStore(folder);
  saveCredential(store, { name: 'core', kind: 'snmp2c', community: 'olr-readonly' });
  const server = {
    host: '127.0.0.1',
    port: 25,
    security: 'none' as const,
    user: 'bolide',
    from: 'bolide@ostermere.example',
  };
  saveMailServer(store, server, 'harbour-bell');
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

describe('the key file', () => {
  test('is its owner’s alone, made once, and never made anew over what is sealed', () => {
    expect((statSync(file()).mode & 0o777).toString(8)).toBe('600');
    rmSync(file());
    reopen();
    expect(existsSync(file())).toBe(false);
    expect(keyProblem(store)).toContain('is missing or holds no key, and 2 stored secrets are sealed under it');
    expect(() => secrets()).toThrow('Put it back');
  });
  test('that is another one is told, and the right one opens all again', () => {
    copyFileSync(file(), file('.kept'));
    writeFileSync(file(), 'ab'.repeat(32));
    reopen();
    expect(keyProblem(store)).toContain('is not the key that 2 stored secrets are sealed under');
    expect(() => rotateKey(store)).toThrow('is not the key');
    renameSync(file('.kept'), file());
    reopen();
    expect(keyProblem(store)).toBeNull();
    expect(secrets()).toEqual(both);
  });
  test('of a folder from before it was kept which key it is stays', () => {
    store.raw.exec("delete from setting where key = 'sealedUnder'");
    const key = vaultKey(folder);
    reopen();
    expect([vaultKey(folder), keyProblem(store)]).toEqual([key, null]);
    expect(secrets()).toEqual(both);
  });
  test('that is lost for good gives way to another, and what was sealed under it is gone', () => {
    rmSync(file());
    reopen();
    expect(newKey(store)).toBe(2);
    expect([keyProblem(store), listCredentials(store.db)]).toEqual([null, []]);
    saveCredential(store, { name: 'core', kind: 'snmp2c', community: 'olr-readonly' });
    expect(secrets()[0]).toEqual(['olr-readonly']);
  });
});

describe('a change of keys', () => {
  test('seals everything anew, what is deleted and can come back too', () => {
    const before = vaultKey(folder);
    saveCredential(store, { name: 'gone', kind: 'snmp2c', community: 'x' });
    deleteCredential(store.db, 2);
    expect(rotateKey(store)).toBe(3);
    expect(vaultKey(folder)).not.toEqual(before);
    expect(secrets()).toEqual(both);
    expect(readdirSync(folder).filter((name) => name.startsWith('key'))).toEqual(['key']);
  });
  test.each(['before', 'after'] as const)(
    'that is broken off %s it is written is settled at the next opening',
    (when) => {
      const [old, now] = [readFileSync(file(), 'utf8'), 'cd'.repeat(32)];
      if (when === 'before') {
        // the files have changed places, the database has not
        renameSync(file(), file('.old'));
        writeFileSync(file(), now);
      } else {
        rotateKey(store);
        renameSync(file(), file('.new'));
        writeFileSync(file(), old);
      }
      reopen();
      expect([keyProblem(store), secrets()]).toEqual([null, both]);
      expect(readdirSync(folder).filter((name) => name.startsWith('key'))).toEqual(['key']);
    },
  );
});

describe('a deleted credential', () => {
  test('is wiped after an hour by the clock, from the file and its log', () => {
    const sealed = (store.raw.prepare('select sealed from credential').get() as { sealed: Buffer }).sealed;
    const now = new Date('2026-11-23T06:00:00Z');
    deleteCredential(store.db, 1, now);
    expect(wipeDeleted(store, new Date('2026-11-23T06:59:00Z'))).toBe(0);
    expect(wipeDeleted(store, new Date('2026-11-23T07:01:00Z'))).toBe(1);
    const holds = (name: string) =>
      existsSync(path.join(folder, name)) && readFileSync(path.join(folder, name)).includes(sealed);
    expect([holds('bolide.sqlite'), holds('bolide.sqlite-wal')]).toEqual([false, false]);
  });
});

test('a key that is none is told with what it needs', () => {
  writeFileSync(file(), 'none');
  expect(() => readKeyFile(file())).toThrow('does not hold a key of 32 octets');
});
