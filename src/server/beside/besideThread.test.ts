import { afterAll, beforeAll, expect, jest, test } from '@jest/globals';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { openStore, type Store } from '../../store/base/database';
import { Problem } from '../access/problem';
import { BesideThread } from './besideThread';

/** A thread that says what it was sent, and dies at the word of it. */
const program = `
import { parentPort } from 'node:worker_threads';
parentPort.on('message', ({ number, method, url, headers, body }) => {
  const words = Buffer.from(body).toString();
  if (words === 'die') process.exit(1);
  const answer = JSON.stringify({ method, url, key: new Headers(headers).get('idempotency-key'), words });
  parentPort.postMessage({ number, status: 201, headers: [['content-type', 'application/json']], body: Buffer.from(answer) });
});
`;
let folder: string;
let store: Store;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-beside-'));
  store = openStore(folder);
  (globalThis as { bolideStore?: Store }).bolideStore = store;
  process.env.BOLIDE_DATA = folder;
  writeFileSync(path.join(folder, 'work.mjs'), program);
});
afterAll(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

const request = new Request('http://bolide.test/api/v1/imports/makers', {
  method: 'POST',
  headers: { 'idempotency-key': 'press-0001' },
});

test('a request goes to the thread as it came, and its answer as it is told; one that dies fails what it was at, and is begun again', async () => {
  jest.spyOn(console, 'error').mockImplementation(() => undefined);
  const beside = new BesideThread(path.join(folder, 'work.mjs'));
  const send = (words: string) => beside.answer(request, Buffer.from(words));
  const answer = await send('prefix,maker');
  expect([answer.status, await answer.json()]).toEqual([
    201,
    { method: 'POST', url: request.url, key: null, words: 'prefix,maker' },
  ]);
  const failed = await send('die').catch((error: unknown) => error);
  expect(failed).toBeInstanceOf(Problem);
  expect(failed).toMatchObject({ status: 503, title: 'Broken off' });
  expect((await send('again')).status).toBe(201);
  jest.restoreAllMocks();
});
