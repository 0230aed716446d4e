import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { openStore, type Store } from './base/database';
import { addToken, listTokens, revokeToken, tokenOwner } from './tokens';

let folder: string;
let store: Store;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-tokens-'));
  store = openStore(folder);
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

const at = (text: string) => new Date(text);

test('a token opens until its last day is over, and nothing once it is revoked', () => {
  const text = addToken(store.db, { name: 'nightly', role: 'viewer', expiresOn: '2026-11-23' });
  expect(tokenOwner(store.db, text, at('2026-11-23T23:00:00Z'))?.person).toMatchObject({
    name: 'token nightly',
    role: 'viewer',
  });
  expect(tokenOwner(store.db, text, at('2026-11-24T00:00:00Z'))).toBeNull();
  const lasting = addToken(store.db, { name: 'ledger', role: 'operator' });
  const id = listTokens(store.db).find(({ name }) => name === 'ledger')?.id ?? 0;
  expect([revokeToken(store.db, id), revokeToken(store.db, id), tokenOwner(store.db, lasting)]).toEqual([
    'ledger',
    null,
    null,
  ]);
});

test('its last use is kept to the hour, and its text nowhere; collectors’ are not among them', () => {
  const text = addToken(store.db, { name: 'nightly', role: 'viewer' });
  addToken(store.db, { name: 'hdp-1', role: 'collector' });
  const usedAt = () => listTokens(store.db).map(({ usedAt: used }) => used);
  expect(usedAt()).toEqual([null]);
  for (const moment of ['2026-11-23T06:00:00.000Z', '2026-11-23T06:59:00.000Z']) tokenOwner(store.db, text, at(moment));
  expect(usedAt()).toEqual(['2026-11-23T06:00:00.000Z']);
  tokenOwner(store.db, text, at('2026-11-23T07:00:00.000Z'));
  expect(usedAt()).toEqual(['2026-11-23T07:00:00.000Z']);
  expect(JSON.stringify(store.db.$client.prepare('select * from token').all())).not.toContain(text);
});
