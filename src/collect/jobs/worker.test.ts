import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import * as yup from 'yup';
import { openStore, type Store } from '../../store/base/database';
import { queueJob, readJob, requestJobCancel, updateJob } from '../../store/jobs';
import { jobKind, unlessCancelled, type JobKind } from './jobKind';
import { Worker, workerName } from './worker';

let folder: string;
let store: Store;
let stop: boolean;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-worker-'));
  store = openStore(folder);
  stop = false;
  jest.spyOn(console, 'error').mockImplementation(() => undefined);
});
afterEach(() => {
  jest.restoreAllMocks();
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

const payload = yup.object({ words: yup.string().required() }).noUnknown();
type Body = yup.InferType<typeof payload>;
const base = { kind: 'errand', lane: 'questions' as const, payload, attempts: 2 };
const until = async (done: () => boolean) => {
  while (!done()) await new Promise((resolve) => setTimeout(resolve, 5));
};
const ended = (id: number) => !['queued', 'running'].includes(readJob(store.db, id)?.state ?? '');

/** Lets a worker with one kind go on until some jobs have ended. */
async function perform(
  kind: JobKind,
  ids: number[],
  meanwhile: (worker: Worker) => Promise<void> | void = () => undefined,
) {
  const worker = new Worker(store, workerName(), [kind]);
  const lane = worker.lane(
    kind.lane,
    () => stop,
    () => undefined,
  );
  await meanwhile(worker);
  await until(() => ids.every(ended));
  stop = true;
  await lane;
  return ids.map((id) => readJob(store.db, id));
}

test('a job is done with what it found out, or failed with its reason in words', async () => {
  const kind = jobKind<Body>({
    ...base,
    run: ({ body }) =>
      body.words === 'no' ? Promise.reject(new Error('nobody wants it')) : Promise.resolve({ said: body.words }),
  });
  const ids = [{ words: 'yes' }, { words: 'no' }, { words: 7 }].map((body) => queueJob(store.db, 'errand', body));
  expect(await perform(kind, ids)).toMatchObject([
    { state: 'done', result: { said: 'yes' }, error: null, attempts: 1 },
    { state: 'failed', error: 'nobody wants it' },
    { state: 'failed', error: expect.stringContaining('this job is not understood: words') },
  ]);
});

test('what another worker left in its middle is begun again only where its kind says so, and not for ever', async () => {
  const run = jest.fn(() => Promise.resolve());
  const undone = jest.fn();
  const left = (attempts: number) => {
    const id = queueJob(store.db, 'errand', { words: 'x' });
    updateJob(store.db, id, { state: 'running', worker: 'gone', leaseUntil: 0, attempts });
    return id;
  };
  const resumes = jobKind<Body>({ ...base, run, resumes: () => true, undone });
  expect(await perform(resumes, [left(1), left(2)])).toMatchObject([
    { state: 'done', attempts: 2 },
    { state: 'failed', error: expect.stringContaining('Begun 2 times') },
  ]);
  expect([run.mock.calls.length, undone.mock.calls.length]).toEqual([1, 1]);
  stop = false;
  const never = jobKind<Body>({ ...base, run, undone });
  expect(await perform(never, [left(1)])).toMatchObject([
    { state: 'failed', error: 'The process that ran this ended before it was done.' },
  ]);
});

test('a job is cancelled before it begins, and in its middle', async () => {
  let begun = 0;
  const kind = jobKind<Body>({
    ...base,
    run: ({ signal }) => {
      begun++;
      return unlessCancelled(signal, new Promise(() => undefined));
    },
  });
  const [running, waiting] = [
    queueJob(store.db, 'errand', { words: 'a' }),
    queueJob(store.db, 'errand', { words: 'b' }),
  ];
  requestJobCancel(store.db, waiting);
  const jobs = await perform(kind, [running, waiting], async (worker) => {
    await until(() => ended(waiting) && begun === 1);
    requestJobCancel(store.db, running);
    worker.beat();
  });
  expect(jobs).toMatchObject([
    { state: 'cancelled', error: 'Cancelled.' },
    { state: 'cancelled', error: 'Cancelled before it began.' },
  ]);
  expect(begun).toBe(1);
});

test('work that somebody else has taken up is broken off, and its end is theirs to tell', async () => {
  let isBroken = false;
  const ended = jest.fn();
  const kind = jobKind<Body>({
    ...base,
    ended,
    run: async ({ signal }) => {
      await until(() => signal.aborted);
      isBroken = true;
    },
  });
  const id = queueJob(store.db, 'errand', { words: 'a' });
  const worker = new Worker(store, 'slow', [kind]);
  const lane = worker.lane(
    'questions',
    () => stop,
    () => undefined,
  );
  await until(() => readJob(store.db, id)?.worker === 'slow');
  updateJob(store.db, id, { worker: 'other' });
  worker.beat();
  await until(() => isBroken);
  stop = true;
  await lane;
  expect(readJob(store.db, id)).toMatchObject({ state: 'running', worker: 'other' });
  // its files, say, are still needed
  expect(ended).not.toHaveBeenCalled();
});

test('a lane that cannot go on ends with its fault, so that somebody notices', async () => {
  const worker = new Worker(store, 'a', [jobKind<Body>({ ...base, run: () => Promise.resolve() })]);
  store.close();
  await expect(
    worker.lane(
      'questions',
      () => stop,
      () => undefined,
    ),
  ).rejects.toThrow(/not open/);
  store = openStore(folder);
});
