// covers: src/cli/serving src/collect/jobs src/server/health src/store/base/lock
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync, type ChildProcess } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, statfsSync, statSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { getPriority } from 'node:os';
import path from 'node:path';
import Database from 'better-sqlite3';
import { scopeDefaults } from '../src/core/estate/scope';
import type { Credential } from '../src/core/estate/credential';
import { openStore, type Store } from '../src/store/base/database';
import { saveCredential } from '../src/store/credentials';
import { addToken } from '../src/store/tokens';
import { startApplication, type Application } from './support/application';
import { onLoopback, sampleCredentials, startAgents, stop, stopAll, temporaryFolder } from './support/program';

/** The real application, whose database, disk and processes fail under it. Each time it goes on by itself. */
const ranges = ['10.72.0.1-2', '10.72.3.1-2', '10.72.4.1-2', '10.72.5.1-2', '10.72.6.1-2', '10.72.1.11-14'];
let agents: Awaited<ReturnType<typeof startAgents>>;

interface Estate {
  app: Application;
  token: string;
  scopeId: number;
}
interface Surveys {
  rows: { id: number; state: string; summary: { devices: { found: number } } | null }[];
  active: { jobId: number; surveyId: number | null } | null;
  stopped: string | null;
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
async function until<Value>(what: string, look: () => Promise<Value | undefined | null | false>): Promise<Value> {
  for (let attempt = 0; attempt < 600; attempt++) {
    const found = await look().catch(() => null);
    if (found) return found;
    await pause(100);
  }
  throw new Error(`waited in vain for ${what}`);
}

const call = async <Answer>(
  { app, token }: Pick<Estate, 'app' | 'token'>,
  where: string,
  body?: unknown,
): Promise<Answer> => {
  const response = await fetch(`${app.address}/api/v1/${where}`, {
    method: body === undefined ? 'GET' : 'POST',
    headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  if (!response.ok) throw new Error(`${where}: ${response.status} ${await response.text()}`);
  return (await response.json()) as Answer;
};

async function startEstate(data: string): Promise<Estate> {
  const store: Store = openStore(data);
  const token = addToken(store.db, { name: 'test', role: 'administrator' });
  for (const credential of sampleCredentials)
    saveCredential(store, { ...(credential as Credential), approved: onLoopback(agents.port) });
  store.close();
  const app = await startApplication(data);
  const { id: scopeId } = await call<{ id: number }>({ app, token }, 'scopes', {
    ...scopeDefaults,
    name: 'Ostermere',
    ranges,
    translations: [agents.via.replace(/^(.*)=(.*):(\d+)$/, '$1 via $2 port $3')],
    credentials: ['v3', 'read-only'],
    timeoutMs: 300,
    retries: 1,
  });
  return { app, token, scopeId };
}
const survey = ({ scopeId, ...of }: Estate) => call<{ jobId: number }>(of, 'surveys', { scopeId });
const sealed = (of: Estate, count: number) =>
  until(`${count} sealed surveys`, async () => {
    const { rows } = await call<Surveys>(of, 'surveys');
    const done = rows.filter(({ state }) => state === 'sealed');
    return done.length >= count && done;
  });

/** Processes that a process started, by their command lines. */
function childrenOf(parent: ChildProcess): { pid: number; command: string }[] {
  const pids = readFileSync(`/proc/${parent.pid}/task/${parent.pid}/children`, 'utf8')
    .trim()
    .split(' ')
    .filter(Boolean);
  return pids.map((pid) => ({
    pid: Number(pid),
    command: readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0').slice(2, 3).join(' '),
  }));
}
const childCalled = (parent: ChildProcess, command: string): number =>
  childrenOf(parent).find((one) => one.command === command)?.pid ?? 0;
const lives = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};

beforeAll(async () => {
  agents = await startAgents(1);
});
afterAll(stopAll);

describe('processes', () => {
  let estate: Estate;
  beforeAll(async () => {
    estate = await startEstate(temporaryFolder());
  });
  const health = async () => (await fetch(`${estate.app.address}/api/v1/health`)).json();

  test('all is well, and told so', async () => {
    expect(await health()).toEqual({ state: 'up' });
    expect(await (await fetch(`${estate.app.address}/api/v1/ready`)).json()).toEqual({ ready: true });
    expect((await call<Surveys>(estate, 'surveys')).stopped).toBeNull();
  });

  test('an application that is killed is there again, and what it was asked before is done once', async () => {
    const { jobId } = await survey(estate);
    const web = childCalled(estate.app.process, 'web');
    process.kill(web, 'SIGKILL');
    const again = await until('another application', async () => {
      const pid = childCalled(estate.app.process, 'web');
      return pid !== 0 && pid !== web && (await call<Surveys>(estate, 'surveys')) && pid;
    });
    expect(lives(again)).toBe(true);
    const [done] = await sealed(estate, 1);
    expect([done?.summary?.devices.found, jobId > 0]).toEqual([14, true]);
    expect((await call<Surveys>(estate, 'surveys')).rows).toHaveLength(1);
  });

  test('others are answered while somebody takes a list of fifty thousand lines', async () => {
    const lines = Array.from({ length: 50_000 }, (_, at) => `${(0x100000 + at).toString(16)},Maker ${at}`);
    let taken: { added: number } | null = null;
    const taking = call<{ added: number }>(estate, 'imports/makers', { csv: `prefix,maker\n${lines.join('\n')}` }).then(
      (answer) => (taken = answer),
    );
    let answered = 0;
    for (; !taken; answered++) await call(estate, 'surveys');
    await taking;
    expect(taken).toMatchObject({ added: 50_000 });
    // a process that waited with it would have answered a handful
    expect(answered).toBeGreaterThan(30);
  });

  test('a database that somebody holds for thirteen seconds stops nothing: reads are answered, writes wait, a survey goes on', async () => {
    const before = childrenOf(estate.app.process).map(({ pid }) => pid);
    const holder = new Database(path.join(estate.app.data, 'bolide.sqlite'));
    await survey(estate);
    await until('its beginning', async () => (await call<Surveys>(estate, 'surveys')).active?.surveyId);
    holder.pragma('busy_timeout = 10000');
    holder.exec('begin immediate');
    const from = Date.now();
    let written = false;
    const writing = survey(estate).then(() => (written = true));
    let reads = 0;
    while (Date.now() - from < 13_000) {
      await call(estate, 'devices?size=1');
      reads++;
      expect(written).toBe(false);
      await pause(200);
    }
    holder.exec('rollback');
    holder.close();
    // a web process that waited with everybody would have answered a handful
    expect(reads).toBeGreaterThan(20);
    await writing;
    const rows = await sealed(estate, 3);
    for (const { summary } of rows) expect(summary?.devices.found).toBe(14);
    // and nobody had to be started again for it
    expect(childrenOf(estate.app.process).map(({ pid }) => pid)).toEqual(before);
  });

  test('a parent that is killed takes its children with it, and its port is free', async () => {
    const children = childrenOf(estate.app.process).map(({ pid }) => pid);
    expect(children).toHaveLength(2);
    await stop(estate.app.process, 'SIGKILL');
    await until('the end of its children', async () => Promise.resolve(!children.some(lives)));
    const { port } = new URL(estate.app.address);
    const refused = await new Promise((resolve) => {
      connect(Number(port), '127.0.0.1', () => resolve(false)).on('error', () => resolve(true));
    });
    expect(refused).toBe(true);
    // and the next one takes the folder up where it was left
    estate = { ...estate, app: await startApplication(estate.app.data, Number(port)) };
    expect((await call<Surveys>(estate, 'surveys')).rows.filter(({ state }) => state === 'sealed')).toHaveLength(3);
    await stop(estate.app.process);
  });
});

// a file system that is really full needs the right to mount one
const mayMount = process.getuid?.() === 0;
(mayMount ? describe : describe.skip)('a disk that is full', () => {
  const folder = path.join(temporaryFolder(), 'disk');
  const ballast = path.join(folder, 'ballast');
  let estate: Estate;
  beforeAll(async () => {
    mkdirSync(folder);
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=24m', 'tmpfs', folder]);
    estate = await startEstate(path.join(folder, 'data'));
    await survey(estate);
    await sealed(estate, 1);
  });
  afterAll(async () => {
    if (estate) await stop(estate.app.process);
    execFileSync('umount', ['-l', folder]);
  });

  test('is told, fails nothing that was sealed, and is forgotten as soon as there is room', async () => {
    const before = await call(estate, 'devices?size=50');
    // a job is queued, and nobody has taken it yet
    const engine = childCalled(estate.app.process, 'engine');
    // what people ask goes before what a survey does
    expect(getPriority(engine)).toBeGreaterThan(getPriority(childCalled(estate.app.process, 'web')));
    process.kill(engine, 'SIGSTOP');
    await survey(estate);
    // what is written next needs room of its own
    const raw = new Database(path.join(estate.app.data, 'bolide.sqlite'));
    await until('an empty log', async () => {
      raw.pragma('wal_checkpoint(TRUNCATE)');
      return Promise.resolve(statSync(path.join(estate.app.data, 'bolide.sqlite-wal')).size === 0);
    });
    raw.close();
    const { bavail, bsize } = statfsSync(folder);
    writeFileSync(ballast, Buffer.alloc(bavail * bsize));
    process.kill(engine, 'SIGCONT');
    const other = { ...scopeDefaults, name: 'other', ranges: ['10.72.0.1'], credentials: ['v3'] };
    await expect(call(estate, 'scopes', other)).rejects.toThrow('507');
    await pause(4000);
    expect(await call(estate, 'devices?size=50')).toMatchObject({ total: (before as { total: number }).total });
    expect((await call<Surveys>(estate, 'surveys')).rows.filter(({ state }) => state === 'sealed')).toHaveLength(1);
    const health = async () =>
      (await fetch(`${estate.app.address}/api/v1/health`)).json() as Promise<{ detail?: string }>;
    expect((await health()).detail).toContain('no room left');
    expect([childCalled(estate.app.process, 'engine'), lives(engine)]).toEqual([engine, true]);
    rmSync(ballast);
    // the job that was queued before is done now, by the same engine
    const rows = await sealed(estate, 2);
    expect(rows[0]?.summary?.devices.found).toBe(14);
    await until('health', async () => (await health()).detail === undefined);
  });
});
