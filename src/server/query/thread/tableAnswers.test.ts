import { afterAll, beforeAll, expect, jest, test } from '@jest/globals';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { openStore, type Store } from '../../../store/base/database';
import { tableAnswers } from './tableAnswers';

/** A thread that reads once, and dies when it is asked of survey 13. */
const program = `
import { parentPort } from 'node:worker_threads';
parentPort.postMessage({ read: 1 });
parentPort.on('message', (message) => {
  if (message.with?.[0] === 13) process.exit(1);
  parentPort.postMessage({ number: message.number, answer: message.with });
});
`;
let folder: string;
let store: Store;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-thread-'));
  store = openStore(folder);
  process.env.BOLIDE_TABLE_THREAD = path.join(folder, 'thread.mjs');
  writeFileSync(process.env.BOLIDE_TABLE_THREAD, program);
});
afterAll(() => {
  delete process.env.BOLIDE_TABLE_THREAD;
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

test('a thread that dies fails what it was asked, and goes on reading ahead without anybody asking', async () => {
  jest.spyOn(console, 'error').mockImplementation(() => undefined);
  const tables = tableAnswers(store);
  let reads = 0;
  tables.onRead(() => reads++);
  const until = async (wanted: number) => {
    while (reads < wanted) await new Promise((resolve) => setTimeout(resolve, 20));
  };
  await until(1);
  const ask = (survey: number) => tables.ask('judgeCheck', survey as never, 0);
  await expect(ask(13)).rejects.toThrow('the thread of tables ended');
  // nobody asks: it is begun again by itself
  await until(2);
  expect(await ask(7)).toEqual([7, 0]);
  expect(tables.silentMs(Date.now() + 90_000)).toBeGreaterThan(60_000);
  jest.restoreAllMocks();
});
