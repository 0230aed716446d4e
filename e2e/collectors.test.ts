// covers: src/collect/collector src/store/collectors src/server/survey/collectorRoutes
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawn, type ChildProcess } from 'node:child_process';
import { readdirSync, writeFileSync } from 'node:fs';
import { createServer as createHttps, type Server } from 'node:https';
import { request as httpRequest } from 'node:http';
import path from 'node:path';
import { eq } from 'drizzle-orm';
import type { Browser, Page } from 'puppeteer-core';
import { generate } from 'selfsigned';
import { scopeDefaults } from '../src/core/estate/scope';
import type { Credential } from '../src/core/estate/credential';
import { factsAsOf } from '../src/store/base/facts';
import { openStore, type Store } from '../src/store/base/database';
import { activeJob, readJob } from '../src/store/jobs';
import { addPerson } from '../src/store/people';
import { addToken } from '../src/store/tokens';
import { delivery, survey, visit } from '../src/store/base/schema';
import { saveCredential } from '../src/store/credentials';
import { startApplication, type Application } from './support/application';
import { fill, launchBrowser, openPage, press, see } from './support/browser';
import {
  bolide,
  freePort,
  home,
  sampleCredentials,
  startAgents,
  stop,
  stopAll,
  temporaryFolder,
  processOf,
  onLoopback,
} from './support/program';

/** Collectors as processes of their own, which reach the server over TLS only; both sides are killed with work in their hands. */
let agents: Awaited<ReturnType<typeof startAgents>>;
let app: Application;
let proxy: Server;
let server: string;
let store: Store;
let browser: Browser;
let page: Page;
let errors: string[];
/** how the way to the server is disturbed: `lost answers` lets the request through and drops the answer */
let way: 'open' | 'closed' | 'lost answers' = 'open';
/** answers to deliveries that were dropped on the way */
let lost = 0;
const data = temporaryFolder();
const certificate = path.join(data, 'proxy.pem');
const spools = { 'hdp-1': path.join(data, 'spool-1'), 'hdp-2': path.join(data, 'spool-2') };
const tokens: Record<string, string> = {};
const collectors = new Set<ChildProcess>();
const ranges = [
  '10.72.0.1-2',
  '10.72.3.1-2',
  '10.72.4.1-4',
  '10.72.5.1-8',
  '10.72.6.1-8',
  '10.72.1.11-14',
  '10.72.17.1-14',
];
const addressCount = 42;

async function call<Answer>(token: string, path_: string, body?: unknown): Promise<Answer> {
  const response = await fetch(`${app.address}/api/v1/${path_}`, {
    method: body === undefined ? 'GET' : 'POST',
    headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  if (!response.ok) throw new Error(`${path_}: ${response.status} ${await response.text()}`);
  return (await response.json()) as Answer;
}
async function until<Value>(what: string, look: () => Value | undefined | null | false): Promise<Value> {
  for (let attempt = 0; attempt < 2400; attempt++) {
    const found = look();
    if (found) return found;
    await new Promise((resolve) => setTimeout(resolve, 25));
  }
  throw new Error(`waited in vain for ${what}`);
}
/** A collector with nothing but its token, its spool and the authority of the proxy. */
function startCollector(name: keyof typeof spools): ChildProcess {
  const child = spawn(
    process.execPath,
    [path.join(home, 'bin/bolide'), 'collector', '--server', server, '--spool', spools[name]],
    {
      env: { ...process.env, BOLIDE_TOKEN: tokens[name], NODE_EXTRA_CA_CERTS: certificate },
      stdio: ['ignore', 'ignore', 'pipe'],
    },
  );
  collectors.add(child);
  child.on('exit', () => collectors.delete(child));
  return child;
}
const scope = async (name: string, more: object) =>
  (
    await call<{ id: number }>(tokens.operator ?? '', 'scopes', {
      ...scopeDefaults,
      name,
      ranges,
      translations: [agents.via.replace(/^(.*)=(.*):(\d+)$/, '$1 via $2 port $3')],
      credentials: ['v3', 'read-only'],
      timeoutMs: 300,
      retries: 1,
      ...more,
    })
  ).id;
/** Runs a survey once the one before is over: it is sealed a moment before its job ends. */
const run = async (scopeId: number) => {
  await until('the survey before to be over', () => activeJob(store.db) === null);
  return (await call<{ jobId: number }>(tokens.operator ?? '', 'surveys', { scopeId })).jobId;
};
const surveyOf = (jobId: number) => until('the survey to begin', () => readJob(store.db, jobId)?.surveyId);
const sealed = (id: number) =>
  until(
    `survey ${id} to be sealed`,
    () => store.db.select().from(survey).where(eq(survey.id, id)).get()?.state === 'sealed',
  );
const visits = (id: number) => store.db.select().from(visit).where(eq(visit.surveyId, id)).all();
const answeredIn = (id: number) =>
  visits(id)
    .filter(({ outcome }) => outcome === 'answered')
    .map(({ address }) => address)
    .sort();
const spooled = (name: keyof typeof spools) =>
  readdirSync(spools[name]).filter((file) => file.endsWith('.delivery')).length;
const facts = (id: number) =>
  ['device', 'module', 'port', 'address', 'neighbour', 'vlan']
    .flatMap((kind) =>
      factsAsOf<object>(store.db, kind as 'device', id).map(
        ({ deviceId, content }) => `${kind} ${deviceId} ${JSON.stringify(content)}`,
      ),
    )
    .sort();

beforeAll(async () => {
  store = openStore(data);
  tokens.operator = addToken(store.db, { name: 'test', role: 'operator' });
  await addPerson(store.db, 'marla', 'ostermere-lights', 'administrator');
  [app, agents, browser] = await Promise.all([startApplication(data), startAgents(1), launchBrowser()]);
  const approved = onLoopback(agents.port);
  for (const credential of sampleCredentials) saveCredential(store, { ...(credential as Credential), approved });
  const { cert, private: key } = await generate([{ name: 'commonName', value: '127.0.0.1' }], {
    algorithm: 'sha256',
    extensions: [{ name: 'subjectAltName', altNames: [{ type: 7, ip: '127.0.0.1' }] }],
  });
  writeFileSync(certificate, cert);
  const target = new URL(app.address);
  proxy = createHttps({ cert, key }, (request, response) => {
    if (way === 'closed') return request.socket.destroy();
    const onwards = httpRequest(
      { host: target.hostname, port: target.port, path: request.url, method: request.method, headers: request.headers },
      (answer) => {
        if (way === 'lost answers' && request.url?.endsWith('deliveries')) {
          lost++;
          return answer.resume().on('end', () => request.socket.destroy());
        }
        response.writeHead(answer.statusCode ?? 500, answer.headers);
        answer.pipe(response);
      },
    );
    onwards.on('error', () => request.socket.destroy());
    request.pipe(onwards);
  });
  const port = await freePort();
  await new Promise<void>((resolve) => proxy.listen(port, '127.0.0.1', resolve));
  server = `https://127.0.0.1:${port}`;
  ({ page, errors } = await openPage(browser));
});
afterAll(async () => {
  for (const child of collectors) child.kill('SIGKILL');
  proxy.closeAllConnections();
  proxy.close();
  await browser?.close();
  store.close();
  await stopAll();
});

describe('a collector', () => {
  test('is added in the interface, which tells its token once', async () => {
    await page.goto(`${app.address}/login`);
    await fill(page, 'input[name=name]', 'marla');
    await fill(page, 'input[name=password]', 'ostermere-lights');
    await press(page, 'Sign in');
    await page.waitForFunction(() => location.pathname !== '/login');
    await page.goto(`${app.address}/survey`);
    for (const name of ['hdp-1', 'hdp-2']) {
      await press(page, 'Add a collector');
      await fill(page, 'input[name=collectorName]', name);
      await press(page, 'Add');
      await see(page, `Start ${name}`);
      tokens[name] = await page.$eval('pre', (element) => /BOLIDE_TOKEN=(\S+)/.exec(element.innerText)?.[1] ?? '');
      await press(page, 'Done');
      await page.waitForFunction(() => !document.querySelector('[role=dialog]'));
    }
    await press(page, 'Add a collector');
    await fill(page, 'input[name=collectorName]', 'hdp-1');
    await press(page, 'Add');
    await see(page, 'There is a token “hdp-1” already');
    await press(page, 'Leave it');
    await see(page, 'never heard');
  });
  test('its token opens nothing else, and nobody else is told what it is told', async () => {
    const status = async (token: string, method: string, what: string, body?: unknown) =>
      (
        await fetch(`${app.address}/api/v1/${what}`, {
          method,
          headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
          ...(body !== undefined && { body: JSON.stringify(body) }),
        })
      ).status;
    const token = tokens['hdp-1'] ?? '';
    expect(
      await Promise.all(
        ['devices', 'credentials', 'scopes', 'surveys', 'today'].map((what) => status(token, 'GET', what)),
      ),
    ).toEqual([403, 403, 403, 403, 403]);
    const question = {
      protocol: 1,
      version: 'x',
      key: 'AAAA',
      inHand: [],
      wants: true,
      load: { addresses: 0, spooled: 0, spooledBytes: 0, memoryBytes: 0, processor: 0 },
    };
    expect(await status(tokens.operator ?? '', 'POST', 'collectors/work', question)).toBe(403);
    expect(await status(token, 'POST', 'collectors/work', { ...question, extra: 1 })).toBe(422);
    expect(await status(token, 'POST', 'collectors/work', question)).toBe(200);
  });
  test.each([
    [['--server', 'http://192.0.2.1', '--token', 't'], 'is not https'],
    [['--server', 'nonsense', '--token', 't'], 'no address of a server'],
    [['--server', 'https://127.0.0.1'], 'give the token'],
  ])('%j is refused with code 2', async (args, words) => {
    const { code, err } = await bolide(['collector', ...args], { BOLIDE_TOKEN: '' });
    expect([code, err]).toEqual([2, expect.stringContaining(words)]);
  });
  test('of another version is told so, on both sides', async () => {
    const token = tokens['hdp-2'] ?? '';
    const answer = await fetch(`${app.address}/api/v1/collectors/work`, {
      method: 'POST',
      headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
      body: JSON.stringify({
        protocol: 99,
        version: '9.9.9',
        key: 'x',
        inHand: [],
        wants: true,
        load: { addresses: 0, spooled: 0, spooledBytes: 0, memoryBytes: 0, processor: 0 },
      }),
    });
    expect([answer.status, await answer.text()]).toEqual([409, expect.stringContaining('version 9.9.9 (protocol 99)')]);
    await see(page, 'The collector is version 9.9.9 (protocol 99)');
  });
});

describe('a scope with two collectors', () => {
  let scopeId: number;
  test('is surveyed by both, and gives what this machine would have found', async () => {
    const own = await run(await scope('by hand', {}));
    await sealed(await surveyOf(own));
    scopeId = await scope('Harbour', { collectors: ['hdp-1', 'hdp-2'] });
    for (const name of ['hdp-1', 'hdp-2'] as const) startCollector(name);
    const id = await surveyOf(await run(scopeId));
    await sealed(id);
    expect(answeredIn(id)).toEqual(answeredIn(1));
    expect(visits(id)).toHaveLength(addressCount);
    expect(facts(id)).toEqual(facts(1));
    const by = new Set(
      store.db
        .select()
        .from(delivery)
        .where(eq(delivery.surveyId, id))
        .all()
        .map(({ collector }) => collector),
    );
    expect([...by].sort()).toEqual(['hdp-1', 'hdp-2']);
    // a survey that is still at its end is what the page shows, and after that its outcome
    await until('the survey to be over', () => activeJob(store.db) === null);
    await page.goto(`${app.address}/survey`);
    await see(page, 'waits for work');
  });
  test('one that is killed in the middle loses nothing: what it spooled arrives when it is started again, the rest is asked anew', async () => {
    for (const child of collectors) await stop(child, 'SIGKILL');
    const slow = await scope('Harbour slow', { collectors: ['hdp-1'], concurrency: 1, timeoutMs: 500 });
    const first = startCollector('hdp-1');
    const id = await surveyOf(await run(slow));
    // the way to the server is cut, so that something lies in the spool
    await until('some visits', () => visits(id).length >= 2);
    way = 'closed';
    await until('something in the spool', () => spooled('hdp-1') > 0);
    await stop(first, 'SIGKILL');
    expect(spooled('hdp-1')).toBeGreaterThan(0);
    way = 'open';
    startCollector('hdp-1');
    await sealed(id);
    expect(spooled('hdp-1')).toBe(0);
    expect(visits(id)).toHaveLength(addressCount);
    expect(answeredIn(id)).toEqual(answeredIn(1));
    expect(facts(id)).toEqual(facts(1));
  });
  test('an answer that is lost on its way makes nothing arrive twice', async () => {
    const id = await surveyOf(
      await run(await scope('Harbour lossy', { collectors: ['hdp-1'], concurrency: 2, timeoutMs: 500 })),
    );
    // not before something of this survey has arrived: the word that the survey before is over must not stand first in the spool
    const arrived = () => store.db.select().from(delivery).where(eq(delivery.surveyId, id)).all().length;
    await until('a first delivery', () => arrived() > 0);
    way = 'lost answers';
    // it has arrived, and is sent once more since nobody said so
    await until('a delivery that was not acknowledged', () => lost >= 2 && spooled('hdp-1') > 0);
    way = 'open';
    await sealed(id);
    await until('an empty spool', () => spooled('hdp-1') === 0);
    const seen = visits(id).map(({ address }) => address);
    expect([seen.length, new Set(seen).size]).toEqual([addressCount, addressCount]);
    expect(facts(id)).toEqual(facts(1));
  });
  test('a server whose engine and web process are killed takes up where it was', async () => {
    const jobId = await run(await scope('Harbour cut', { collectors: ['hdp-1'], concurrency: 1, timeoutMs: 500 }));
    const id = await surveyOf(jobId);
    await until('some visits', () => visits(id).length >= 2);
    await page.goto('about:blank');
    process.kill(processOf(readJob(store.db, jobId)?.worker ?? ''), 'SIGKILL');
    // its children end with it, wherever they are
    await stop(app.process, 'SIGKILL');
    const port = new URL(app.address).port;
    const answers = () =>
      fetch(`${app.address}/api/v1/ready`).then(
        () => true,
        () => false,
      );
    while (await answers()) await new Promise((resolve) => setTimeout(resolve, 50));
    app = await startApplication(data, Number(port));
    await sealed(id);
    expect(visits(id)).toHaveLength(addressCount);
    expect(answeredIn(id)).toEqual(answeredIn(1));
    expect(facts(id)).toEqual(facts(1));
  });
  test('a silent one’s share goes to the other', async () => {
    const other = startCollector('hdp-2');
    await page.goto(`${app.address}/survey`);
    const slow = await scope('Harbour halves', { collectors: ['hdp-1', 'hdp-2'], concurrency: 1, timeoutMs: 500 });
    const id = await surveyOf(await run(slow));
    await until('some visits', () => visits(id).length >= 2);
    await stop(other, 'SIGKILL');
    await sealed(id);
    expect(visits(id)).toHaveLength(addressCount);
    expect(answeredIn(id)).toEqual(answeredIn(1));
    await page.goto(`${app.address}/survey`);
    await see(page, 'not heard for');
  });
  test('removed, it is nobody any more', async () => {
    await page.goto(`${app.address}/survey`);
    await press(page, 'Remove');
    await see(page, 'Its token opens nothing any more');
    await press(page, 'Remove it');
    await page.waitForFunction(() => document.querySelectorAll('table.plain tbody tr td b').length === 1);
    const answer = await fetch(`${app.address}/api/v1/collectors/deliveries`, {
      method: 'POST',
      headers: { authorization: `Bearer ${tokens['hdp-1'] ?? ''}` },
      body: 'x',
    });
    expect(answer.status).toBe(401);
    expect(errors).toEqual([]);
  });
});
