import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { workerName } from '../collect/jobs/worker';
import { openStore, type Store } from './base/database';
import { survey } from './base/schema';
import {
  beat,
  BusyError,
  activeJob,
  waitingSurveys,
  queueSurveyInTurn,
  canResume,
  endJob,
  holdSurvey,
  leaseMs,
  queueJob,
  queueSurvey,
  readJob,
  releaseJobs,
  requestJobCancel,
  takeJob,
  updateJob,
  type Job,
} from './jobs';

let folder: string;
let store: Store;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-jobs-'));
  store = openStore(folder);
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

const job = (id: number): Job => {
  const found = readJob(store.db, id);
  if (!found) throw new Error('no job');
  return found;
};
const begun = (): number =>
  store.db
    .insert(survey)
    .values({ scopeName: 'x', scope: {}, state: 'running', startedAt: '2026-11-23T06:00:00Z' })
    .returning({ id: survey.id })
    .get().id;
const start = 1_000_000;
const take = (worker: string, now = start) => takeJob(store.db, worker, ['survey'], now);

describe('a lease', () => {
  test('is held as long as the heart beats, and nobody else takes the job meanwhile', () => {
    const id = queueSurvey(store.db, { scopeId: 1 });
    expect(take('a')).toMatchObject({ id, isTakenUp: false, attempts: 1 });
    expect(take('b', start + leaseMs)).toBeNull();
    expect(beat(store.db, 'a', start + leaseMs)).toEqual([{ id, cancelRequested: false }]);
    expect(take('b', start + 2 * leaseMs)).toBeNull();
    expect(take('b', start + 2 * leaseMs + 1)).toMatchObject({ id, isTakenUp: true, attempts: 2, worker: 'b' });
  });
  test('that was lost does not come back: whoever held it learns so, and cannot end the job any more', () => {
    const id = queueSurvey(store.db, { scopeId: 1 });
    const first = take('a');
    take('b', start + leaseMs + 1);
    expect(beat(store.db, 'a', start + leaseMs + 2)).toEqual([]);
    if (first) endJob(store.db, first, { state: 'done' });
    expect(job(id)).toMatchObject({ state: 'running', worker: 'b' });
    endJob(store.db, { id, worker: 'b' }, { state: 'done' });
    expect(job(id)).toMatchObject({ state: 'done' });
  });
  test('is given back by whoever knows that a worker has ended', () => {
    const id = queueSurvey(store.db, { scopeId: 1 });
    take('a');
    releaseJobs(store.db, 'a');
    expect(take('b', start + 1)).toMatchObject({ id, isTakenUp: true });
  });
  test('a job of before there were leases is taken up', () => {
    const id = queueSurvey(store.db, { scopeId: 1 });
    updateJob(store.db, id, { state: 'running' });
    expect(take('a')).toMatchObject({ id, isTakenUp: true });
  });
});

test('a process that comes back under the number of one that is gone is another: what that held is taken up after its lease', () => {
  const id = queueJob(store.db, 'errand', {});
  // in a container each start has the same number
  const [gone, again] = [workerName(undefined, 7), workerName(undefined, 7)];
  expect(gone).not.toBe(again);
  takeJob(store.db, gone, ['errand'], 0);
  expect(beat(store.db, again, 1)).toEqual([]);
  expect(takeJob(store.db, again, ['errand'], 1)).toBeNull();
  expect(takeJob(store.db, again, ['errand'], leaseMs + 1)).toMatchObject({ id, isTakenUp: true, attempts: 2 });
});

test('what others left in its middle comes before what waits, and kinds keep to themselves', () => {
  const test = queueJob(store.db, 'credentialTest', {});
  const waits = queueJob(store.db, 'portLook', {});
  const left = queueJob(store.db, 'portLook', {});
  updateJob(store.db, left, { state: 'running', worker: 'gone', leaseUntil: 0 });
  expect(takeJob(store.db, 'a', ['portLook'], start)?.id).toBe(left);
  expect(takeJob(store.db, 'a', ['portLook'], start)?.id).toBe(waits);
  expect(takeJob(store.db, 'a', ['portLook'], start)).toBeNull();
  expect(takeJob(store.db, 'a', ['credentialTest'], start)?.id).toBe(test);
});

test('one survey at a time; the place of one whose worker is gone can be held again', () => {
  queueSurvey(store.db, { scopeId: 1 });
  expect(() => queueSurvey(store.db, { scopeId: 1 })).toThrow(BusyError);
  expect(() => holdSurvey(store.db, 'by hand', start)).toThrow(BusyError);
  take('a');
  expect(() => holdSurvey(store.db, 'by hand', start + leaseMs)).toThrow(BusyError);
  expect(holdSurvey(store.db, 'by hand', start + leaseMs + 1)).toBeGreaterThan(0);
});

test('surveys wait for their turn; one that waits is not queued twice, and none begins beside the command line', () => {
  const byHand = holdSurvey(store.db, 'by hand', start);
  const first = queueSurveyInTurn(store.db, { scopeId: 1 });
  const second = queueSurveyInTurn(store.db, { scopeId: 2 });
  expect(queueSurveyInTurn(store.db, { scopeId: 1 })).toBe(first);
  expect(waitingSurveys(store.db).map(({ id }) => id)).toEqual([first, second]);
  expect(activeJob(store.db)?.id).toBe(byHand);
  expect(takeJob(store.db, 'a', ['survey'], start)).toBeNull();
  endJob(store.db, job(byHand), { state: 'done' });
  expect(takeJob(store.db, 'a', ['survey'], start)?.id).toBe(first);
  expect(takeJob(store.db, 'b', ['survey'], start)).toBeNull();
});

test('a broken-off survey is taken up only if it had a saved scope and none has begun after it', () => {
  const queued = queueSurvey(store.db, { scopeId: 1 });
  take('a');
  updateJob(store.db, queued, { surveyId: begun() });
  expect(canResume(store.db, job(queued))).toBe(true);
  const byHand = holdSurvey(store.db, 'by hand', start + leaseMs + 1);
  updateJob(store.db, byHand, { surveyId: begun() });
  expect([canResume(store.db, job(queued)), canResume(store.db, job(byHand))]).toEqual([false, false]);
  for (const id of [queued, byHand]) endJob(store.db, job(id), { state: 'failed', error: 'its process ended' });
  const surveys = store.db.select().from(survey).all();
  expect(surveys.map(({ state, sealedAt }) => [state, sealedAt])).toEqual([
    ['failed', null],
    ['failed', null],
  ]);
  expect(job(queued).error).toBe('its process ended');
});

test('a wish to cancel reaches whoever works on the job with the next beat; what has ended cannot be cancelled', () => {
  const id = queueJob(store.db, 'portLook', {});
  expect(requestJobCancel(store.db, id)).toBe(true);
  takeJob(store.db, 'a', ['portLook'], start);
  expect(beat(store.db, 'a', start)).toEqual([{ id, cancelRequested: true }]);
  endJob(store.db, { id, worker: 'a' }, { state: 'cancelled' });
  expect(requestJobCancel(store.db, id)).toBe(false);
});
