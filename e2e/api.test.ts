// covers: src/server/api src/server/access src/app/api
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { request } from 'node:http';
import { openStore } from '../src/store/base/database';
import { addToken } from '../src/store/tokens';
import { startApplication, type Application } from './support/application';
import { answersFile, stopAll, temporaryFolder } from './support/program';

/** The API from outside: how it describes itself, what it refuses, and what a body too large costs it. */
let app: Application;
let token: string;

beforeAll(async () => {
  const data = temporaryFolder();
  const store = openStore(data);
  token = addToken(store.db, { name: 'test', role: 'administrator' });
  store.close();
  app = await startApplication(data);
});
afterAll(stopAll);

const get = (path: string) => fetch(`${app.address}/api/v1/${path}`, { headers: { authorization: `Bearer ${token}` } });

/** The process that talks to browsers, a child of `bolide serve`. */
function webProcess(): number {
  const children = readdirSync('/proc').filter((name) => {
    if (!/^\d+$/.test(name)) return false;
    try {
      const [, parent] = /\) \S (\d+)/.exec(readFileSync(`/proc/${name}/stat`, 'utf8')) ?? [];
      return (
        Number(parent) === app.process.pid && readFileSync(`/proc/${name}/cmdline`, 'utf8').split('\0').includes('web')
      );
    } catch {
      return false;
    }
  });
  return Number(children[0]);
}
const peakMegabytes = (pid: number) =>
  Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]) / 1024;

/** Sends blanks to the sign-in route, saying how many they are or not. */
function sendBlanks(octets: number, isSaid: boolean): Promise<{ status: number; sent: number }> {
  const { hostname, port } = new URL(app.address);
  const part = Buffer.alloc(64 * 1024, 32);
  let sent = 0;
  return new Promise((resolve, reject) => {
    const headers = { origin: app.address, ...(isSaid && { 'content-length': octets }) };
    const call = request({ hostname, port, path: '/api/v1/session', method: 'POST', headers }, (answer) => {
      // what follows the answer is nobody's any more
      resolve({ status: answer.statusCode ?? 0, sent });
      call.destroy();
    });
    call.on('error', reject);
    const write = () => {
      while (sent < octets && !call.destroyed) {
        sent += part.length;
        if (!call.write(part)) return call.once('drain', write);
      }
      return call.end();
    };
    write();
  });
}

test('150 MB sent to the sign-in route are refused while they arrive, and cost the process less than 5 MB', async () => {
  const pid = webProcess();
  // refusing smaller ones brings the memory for what is short-lived to its size first, however slow the machine is
  let before = 0;
  for (let round = 0, steady = 0; round < 60 && steady < 6; round++) {
    await sendBlanks(2 * 1024 * 1024, round % 2 === 0);
    const peak = peakMegabytes(pid);
    steady = peak - before < 0.25 ? steady + 1 : 0;
    before = peak;
  }
  const cost = async () => {
    for (const isSaid of [false, true]) {
      const { status, sent } = await sendBlanks(150 * 1024 * 1024, isSaid);
      expect(status).toBe(413);
      expect(sent).toBeLessThan(50 * 1024 * 1024);
    }
    const peak = peakMegabytes(pid);
    const grown = peak - before;
    before = peak;
    return grown;
  };
  // a body that is held would cost its whole size each time; the memory for what is short-lived may grow a little, and then not again
  let least = await cost();
  expect(least).toBeLessThan(20);
  for (let again = 0; again < 4 && least >= 5; again++) least = Math.min(least, await cost());
  expect(least).toBeLessThan(5);
});

test('answers are held against the description as they pass, and a wrong one is noticed', async () => {
  expect((await get('scopes')).status).toBe(200);
  expect((await get('scopes/7/nothing')).status).toBe(404);
  // An answer is looked at after it has left, and the very first one once the description is read.
  const linesSoFar = () =>
    existsSync(answersFile) ? readFileSync(answersFile, 'utf8').split('\n').filter(Boolean) : [];
  const deadline = Date.now() + 10_000;
  while (linesSoFar().length < 3 && Date.now() < deadline) await new Promise((resolve) => setTimeout(resolve, 50));
  const lines = linesSoFar();
  expect(lines.length).toBeGreaterThanOrEqual(3);
  expect(lines.filter((line) => line !== 'fits')).toEqual([]);
  const { judgeOf } = (await import('./support/watchAnswers.mjs')) as {
    judgeOf: (description: unknown) => (method: string, url: string, status: number, answer: unknown) => string[];
  };
  const judge = judgeOf(await (await get('openapi.json')).json());
  const path = '/api/v1/people';
  const person = {
    id: 1,
    name: 'marla',
    role: 'viewer',
    createdAt: '2026-11-23',
    disabledAt: null,
    mustChange: false,
    sessions: [],
  };
  expect(judge('GET', path, 200, { rows: [person], total: 1 })).toEqual([]);
  for (const wrong of [
    { rows: [person] },
    { rows: [{ ...person, id: 'one' }], total: 1 },
    { rows: [{ ...person, passwordHash: 'x' }], total: 1 },
    { rows: [{ ...person, role: 'chief' }], total: 1 },
  ]) {
    expect(judge('GET', path, 200, wrong)).toHaveLength(1);
  }
  expect(judge('GET', path, 403, { title: 'Not allowed' })).toHaveLength(1);
  expect(judge('GET', '/api/v1/cables', 200, {})).not.toEqual([]);
});

test('each path says which methods it takes, and the page of the API lists every call', async () => {
  const { paths } = (await (await get('openapi.json')).json()) as { paths: Record<string, object> };
  const refused = await fetch(`${app.address}/api/v1/openapi.json`, { method: 'DELETE' });
  expect([refused.status, refused.headers.get('allow')]).toEqual([405, 'GET']);
  const page = await (await fetch(`${app.address}/api`)).text();
  for (const path of Object.keys(paths)) expect(page).toContain(path);
});
