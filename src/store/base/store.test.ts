import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import { databaseFile, openStore, type Store } from './database';
import { factHistory, factsAsOf, factsTouched, writeEstateFacts, writeFacts } from './facts';
import { addFirstAdministrator, addPerson, signIn } from '../people';
import { addToken, tokenOwner } from '../tokens';
import { survey } from './schema';
import { listCredentials, openCredentials, saveCredential } from '../credentials';
import { hashPassword, openSecret, passwordMatches, sealSecret, vaultKey } from '../vault';

let folder: string;
let store: Store;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-store-'));
  store = openStore(folder);
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

describe('versioned facts', () => {
  const read = (at: number) =>
    Object.fromEntries(
      factsAsOf<{ value: number }>(store.db, 'module', at).map(({ key, content }) => [key, content.value]),
    );
  const write = (surveyId: number, facts: Record<string, number>, covered = true) =>
    writeFacts(
      store.db,
      'module',
      surveyId,
      1,
      Object.entries(facts).map(([key, value]) => ({ key, content: { value } })),
      covered,
    );

  test('as of any survey the store says what was found then', () => {
    fc.assert(
      fc.property(
        fc.array(fc.dictionary(fc.constantFrom('a', 'b', 'c'), fc.integer({ min: 0, max: 2 })), { maxLength: 8 }),
        (history) => {
          store.raw.exec('delete from module_fact');
          history.forEach((facts, at) => write(at + 1, facts));
          history.forEach((facts, at) => expect(read(at + 1)).toEqual({ ...facts }));
        },
      ),
      { numRuns: 60 },
    );
  });
  test('the same again writes nothing, and the difference follows the changes', () => {
    write(1, { a: 1, b: 1 });
    write(2, { a: 1, b: 1 });
    write(3, { a: 1, b: 2 });
    expect(factsTouched(store.db, 'module', 1, 2)).toEqual([]);
    expect(
      factsTouched(store.db, 'module', 2, 3).map(({ key, fromSurvey, untilSurvey }) => [key, fromSurvey, untilSurvey]),
    ).toEqual([
      ['b', 1, 3],
      ['b', 3, null],
    ]);
  });
  test('a survey that did not cover a part closes nothing', () => {
    write(1, { a: 1, b: 1 });
    write(2, { a: 5 }, false);
    expect(read(2)).toEqual({ a: 5, b: 1 });
  });
  test('written twice in one survey, the last word holds and leaves one row', () => {
    write(1, { a: 1 });
    write(2, { a: 2 });
    write(2, { a: 3 });
    expect([read(1), read(2)]).toEqual([{ a: 1 }, { a: 3 }]);
    expect(store.raw.prepare('select count(*) as rows from module_fact').get()).toEqual({ rows: 2 });
  });
  test('of one device as of all of them: what is open now and what was closed since', () => {
    write(1, { a: 1, b: 1 });
    write(2, { a: 2 });
    const ofOne = (at: number) =>
      factsAsOf<{ value: number }>(store.db, 'module', at, [1])
        .map(({ key, content }) => [key, content.value])
        .sort();
    expect([ofOne(1), ofOne(2), factsAsOf(store.db, 'module', 2, [2])]).toEqual([
      [
        ['a', 1],
        ['b', 1],
      ],
      [['a', 2]],
      [],
    ]);
    expect(
      factHistory(store.db, 'module', 1).map(({ key, fromSurvey, untilSurvey }) => [key, fromSurvey, untilSurvey]),
    ).toEqual([
      ['a', 1, 2],
      ['b', 1, 2],
      ['a', 2, null],
    ]);
  });
  test('facts of the whole estate, in order and beside each other, leave the same rows as kind by kind', () => {
    const ordered = (facts: Record<string, number>) =>
      Object.keys(facts)
        .sort()
        .map((key) => ({ key, content: { value: facts[key], evidence: `seen ${Math.random()}` } }));
    const key = fc.integer({ min: 0, max: 5000 }).map((n) => `02:${n.toString(16).padStart(4, '0')}`);
    fc.assert(
      fc.property(
        fc.array(fc.dictionary(key, fc.integer({ min: 0, max: 1 }), { maxKeys: 30 }), { maxLength: 5 }),
        fc.integer({ min: 0, max: 4500 }),
        (history, crowd) => {
          store.raw.exec('delete from attachment_fact; delete from link_fact');
          history.forEach((facts, at) => {
            // many beside them, more than are looked at together
            for (let n = 0; n < crowd; n++) facts[`02:f${n.toString(16).padStart(4, '0')}`] = at % 2;
            writeEstateFacts(
              store.db,
              'attachment',
              at + 1,
              ordered(facts).map(({ key, content }) => ({ key, text: JSON.stringify(content) })),
            );
            writeFacts(store.db, 'link', at + 1, 0, ordered(facts).reverse(), true);
          });
          const rows = (table: string) =>
            store.raw
              .prepare(
                `select key, from_survey, until_survey, content ->> 'value' as value from ${table} order by key, from_survey`,
              )
              .all();
          expect(rows('attachment_fact')).toEqual(rows('link_fact'));
        },
      ),
      { numRuns: 8 },
    );
  });
  test('new evidence for the same fact is no change', () => {
    const put = (surveyId: number, evidence: string) =>
      writeFacts(store.db, 'link', surveyId, 0, [{ key: 'l', content: { speed: 1, evidence } }], true);
    put(1, 'one said so');
    put(2, 'the other said so');
    expect(factsTouched(store.db, 'link', 1, 2)).toEqual([]);
  });
});

describe('secrets', () => {
  test('the database never holds one in the clear, nor does a list', () => {
    saveCredential(store, {
      name: 'core',
      kind: 'snmp3',
      user: 'olr',
      auth: { protocol: 'SHA-256', password: 'auth-secret-1' },
      priv: { protocol: 'AES-128', password: 'priv-secret-2' },
    });
    saveCredential(store, { name: 'old', kind: 'snmp2c', community: 'community-secret-3' });
    store.raw.pragma('wal_checkpoint(TRUNCATE)');
    const bytes = readFileSync(databaseFile(folder)).toString('latin1') + JSON.stringify(listCredentials(store.db));
    for (const secret of ['auth-secret-1', 'priv-secret-2', 'community-secret-3']) expect(bytes).not.toContain(secret);
    expect(openCredentials(store, ['old', 'core', 'none']).map(({ name }) => name)).toEqual(['old', 'core']);
    expect(statSync(path.join(folder, 'key')).mode & 0o077).toBe(0);
  });
  test('another key or one changed octet does not open', () => {
    const key = vaultKey(folder);
    const sealed = sealSecret(key, { a: 1 });
    expect(openSecret(key, sealed)).toEqual({ a: 1 });
    const changed = Buffer.from(sealed);
    changed[changed.length - 1] = (changed.at(-1) ?? 0) ^ 1;
    expect(() => openSecret(key, changed)).toThrow();
    expect(() => openSecret(Buffer.alloc(32), sealed)).toThrow();
    writeFileSync(path.join(folder, 'key'), 'short');
    expect(() => vaultKey(folder)).toThrow('put back the right file');
  });
  test('passwords are salted and compared', async () => {
    const hashes = [await hashPassword('ostermere-lights'), await hashPassword('ostermere-lights')];
    expect(hashes[0]).not.toBe(hashes[1]);
    expect([
      await passwordMatches('ostermere-lights', hashes[0] ?? ''),
      await passwordMatches('ostermere-light', hashes[0] ?? ''),
    ]).toEqual([true, false]);
  });
});

describe('people', () => {
  test('there is one first administrator, however many try at once', async () => {
    const made = await Promise.all(
      ['a', 'b', 'c'].map((name) => addFirstAdministrator(store.db, name, 'ostermere-lights')),
    );
    expect(made.filter(Boolean)).toHaveLength(1);
  });
  test('signing in and tokens', async () => {
    await addPerson(store.db, 'marla', 'ostermere-lights', 'viewer');
    expect(await signIn(store.db, 'marla', 'ostermere-lights')).toMatchObject({
      person: { name: 'marla', role: 'viewer' },
    });
    expect(await signIn(store.db, 'marla', 'wrong')).toBeNull();
    expect(await signIn(store.db, 'nobody', 'wrong')).toBeNull();
    const token = addToken(store.db, { name: 'script', role: 'operator' });
    expect(tokenOwner(store.db, token)?.person).toMatchObject({ role: 'operator' });
    expect(tokenOwner(store.db, `${token}x`)).toBeNull();
  });
});

test('a folder opened again still has what was written', () => {
  store.db
    .insert(survey)
    .values({ scopeName: 'x', scope: {}, state: 'sealed', startedAt: '2026-11-23T06:00:00Z' })
    .run();
  store.close();
  store = openStore(folder);
  expect(store.db.select().from(survey).all()).toHaveLength(1);
});
