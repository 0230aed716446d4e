import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { scopeDefaults } from '../core/estate/scope';
import { openStore, type Store } from './base/database';
import { addPerson } from './people';
import { readPreferences, writePreference } from './preferences';
import { readSignatures, seedCatalogue } from './programFiles';
import { addRelease, readCatalogue } from './catalogue';
import {
  deleteCredential,
  wipeDeleted,
  listCredentials,
  openCredentials,
  restoreCredential,
  saveCredential,
  scopesTrying,
} from './credentials';
import { deleteScope, listScopes, saveScope } from './scopes';
import { readMakers, saveMakers } from './makers';
import { factHistory, factsAsOf, writeFacts } from './base/facts';
import { place } from './edits/place';
import { deviceSiteEdits, siteRuleEdits, siteRulesKey } from './edits/sites';
import { readSiteRules, sitesOf } from './sites';
import { completeTarget } from '../core/firmware/target';
import { deleteTarget, readTargets, saveTarget } from './targets';

let folder: string;
let store: Store;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-settings-'));
  store = openStore(folder);
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

describe('credentials', () => {
  test('saved again under its name, a credential is changed in its place in the order', () => {
    const approved = { prefixes: ['10.72.0.0/16'], ports: [161] };
    saveCredential(store, { name: 'first', kind: 'snmp2c', community: 'one-secret', approved });
    saveCredential(store, { name: 'second', kind: 'snmp2c', community: 'one-secret' });
    saveCredential(store, { name: 'first', kind: 'snmp1', community: 'another-secret' });
    expect(listCredentials(store.db).map(({ name, kind }) => [name, kind])).toEqual([
      ['first', 'snmp1'],
      ['second', 'snmp2c'],
    ]);
    // a new secret goes where the one before it went
    expect(openCredentials(store, ['second', 'first'])).toEqual([
      { name: 'second', kind: 'snmp2c', community: 'one-secret', approved: { prefixes: [], ports: [] } },
      { name: 'first', kind: 'snmp1', community: 'another-secret', approved },
    ]);
  });
  test('a deleted one is gone, deleting it again says so', () => {
    saveCredential(store, { name: 'first', kind: 'snmp2c', community: 'one-secret' });
    const id = listCredentials(store.db)[0]?.id ?? 0;
    expect([deleteCredential(store.db, id), deleteCredential(store.db, id), listCredentials(store.db)]).toEqual([
      'first',
      null,
      [],
    ]);
    expect(openCredentials(store, ['first'])).toEqual([]);
  });
  test('a deletion can be taken back within the hour; then the secret is wiped', () => {
    for (const name of ['first', 'second']) saveCredential(store, { name, kind: 'snmp2c', community: 'one-secret' });
    const [first, second] = listCredentials(store.db).map(({ id }) => id);
    const at = new Date('2026-11-23T06:00:00Z');
    deleteCredential(store.db, first ?? 0, at);
    expect([restoreCredential(store.db, first ?? 0), restoreCredential(store.db, first ?? 0)]).toEqual(['first', null]);
    expect(listCredentials(store.db).map(({ name }) => name)).toEqual(['first', 'second']);
    deleteCredential(store.db, first ?? 0, at);
    deleteCredential(store.db, second ?? 0, new Date(at.getTime() + 2 * 3_600_000));
    wipeDeleted(store, new Date(at.getTime() + 2 * 3_600_000));
    expect([restoreCredential(store.db, first ?? 0), restoreCredential(store.db, second ?? 0)]).toEqual([
      null,
      'second',
    ]);
  });
  test('what is kept for acting is given to nobody who reads, and a scope that uses it holds it', () => {
    const hands = {
      name: 'hands',
      kind: 'snmp3',
      user: 'hands',
      auth: { protocol: 'SHA-256', password: 'lever-frame-48' },
      priv: { protocol: 'AES-128', password: 'points-motor-27' },
      purpose: 'write',
    } as const;
    saveCredential(store, hands);
    saveCredential(store, { name: 'first', kind: 'snmp2c', community: 'one-secret' });
    expect(listCredentials(store.db).map(({ name, purpose }) => [name, purpose])).toEqual([
      ['hands', 'write'],
      ['first', undefined],
    ]);
    const named = ['hands', 'first'];
    expect(
      (['read', 'write', 'any'] as const).map((purpose) =>
        openCredentials(store, named, purpose).map(({ name }) => name),
      ),
    ).toEqual([['first'], ['hands'], named]);
    expect(openCredentials(store, named)).toHaveLength(1);
    saveScope(store.db, { ...scopeDefaults, name: 'north', ranges: ['10.72.4.0/24'], writeCredentials: ['hands'] });
    expect(scopesTrying(store.db, listCredentials(store.db)[0]?.id ?? 0)).toEqual(['north']);
  });
  test('a deleted name can be given anew', () => {
    saveCredential(store, { name: 'first', kind: 'snmp2c', community: 'one-secret' });
    deleteCredential(store.db, listCredentials(store.db)[0]?.id ?? 0);
    saveCredential(store, { name: 'first', kind: 'snmp2c', community: 'a-new-secret' });
    expect(openCredentials(store, ['first'])).toMatchObject([{ community: 'a-new-secret' }]);
  });
});

test('a scope keeps its number when it is saved again under its name', () => {
  const scope = { ...scopeDefaults, name: 'north', ranges: ['10.72.4.0/24'] };
  const id = saveScope(store.db, scope);
  expect(saveScope(store.db, { ...scope, retries: 3 })).toBe(id);
  expect(listScopes(store.db)).toMatchObject([{ id, scope: { retries: 3 } }]);
  expect([deleteScope(store.db, id), deleteScope(store.db, id)]).toEqual(['north', null]);
});

test('a target is one a family, until it is taken away', () => {
  const set = (family: string, release: string, setBy: string) =>
    saveTarget(store.db, { vendor: 'Kestrane', family, release, group: '', setBy, setAt: '2026-11-23' });
  set('K-Ring', '7.4.9', 'marla');
  set('K-Ring', '7.4.12b', 'osric');
  set('K-Core', '7.6.2', 'osric');
  expect(readTargets(store.db)).toMatchObject([
    { family: 'K-Core' },
    { family: 'K-Ring', release: '7.4.12b', setBy: 'osric' },
  ]);
  deleteTarget(store.db, { vendor: 'Kestrane', family: 'K-Ring', group: '' });
  expect(readTargets(store.db)).toHaveLength(1);
});

test('the catalogue is filled once from its files; what a person changed stays', () => {
  seedCatalogue(store);
  const [first] = readCatalogue(store.db);
  if (!first) throw new Error('the catalogue files are empty');
  const count = readCatalogue(store.db).length;
  addRelease(store.db, { ...first, published: '2026-01-01' });
  seedCatalogue(store);
  expect(readCatalogue(store.db)).toHaveLength(count);
  expect(
    readCatalogue(store.db).find(({ family, release }) => family === first.family && release === first.release)
      ?.published,
  ).toBe('2026-01-01');
});

test('makers are found by their lower-case prefix, the last word holds', () => {
  saveMakers(store.db, [
    { prefix: '024B45', name: 'Kestrane' },
    { prefix: '024b45', name: 'Kestrane Ltd' },
  ]);
  expect([...readMakers(store.db)]).toEqual([['024b45', 'Kestrane Ltd']]);
});

test('sites are told by rules that somebody wrote, and by hand before these; there are none at first', () => {
  const { db } = store;
  const rpw = { name: 'rpw-plat', location: 'Ropewalk', address: '10.72.4.2' };
  expect([readSiteRules(db), sitesOf(db)(1, rpw, 'OLD')]).toEqual([[], 'OLD']);
  place(db, siteRuleEdits, [{ of: 'name', pattern: '{site 2-4}-*', site: '' }], siteRulesKey);
  const facts = { ...rpw, site: '' };
  writeFacts(db, 'device', 1, 1, [{ key: '', content: facts }], true);
  const now = () => factsAsOf<{ site: string }>(db, 'device', 1).map(({ content }) => content.site);
  expect([sitesOf(db)(1, rpw, 'OLD'), now()]).toEqual(['RPW', ['RPW']]);
  place(db, deviceSiteEdits, 'HDP', '1');
  expect(now()).toEqual(['HDP']);
  place(db, deviceSiteEdits, null, '1');
  place(db, siteRuleEdits, [], siteRulesKey);
  // what stands in the file is no other fact for it
  writeFacts(db, 'device', 2, 1, [{ key: '', content: { ...facts, site: 'OLD' } }], true);
  expect([now(), factHistory(db, 'device').length]).toEqual([[''], 1]);
});

test('preferences are each person’s own', async () => {
  const [marla, osric] = [
    await addPerson(store.db, 'marla', 'ostermere-lights', 'viewer'),
    await addPerson(store.db, 'osric', 'harbour-depot-7', 'viewer'),
  ];
  writePreference(store.db, marla.id, 'columns.devices', ['name']);
  writePreference(store.db, marla.id, 'columns.devices', ['name', 'serial']);
  expect([readPreferences(store.db, marla.id), readPreferences(store.db, osric.id)]).toEqual([
    { 'columns.devices': ['name', 'serial'] },
    {},
  ]);
});

describe('signatures of a person', () => {
  const put = (text: string) => {
    mkdirSync(path.join(folder, 'signatures'), { recursive: true });
    writeFileSync(path.join(folder, 'signatures', 'own.json'), text);
  };
  test('join the program’s, and one with the same id takes its place', () => {
    const before = readSignatures(folder).length;
    put(JSON.stringify({ id: 'kestrane-ring', order: 5, match: {}, vendor: 'Kestrane', role: 'router' }));
    const after = readSignatures(folder);
    expect([after.length, after.find(({ id }) => id === 'kestrane-ring')?.role]).toEqual([before, 'router']);
  });
  test.each([
    ['{"id":', 'is no JSON'],
    ['{"id": "x"}', 'it needs id, order and match'],
  ])('%s is refused with its file', (text, words) => {
    put(text);
    expect(() => readSignatures(folder)).toThrow(words);
    expect(() => readSignatures(folder)).toThrow('own.json');
  });
});

test('opening a folder of an older program copies the database first, then brings it up to date with what it holds', () => {
  saveScope(store.db, { ...scopeDefaults, name: 'north', ranges: ['10.72.4.0/24'], credentials: ['first'] });
  saveCredential(store, { name: 'first', kind: 'snmp2c', community: 'one-secret' });
  // as the first release left it: without the tables and columns that later migrations added
  const tablesIn = (sql: string) => [...sql.matchAll(/CREATE TABLE `(\w+)`/g)].map((match) => match[1]);
  const first = tablesIn(readFileSync('src/store/migrations/0000_first.sql', 'utf8'));
  const later = (
    store.raw
      .prepare(
        "select name from sqlite_master where type = 'table' and name not like 'sqlite%' and name not like '\\_\\_%' escape '\\'",
      )
      .all() as { name: string }[]
  ).filter(({ name }) => !first.includes(name));
  expect(later.length).toBeGreaterThan(0);
  for (const { name } of later) store.raw.exec(`drop table ${name}`);
  const laterSql = readdirSync('src/store/migrations')
    .filter((file) => file.endsWith('.sql') && !file.startsWith('0000'))
    .map((file) => readFileSync(path.join('src/store/migrations', file), 'utf8'));
  // renamed columns first: what earlier migrations do to them is by their first names
  for (const [, table = '', before = '', after = ''] of laterSql.flatMap((sql) => [
    ...sql.matchAll(/ALTER TABLE `(\w+)` RENAME COLUMN [`"](\w+)[`"] TO [`"](\w+)[`"]/g),
  ]))
    store.raw.exec(`alter table ${table} rename column ${after} to ${before}`);
  const changed = (words: string) =>
    laterSql.flatMap((sql) => [...sql.matchAll(new RegExp(`ALTER TABLE \`(\\w+)\` ${words} \`(\\w+)\``, 'g'))]);
  // an index goes before the column it stands on
  const indexesOf = (table: string) =>
    store.raw.prepare("select name from sqlite_master where type = 'index' and tbl_name = ?").all(table) as {
      name: string;
    }[];
  const firstSql = readFileSync('src/store/migrations/0000_first.sql', 'utf8');
  for (const table of new Set(changed('ADD').map(([, own = '']) => own)))
    for (const { name } of indexesOf(table))
      if (!name.startsWith('sqlite') && !firstSql.includes(`\`${name}\``)) store.raw.exec(`drop index ${name}`);
  for (const [, table = '', column = ''] of changed('ADD'))
    store.raw.exec(`alter table ${table} drop column ${column}`);
  for (const [, table = '', column = ''] of changed('DROP COLUMN'))
    store.raw.exec(`alter table ${table} add ${column}`);
  for (const [, name = ''] of laterSql.flatMap((sql) => [...sql.matchAll(/DROP INDEX `(\w+)`/g)])) {
    const [made] = new RegExp(`CREATE (UNIQUE )?INDEX \`${name}\`[^;]*`).exec(firstSql) ?? [];
    if (made) store.raw.exec(made.replace('INDEX', 'INDEX if not exists'));
  }
  // tables that are gone since, with what was in one of them
  const isThere = (name: string) => store.raw.prepare('select 1 from sqlite_master where name = ?').get(name);
  for (const name of first.filter((one) => one !== undefined && !isThere(one)))
    store.raw.exec(new RegExp(`CREATE TABLE \`${name}\`[^;]*`).exec(firstSql)?.[0] ?? '');
  store.raw.exec(
    "insert into target (vendor, family, release, set_by, set_at) values ('Kestrane', 'K-Ring', '7.4.9', 'osric', '2026-11-02')",
  );
  store.raw.exec(
    'delete from __drizzle_migrations where created_at > (select min(created_at) from __drizzle_migrations)',
  );
  store.close();
  store = openStore(folder);
  expect(readdirSync(folder).filter((file) => file.startsWith('before-migration-'))).toHaveLength(1);
  const told = { vendor: 'Kestrane', family: 'K-Ring', release: '7.4.9', setBy: 'osric', setAt: '2026-11-02' };
  expect(readTargets(store.db)).toEqual([completeTarget(told)]);
  deleteTarget(store.db, told);
  expect(readTargets(store.db)).toEqual([]);
  expect([listScopes(store.db).length, openCredentials(store, ['first'])]).toEqual([
    1,
    // it may be sent where the scope that tries it asks
    [
      {
        name: 'first',
        kind: 'snmp2c',
        community: 'one-secret',
        approved: { prefixes: ['10.72.4.0/24'], ports: [161, 443] },
      },
    ],
  ]);
  store.close();
  store = openStore(folder);
  expect(readdirSync(folder).filter((file) => file.startsWith('before-migration-'))).toHaveLength(1);
});
