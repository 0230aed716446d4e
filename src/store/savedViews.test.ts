import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { openStore, type Store } from './base/database';
import { addPerson } from './people';
import { viewEdits } from './edits/views';
import { place } from './edits/place';
import { mayDeleteView, ownViewNamed, viewNumbered, viewsFor, type KeptView } from './savedViews';

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

const saveView = (personId: number, given: Omit<KeptView, 'personId' | 'savedAt'>): string => {
  const after = { ...given, personId, savedAt: '2026-11-23T06:00:00.000Z' };
  const known = ownViewNamed(store.db, after);
  return place(store.db, viewEdits, after, known === null ? null : String(known));
};
const view = (name: string, more: Partial<KeptView> = {}) => ({
  name,
  path: '/estate',
  query: 'where=role%3Dswitch',
  shared: false,
  ...more,
});
const seen = (person: number) =>
  viewsFor(store.db, person).map(({ name, by, own }) => `${name} of ${own ? 'oneself' : by}`);

test('one’s own and those that are shared are seen, nobody else’s', () => {
  saveView(osric, view('switches'));
  saveView(osric, view('old releases', { shared: true }));
  saveView(wenna, view('mine'));
  expect([seen(osric), seen(wenna)]).toEqual([
    ['old releases of oneself', 'switches of oneself'],
    ['mine of oneself', 'old releases of osric'],
  ]);
});

test('one of the same name on the same page is taken the place of; on another page, or of another person, it stays', () => {
  const id = saveView(osric, view('switches'));
  expect(saveView(osric, view('switches', { query: 'where=role%3Drouter', shared: true }))).toBe(id);
  saveView(osric, view('switches', { path: '/ports' }));
  saveView(wenna, view('switches'));
  expect(viewsFor(store.db, osric).map(({ path: page, query }) => [page, query])).toEqual([
    ['/estate', 'where=role%3Drouter'],
    ['/ports', 'where=role%3Dswitch'],
  ]);
});

test('only whose it is deletes it, or an administrator what is shared', () => {
  const own = viewNumbered(store.db, Number(saveView(osric, view('switches'))));
  const shared = viewNumbered(store.db, Number(saveView(osric, view('old releases', { shared: true }))));
  if (!own || !shared) throw new Error('no view was saved');
  const [hers, his, chief] = [
    { id: wenna, role: 'operator' },
    { id: osric, role: 'viewer' },
    { id: wenna, role: 'administrator' },
  ];
  expect([mayDeleteView(own, hers), mayDeleteView(shared, hers), mayDeleteView(own, chief)]).toEqual([
    false,
    false,
    false,
  ]);
  expect([mayDeleteView(shared, chief), mayDeleteView(own, his)]).toEqual([true, true]);
});
