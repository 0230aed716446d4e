import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { openStore, type Store } from './base/database';
import { ChangeSignal } from './changeSignal';
import { queueJob } from './jobs';

let folder: string;
let store: Store;
let changes: ChangeSignal;
const long = 20_000;

beforeEach(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-signal-'));
  store = openStore(folder);
  changes = new ChangeSignal(folder);
  // what was written before is told of late
  await new Promise((resolve) => setTimeout(resolve, 50));
});
afterEach(() => {
  changes.close();
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

test('what is written by this process ends the wait', async () => {
  const { mark } = changes;
  const waiting = changes.since(mark, long);
  queueJob(store.db, 'errand', {});
  await waiting;
  // and what was written before one began to wait
  await changes.since(mark, long);
  expect(changes.mark).toBeGreaterThan(mark);
});

test('what is written by another process ends it too', async () => {
  const waiting = changes.since(changes.mark, long);
  const file = path.join(folder, 'bolide.sqlite');
  const script = `const d = new (require('better-sqlite3'))(${JSON.stringify(file)}); d.exec("insert into setting values ('x', '1')"); d.close()`;
  expect(spawnSync(process.execPath, ['-e', script], { cwd: process.cwd() }).status).toBe(0);
  await waiting;
});

test('neither reading nor the engine’s own beats end it', async () => {
  const { mark } = changes;
  store.raw.prepare('select count(*) from job').get();
  writeFileSync(path.join(folder, 'engine.json'), '{}');
  await changes.since(mark, 300);
  expect(changes.mark).toBe(mark);
});
