import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import path from 'node:path';
import { eq } from 'drizzle-orm';
import { scopeDefaults } from '../src/core/estate/scope';
import type { Credential } from '../src/core/estate/credential';
import { openStore, type Store } from '../src/store/base/database';
import { readJob } from '../src/store/jobs';
import { addToken } from '../src/store/tokens';
import { survey, visit } from '../src/store/base/schema';
import { saveCredential } from '../src/store/credentials';
import { startApplication, type Application } from './support/application';
import {
  home,
  onLoopback,
  sampleCredentials,
  startAgents,
  stop,
  stopAll,
  temporaryFolder,
  processOf,
} from './support/program';

/** The real application whose engine is killed with work in its hands. */
let agents: Awaited<ReturnType<typeof startAgents>>;
let app: Application;
let store: Store;
let token: string;
let scopeId: number;

/** Fourteen devices and no silence between them, so that a survey one at a time is not long. */
const ranges = ['10.72.0.1-2', '10.72.3.1-2', '10.72.4.1-2', '10.72.5.1-2', '10.72.6.1-2', '10.72.1.11-14'];

async function call<Answer>(path_: string, body?: unknown): Promise<Answer> {
  const response = await fetch(`${app.address}/api/v1/${path_}`, {
    method: body === undefined ? 'GET' : 'POST',
    headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  if (!response.ok) throw new Error(`${path_}: ${response.status} ${await response.text()}`);
  return (await response.json()) as Answer;
}
async function until<Value>(what: string, look: () => Value | undefined | null | false): Promise<Value> {
  for (let attempt = 0; attempt < 1200; attempt++) {
    const found = look();
    if (found) return found;
    await new Promise((resolve) => setTimeout(resolve, 25));
  }
  throw new Error(`waited in vain for ${what}`);
}
const surveyRow = (id: number) => store.db.select().from(survey).where(eq(survey.id, id)).get();
const doneVisits = (id: number) =>
  store.db
    .select()
    .from(visit)
    .where(eq(visit.surveyId, id))
    .all()
    .filter(({ state }) => state === 'done');

beforeAll(async () => {
  const data = temporaryFolder();
  store = openStore(data);
  token = addToken(store.db, { name: 'test', role: 'operator' });
  [app, agents] = await Promise.all([startApplication(data), startAgents(1)]);
  const approved = onLoopback(agents.port);
  for (const credential of sampleCredentials) saveCredential(store, { ...(credential as Credential), approved });
  // one at a time, so that there is a middle to be killed in
  ({ id: scopeId } = await call<{ id: number }>('scopes', {
    ...scopeDefaults,
    name: 'Ostermere',
    ranges,
    translations: [agents.via.replace(/^(.*)=(.*):(\d+)$/, '$1 via $2 port $3')],
    credentials: ['v3', 'read-only'],
    concurrency: 1,
    timeoutMs: 300,
    retries: 1,
  }));
});
afterAll(async () => {
  store.close();
  await stopAll();
});

describe('an engine that is killed', () => {
  test('is started again, takes its survey up where it broke off, and seals it once', async () => {
    const { jobId } = await call<{ jobId: number }>('surveys', { scopeId });
    const before = await until('five answers', () => {
      const id = readJob(store.db, jobId)?.surveyId;
      const list = id ? doneVisits(id) : [];
      return list.length >= 5 && list;
    });
    const killed = readJob(store.db, jobId)?.worker ?? '';
    process.kill(processOf(killed), 'SIGKILL');
    const surveyId = before[0]?.surveyId ?? 0;
    expect(surveyRow(surveyId)?.sealedAt).toBeNull();
    await until('the seal', () => surveyRow(surveyId)?.state === 'sealed');
    const job = await until('the end of the job', () => {
      const now = readJob(store.db, jobId);
      return now?.state === 'done' && now;
    });
    expect([job.worker === killed, job.attempts]).toEqual([false, 2]);
    expect(store.db.select().from(survey).all()).toHaveLength(1);
    expect(surveyRow(surveyId)?.summary).toMatchObject({ failures: [], devices: { found: 14 } });
    const after = new Map(doneVisits(surveyId).map((row) => [row.address, row]));
    for (const { address, seq, deviceId } of before) expect(after.get(address)).toMatchObject({ seq, deviceId });
    expect(await call('devices?size=1')).toMatchObject({ total: 14, survey: surveyId });
  });

  test('the next survey of the same network finds nothing changed', async () => {
    const { jobId } = await call<{ jobId: number }>('surveys', { scopeId });
    const id = await until('the second survey', () => readJob(store.db, jobId)?.surveyId);
    await until('its seal', () => surveyRow(id)?.state === 'sealed');
    const { rows } = await call<{
      rows: { subject: string; kind: string; field: string; before: string; after: string }[];
    }>(`changes?survey=${id}`);
    expect(
      rows.map(({ subject, kind, field, before, after }) => [subject, kind, field, before, after].join(' ')),
    ).toEqual([]);
  });

  test('while it concludes and seals changes nothing either: each survey is sealed once, and whole', async () => {
    let caught = 0;
    for (const later of [0, 40]) {
      const { jobId } = await call<{ jobId: number }>('surveys', { scopeId });
      const id = await until('its survey', () => readJob(store.db, jobId)?.surveyId);
      // looked at without a pause: it lasts a tenth of a second
      for (const end = Date.now() + 30_000; surveyRow(id)?.phase !== 'conclude' && Date.now() < end;);
      await new Promise((resolve) => setTimeout(resolve, later));
      if (surveyRow(id)?.state === 'running') caught++;
      process.kill(processOf(readJob(store.db, jobId)?.worker ?? ''), 'SIGKILL');
      await until('the end of the job', () => readJob(store.db, jobId)?.state === 'done');
      expect(surveyRow(id)).toMatchObject({
        state: 'sealed',
        summary: { failures: [], devices: { found: 14, changed: 0 } },
      });
      expect(await call(`changes?survey=${id}`)).toMatchObject({ total: 0 });
      expect(await call('devices?size=1')).toMatchObject({ total: 14, survey: id });
    }
    expect(caught).toBeGreaterThan(0);
    const whole = store.raw.pragma('integrity_check', { simple: true });
    expect(whole).toBe('ok');
  });

  test('a survey of the command line that was killed is given up, and blocks nobody', async () => {
    const child = spawn(
      process.execPath,
      [
        path.join(home, 'bin/bolide'),
        'survey',
        '--data',
        app.data,
        '--range',
        ranges.join(','),
        '--community',
        'olr-readonly',
        '--via',
        agents.via,
        '--timeout',
        '200',
        '--concurrency',
        '1',
      ],
      { stdio: 'ignore' },
    );
    const id = await until(
      'its survey',
      () =>
        store.db
          .select()
          .from(survey)
          .all()
          .find(({ scopeName }) => scopeName === 'command line')?.id,
    );
    await until('some visits', () => doneVisits(id).length >= 2);
    // it waits for its turn, and so does the same asked for again
    const { jobId } = await call<{ jobId: number }>('surveys', { scopeId });
    expect((await call<{ jobId: number }>('surveys', { scopeId })).jobId).toBe(jobId);
    await new Promise((resolve) => setTimeout(resolve, 1500));
    expect([readJob(store.db, jobId)?.state, surveyRow(id)?.state]).toEqual(['queued', 'running']);
    await stop(child, 'SIGKILL');
    await until('the giving up', () => surveyRow(id)?.state === 'failed');
    const next = await until('the survey after', () => readJob(store.db, jobId)?.surveyId);
    await until('its seal', () => surveyRow(next)?.state === 'sealed');
    expect(await call('devices?size=1')).toMatchObject({ total: 14, survey: next });
  });
});
