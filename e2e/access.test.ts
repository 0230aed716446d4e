// covers: src/cli/web src/cli/serving src/cli/commands/people src/server/people src/ui/settings src/ui/entry src/core/access
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { X509Certificate } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { request as plainRequest, type IncomingHttpHeaders } from 'node:http';
import { request as secureRequest } from 'node:https';
import path from 'node:path';
import type { TLSSocket } from 'node:tls';
import type { Browser, Page } from 'puppeteer-core';
import { selfSigned } from '../src/sim/https/certificate';
import { openStore } from '../src/store/base/database';
import { addPerson } from '../src/store/people';
import { startApplication, type Application } from './support/application';
import { accessibilityProblems, click, fill, launchBrowser, openPage, openWhole, press, see } from './support/browser';
import { bolide, freePort, start, stop, stopAll, temporaryFolder, home } from './support/program';

/** Who may come in, from where, and for how long: as people, as scripts, and as strangers. */
const password = 'ostermere-lights';
const strongest = { name: 'marla', password };

interface Heard {
  status: number;
  headers: IncomingHttpHeaders;
  body: Record<string, unknown> & { errors?: { path: string; message: string }[]; token?: string };
  certificate: string | null;
}

/** A request with headers of one's choosing, which browsers would not let one choose. */
function ask(
  address: string,
  method: string,
  where: string,
  headers: Record<string, string> = {},
  body?: unknown,
): Promise<Heard> {
  const { port, protocol, host } = new URL(address);
  const send = protocol === 'https:' ? secureRequest : plainRequest;
  return new Promise((resolve, reject) => {
    const request = send(
      {
        host: '127.0.0.1',
        port,
        method,
        path: where,
        headers: { host, ...headers },
        rejectUnauthorized: false,
        agent: false,
      },
      (response) => {
        let text = '';
        const peer = protocol === 'https:' ? (response.socket as TLSSocket).getPeerCertificate() : null;
        response.on('data', (part: Buffer) => (text += part.toString()));
        response.on('end', () => {
          const isJson = /json/.test(response.headers['content-type'] ?? '');
          resolve({
            status: response.statusCode ?? 0,
            headers: response.headers,
            body: (isJson ? JSON.parse(text) : { text }) as Heard['body'],
            certificate: peer?.fingerprint256 ?? null,
          });
        });
      },
    );
    request.on('error', reject);
    request.end(body === undefined ? undefined : JSON.stringify(body));
  });
}

const api = '/api/v1';
const json = { 'content-type': 'application/json' };
const cookiesOf = ({ headers }: Heard): string =>
  (headers['set-cookie'] ?? []).map((one) => one.split(';')[0]).join('; ');

afterAll(stopAll);

describe('the first start', () => {
  const setup = { ...strongest, confirmation: password };

  test('asks whoever comes from another machine for the code that was printed, and nobody who sits at it', async () => {
    const port = await freePort();
    let printed = '';
    const process = await start(
      globalThis.process.execPath,
      [path.join(home, 'bin/bolide'), 'serve', '--data', temporaryFolder(), '--port', String(port)],
      /this code: \S+/,
      (text) => (printed += text),
    );
    const address = `http://127.0.0.1:${port}`;
    const origin = { origin: address, ...json };
    // a proxy that nobody told of brings somebody from elsewhere
    const afar = { ...origin, 'x-forwarded-for': '203.0.113.7' };
    const page = async (headers: Record<string, string>) =>
      String((await ask(address, 'GET', '/setup', headers)).body.text);
    expect(await page({ 'x-forwarded-for': '203.0.113.7' })).toContain('name="code"');
    expect(await page({})).not.toContain('name="code"');
    // nor does it help to say that one comes from here
    expect(await page({ 'x-forwarded-for': '203.0.113.7', 'x-bolide-source': '127.0.0.1' })).toContain('name="code"');
    for (const wrong of [setup, { ...setup, code: 'AAAA-AAAA' }]) {
      const { status, body } = await ask(address, 'POST', `${api}/setup`, afar, wrong);
      expect([status, body.errors?.[0]?.path]).toEqual([422, 'code']);
    }
    const [, code = ''] = /this code: (\S+)/.exec(printed) ?? [];
    expect((await ask(address, 'POST', `${api}/setup`, afar, { ...setup, code: code.toLowerCase() })).status).toBe(200);
    await stop(process);
  });
});

describe('over HTTPS', () => {
  let app: Application;
  let address: string;
  const folder = temporaryFolder();
  const files = { cert: path.join(folder, 'cert.pem'), key: path.join(folder, 'key.pem') };
  const write = async (): Promise<string> => {
    const { cert, key } = await selfSigned('estate.olr.example', '127.0.0.1');
    writeFileSync(files.key, key);
    writeFileSync(files.cert, cert);
    return new X509Certificate(cert).fingerprint256;
  };
  let first: string;

  beforeAll(async () => {
    first = await write();
    const data = temporaryFolder();
    const store = openStore(data);
    await addPerson(store.db, strongest.name, password, 'administrator');
    store.close();
    app = await startApplication(data, undefined, [
      '--tls-cert',
      files.cert,
      '--tls-key',
      files.key,
      '--origin',
      'https://estate.olr.example',
    ]);
    address = app.address.replace('http:', 'https:');
  });

  test('cookies are for such lines alone, browsers are told to come over no other, and pages have their policy, fetched ahead or not', async () => {
    const signedIn = await ask(address, 'POST', `${api}/session`, { origin: address, ...json }, strongest);
    expect(signedIn.status).toBe(200);
    const set = signedIn.headers['set-cookie'] ?? [];
    expect(set).toHaveLength(2);
    for (const cookie of set) expect(cookie).toMatch(/^__Host-.*; Path=\/; .*HttpOnly; SameSite=Strict; Secure$/);
    expect(signedIn.headers['strict-transport-security']).toBe('max-age=31536000');
    for (const ahead of [{}, { 'next-router-prefetch': '1', rsc: '1' }]) {
      const { headers } = await ask(address, 'GET', '/estate', { cookie: cookiesOf(signedIn), ...(ahead as object) });
      expect(headers['content-security-policy']).toContain("default-src 'self'");
    }
  });
  test('writes are believed from where it is said to be served, whatever host they name', async () => {
    const from = async (origin: string, host?: string) =>
      (
        await ask(
          address,
          'POST',
          `${api}/session`,
          { origin, ...(host !== undefined && { host }), ...json },
          strongest,
        )
      ).status;
    expect(await from('https://estate.olr.example')).toBe(200);
    expect(await from('https://elsewhere.example', 'elsewhere.example')).toBe(403);
    expect(await from(address.replace('https:', 'http:'))).toBe(403);
    const { body } = await ask(
      address,
      'POST',
      `${api}/session`,
      { origin: 'https://elsewhere.example', ...json },
      strongest,
    );
    expect(body.detail).toContain('start it with “--origin https://elsewhere.example”');
  });
  test('a certificate that is changed is used from then on; one that is none changes nothing', async () => {
    const shown = async () => (await ask(address, 'GET', `${api}/health`)).certificate;
    expect(await shown()).toBe(first);
    writeFileSync(files.cert, 'no certificate');
    await new Promise((resolve) => setTimeout(resolve, 2500));
    expect(await shown()).toBe(first);
    const second = await write();
    for (let attempt = 0; attempt < 100 && (await shown()) !== second; attempt++)
      await new Promise((resolve) => setTimeout(resolve, 100));
    expect(await shown()).toBe(second);
  });
  test('files of data are their owner’s alone, whatever the folder lets', () => {
    const modes = readdirSync(app.data, { withFileTypes: true })
      .filter((one) => one.isFile())
      .map(({ name }) => `${name} ${(statSync(path.join(app.data, name)).mode & 0o777).toString(8)}`);
    expect(modes.length).toBeGreaterThan(4);
    for (const one of modes) expect(one).toMatch(/ 600$/);
  });
  test('mistakes in how it is to be served are told before anything starts', async () => {
    const data = temporaryFolder();
    const tried = async (...args: string[]) => bolide(['serve', '--data', data, ...args]);
    for (const [args, words] of [
      [['--tls-cert', files.cert], 'belong together'],
      [['--tls-cert', files.key, '--tls-key', files.cert], 'no certificate with its key'],
      [['--tls-cert', '/nowhere.pem', '--tls-key', files.key], 'cannot be read: ENOENT'],
      [['--origin', 'estate.olr.example'], 'write it as browsers do'],
      [['--origin', 'https://estate.olr.example/today'], 'without a path'],
    ] as const) {
      const { code, err } = await tried(...args);
      expect([code, err]).toEqual([2, expect.stringContaining(words)]);
    }
  });
});

describe('people', () => {
  let app: Application;
  let browser: Browser;
  let page: Page;
  let errors: string[];
  const open = (where: string) => openWhole(page, `${app.address}${where}`);
  const cli = (...args: string[]) => bolide([...args, '--data', app.data]);
  const signIn = (name: string, secret: string, headers: Record<string, string> = {}) =>
    ask(
      app.address,
      'POST',
      `${api}/session`,
      { origin: app.address, ...json, ...headers },
      { name, password: secret },
    );
  const session = async (cookie: string) => (await ask(app.address, 'GET', `${api}/session`, { cookie })).body.person;

  beforeAll(async () => {
    const data = temporaryFolder();
    const store = openStore(data);
    await addPerson(store.db, 'marla', password, 'administrator');
    await addPerson(store.db, 'osric', password, 'operator');
    store.close();
    [app, browser] = await Promise.all([startApplication(data), launchBrowser()]);
    ({ page, errors } = await openPage(browser));
    await open('/login');
    await fill(page, 'input[name=name]', 'marla');
    await fill(page, 'input[name=password]', password);
    await press(page, 'Sign in');
    await page.waitForFunction(() => location.pathname === '/today');
  });
  afterAll(() => browser?.close());

  test('an administrator gives a password, which opens nothing until another is chosen', async () => {
    const before = cookiesOf(await signIn('osric', password));
    await open('/settings/people');
    await press(page, 'Change osric');
    await press(page, 'Give a new password');
    await see(page, 'shown this once');
    expect(await accessibilityProblems(page)).toEqual([]);
    const given = await page.$eval('pre.secret', (one) => (one as HTMLElement).innerText);
    expect(await session(before)).toBeNull();
    expect((await signIn('osric', password)).status).toBe(401);
    const { person: osric, cookie } = await signIn('osric', given).then((heard) => ({
      person: heard.body.person,
      cookie: cookiesOf(heard),
    }));
    expect(osric).toMatchObject({ name: 'osric' });
    expect((await ask(app.address, 'GET', `${api}/devices`, { cookie })).body).toMatchObject({
      status: 403,
      detail: 'Choose a password of your own first.',
    });

    const { page: theirs } = await openPage(await browser.createBrowserContext());
    await openWhole(theirs, `${app.address}/estate?where=role%3Dswitch`);
    await fill(theirs, 'input[name=name]', 'osric');
    await fill(theirs, 'input[name=password]', given);
    await press(theirs, 'Sign in');
    await see(theirs, 'Choose your password');
    expect(await accessibilityProblems(theirs)).toEqual([]);
    await fill(theirs, 'input[name=passwordCurrent]', given);
    await fill(theirs, 'input[name=passwordPassword]', 'password123!');
    await fill(theirs, 'input[name=passwordConfirmation]', 'password123!');
    await press(theirs, 'Change the password');
    await see(theirs, 'one of the first that are tried');
    await fill(theirs, 'input[name=passwordPassword]', 'harbour-lantern-7');
    await fill(theirs, 'input[name=passwordConfirmation]', 'harbour-lantern-7');
    await press(theirs, 'Change the password');
    // where they wanted to be in the first place
    await theirs.waitForFunction(() => location.pathname === '/estate' && location.search.includes('role'));
    await theirs.close();
  });

  test('one who may not sign in any more is out at once; the last administrator cannot go', async () => {
    const cookie = cookiesOf(await signIn('osric', 'harbour-lantern-7'));
    expect(await session(cookie)).toMatchObject({ name: 'osric' });
    await open('/settings/people');
    await press(page, 'Change osric');
    await press(page, 'May sign in');
    await press(page, 'Save');
    await see(page, 'may not sign in since');
    expect(await session(cookie)).toBeNull();
    expect((await signIn('osric', 'harbour-lantern-7')).status).toBe(401);
    await press(page, 'Change marla');
    await press(page, 'May sign in');
    await press(page, 'Save');
    await see(page, 'marla is the last administrator: make another one first');
    await press(page, 'Leave it');
    await press(page, 'Change osric');
    await press(page, 'May sign in');
    await fill(page, 'input[name=personName]', 'osric the younger');
    await press(page, 'Save');
    await see(page, 'osric the younger');
    expect((await signIn('osric the younger', 'harbour-lantern-7')).status).toBe(200);
  });

  test('one sees where one is signed in, and signs out there, or everywhere', async () => {
    const cookies = [cookiesOf(await signIn('marla', password)), cookiesOf(await signIn('marla', password))];
    await open('/settings/you');
    await see(page, 'here, now');
    expect(await accessibilityProblems(page)).toEqual([]);
    const listed = await page.$$eval('table[aria-label="Where you are signed in"] tbody tr', (rows) => rows.length);
    expect(listed).toBe(3);
    await click(page, 'button[aria-label^="Sign out at 127.0.0.1"]');
    await see(page, 'You are signed out at 127.0.0.1');
    expect((await Promise.all(cookies.map(session))).filter((one) => one !== null)).toHaveLength(1);
    await press(page, 'Sign out everywhere, here too');
    await page.waitForFunction(() => location.pathname === '/login');
    expect(await Promise.all(cookies.map(session))).toEqual([null, null]);
  });

  test('who was signed in with a browser comes in with it, however much strangers guess', async () => {
    const known = cookiesOf(await signIn('marla', password));
    const guesses = await Promise.all(Array.from({ length: 40 }, () => signIn('marla', 'guess')));
    expect(guesses.filter(({ status }) => status === 401)).toHaveLength(5);
    const late = await signIn('marla', password);
    expect([late.status, Number(late.headers['retry-after']) > 0]).toEqual([429, true]);
    expect((await signIn('marla', password, { cookie: known })).status).toBe(200);
    const acts = (await cli('user', 'list')).out;
    expect(acts).toContain('marla');
    const cookie = cookiesOf(await signIn('marla', password, { cookie: known }));
    const { body } = await ask(app.address, 'GET', `${api}/audit?text=failed`, { cookie });
    expect((body.rows as { act: string }[]).map(({ act }) => act)).toContain('has to wait: too many failed tries');
  });

  test('the command line does the same, and is written down', async () => {
    expect((await cli('user', 'role', 'osric the younger', 'viewer')).err).toContain('may sign in as viewer');
    expect((await cli('user', 'disable', 'marla')).err).toContain('the last administrator');
    expect((await cli('user', 'rename', 'osric the younger', 'osric')).err).toContain('is called osric');
    expect((await bolide(['user', 'password', 'osric', '--data', app.data], {}, 'password123')).code).toBe(2);
    expect((await bolide(['user', 'password', 'osric', '--data', app.data], {}, 'four plain words')).code).toBe(0);
    expect((await signIn('osric', 'four plain words', { 'x-forwarded-for': '198.51.100.7' })).status).toBe(200);
    expect((await cli('user', 'sign-out', 'osric')).err).toContain('ended');
    expect((await cli('user', 'disable', 'osric')).code).toBe(0);
    expect((await cli('user', 'enable', 'osric')).code).toBe(0);
    expect((await cli('user', 'role', 'nobody', 'viewer')).err).toContain('There is no person “nobody”');
    expect((await cli('user', 'list')).out).toMatch(/osric +viewer/);
    // a slip in the folder makes none
    const slip = path.join(temporaryFolder(), 'slip');
    expect((await bolide(['user', 'list', '--data', slip])).err).toContain('There are no data in');
    expect(existsSync(slip)).toBe(false);
  });

  test('a token opens the parts it is bound to, until its day is over or it is revoked', async () => {
    const token = (
      await cli('token', 'add', 'nightly', '--role', 'operator', '--area', 'estate', '--until', '2999-12-31')
    ).out.trim();
    const asked = async (where: string) =>
      ask(app.address, 'GET', `${api}${where}`, { authorization: `Bearer ${token}` });
    expect((await asked('/devices')).status).toBe(200);
    expect((await asked('/health')).status).toBe(200);
    expect((await asked('/scopes')).body).toMatchObject({
      status: 403,
      detail: 'This belongs to “surveys”; this token opens estate alone.',
    });
    expect((await cli('token', 'list')).out).toMatch(/nightly +operator +estate +2999-12-31/);
    expect((await cli('token', 'add', 'other', '--area', 'everything')).err).toContain(
      '--area “everything”: use estate',
    );
    expect((await cli('token', 'revoke', 'nightly')).code).toBe(0);
    expect((await asked('/devices')).status).toBe(401);
    expect(readFileSync(path.join(app.data, 'bolide.sqlite')).includes(token)).toBe(false);
    expect(errors).toEqual([]);
  });
});
