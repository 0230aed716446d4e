import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { openStore, type Store } from '../../store/base/database';
import { queueJob, updateJob } from '../../store/jobs';
import { today } from './today';

let folder: string;
let store: Store;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-today-'));
  store = openStore(folder);
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

const copy = (state: 'failed' | 'done') =>
  updateJob(store.db, queueJob(store.db, 'backup', {}), { state, error: state === 'failed' ? 'no room' : null });

test('that the last copy of the data could not be made is told until one is', () => {
  const told = () => today(store, 0, null).attention.map(({ words, href }) => [words, href]);
  expect(told()).toEqual([]);
  copy('failed');
  expect(told()).toEqual([['The last copy of the data could not be made', '/settings/backups']]);
  copy('done');
  expect(told()).toEqual([]);
});
