import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { openStore, type Store } from './base/database';
import { addPerson } from './people';
import { deleteView, saveView, viewsFor } from './savedViews';

let store: Store;
let folder: string;
let osric: number;
let wenna: number;

beforeEach(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-views-'));
  store = openStore(folder);
  osric = (await addPerson(store.db, 'osric', 'harbour-depot-7', 'viewer')).id;
  wenna = (await addPerson(store.db, 'wenna', 'signal-house-9', 'operator')).id;
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

const view = (name: string, more: Partial<Parameters<typeof saveView>[2]> = {}) => ({
  name,
  path: '/estate',
  query: 'where=role%3Dswitch',
  shared: false,
  ...more,
});
const seen = (person: number) =>
  viewsFor(store.db, person).map(({ name, by, own }) => `${name} of ${own ? 'oneself' : by}`);

test('one’s own and those that are shared are seen, nobody else’s', () => {
  saveView(store.db, osric, view('switches'));
  saveView(store.db, osric, view('old releases', { shared: true }));
  saveView(store.db, wenna, view('mine'));
  expect([seen(osric), seen(wenna)]).toEqual([
    ['old releases of oneself', 'switches of oneself'],
    ['mine of oneself', 'old releases of osric'],
  ]);
});

test('one of the same name on the same page is taken the place of; on another page, or of another person, it stays', () => {
  const id = saveView(store.db, osric, view('switches'));
  expect(saveView(store.db, osric, view('switches', { query: 'where=role%3Drouter', shared: true }))).toBe(id);
  saveView(store.db, osric, view('switches', { path: '/ports' }));
  saveView(store.db, wenna, view('switches'));
  expect(viewsFor(store.db, osric).map(({ path: page, query }) => [page, query])).toEqual([
    ['/estate', 'where=role%3Drouter'],
    ['/ports', 'where=role%3Dswitch'],
  ]);
});

test('only whose it is deletes it, or an administrator what is shared', () => {
  const own = saveView(store.db, osric, view('switches'));
  const shared = saveView(store.db, osric, view('old releases', { shared: true }));
  expect([
    deleteView(store.db, own, wenna, false),
    deleteView(store.db, shared, wenna, false),
    deleteView(store.db, own, wenna, true),
  ]).toEqual([null, null, null]);
  expect([
    deleteView(store.db, shared, wenna, true),
    deleteView(store.db, own, osric, false),
    deleteView(store.db, own, osric, false),
  ]).toEqual(['old releases', 'switches', null]);
});
