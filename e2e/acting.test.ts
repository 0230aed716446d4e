// covers: src/ui/features/acting src/server/ports src/collect/acting src/collect/jobs/portJobs src/core/acting
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import snmp, { type Session } from 'net-snmp';
import type { Browser, Page } from 'puppeteer-core';
import { scopeDefaults } from '../src/core/estate/scope';
import { sampleUser, sampleWriter } from '../src/sim/ostermere/fleet';
import type { AgentUser } from '../src/sim/snmp/usm';
import { addPerson } from '../src/store/people';
import { listActs } from '../src/store/audit';
import { saveCredential } from '../src/store/credentials';
import { saveScope } from '../src/store/scopes';
import { readJob } from '../src/store/jobs';
import { startApplication, type Application } from './support/application';
import { accessibilityProblems, fill, launchBrowser, openPage, openWhole, press, see } from './support/browser';
import { openSample, type SampleStore } from './support/sampleStore';
import { onLoopback, processOf, stopAll } from './support/program';

/** Acting on ports over the wire: by an operator, by an administrator, by a viewer who may not; and a client of another make looks at the switch all the while. */
let sample: SampleStore;
let app: Application;
let browser: Browser;
let page: Page;
let errors: string[];
let other: Session;
const people = { marla: 'administrator', osric: 'operator', wenna: 'viewer' } as const;
const password = 'signal-house-9';
const inside = '10.72.4.2';
const plat = 'rpw-plat';

const userOf = ({ name, authPassword, privPassword }: AgentUser) => ({
  name,
  level: snmp.SecurityLevel.authPriv,
  authProtocol: snmp.AuthProtocols.sha256,
  authKey: authPassword,
  privProtocol: snmp.PrivProtocols.aes,
  privKey: privPassword,
});
const keysOf = ({ name: user, authProtocol, authPassword, privProtocol, privPassword }: AgentUser) => ({
  kind: 'snmp3' as const,
  user,
  auth: { protocol: authProtocol, password: authPassword },
  priv: { protocol: privProtocol, password: privPassword },
});
/** What the switch itself says. */
const told = (...oids: string[]) =>
  new Promise<string>((resolve, reject) =>
    other.get(oids, (error, varbinds) =>
      error ? reject(error) : resolve(varbinds.map(({ value }) => String(value)).join()),
    ),
  );
/** Resolves when the switch tells what is awaited, however shortly. */
async function toldOnce(awaited: string, ...oids: string[]): Promise<void> {
  while ((await told(...oids)) !== awaited) await new Promise((resolve) => setTimeout(resolve, 50));
}
const admin = (port: number) => `1.3.6.1.2.1.2.2.1.7.${port}`;
const oper = (port: number) => `1.3.6.1.2.1.2.2.1.8.${port}`;
const alias = (port: number) => `1.3.6.1.2.1.31.1.1.1.18.${port}`;
const fed = (port: number) => `1.3.6.1.2.1.105.1.1.1.3.1.${port}`;

async function signIn(who: keyof typeof people, on = page): Promise<void> {
  await on.goto(`${app.address}/login`);
  await on.evaluate(
    async (given) =>
      fetch('/api/v1/session', {
        method: 'POST',
        body: JSON.stringify(given),
        headers: { 'content-type': 'application/json' },
      }),
    { name: who, password },
  );
}
const api = <Answer>(path: string, body?: unknown) =>
  page.evaluate(
    async (wanted, sent) => {
      const response = await fetch(
        `/api/v1/${wanted}`,
        sent === null ? {} : { method: 'POST', body: sent, headers: { 'content-type': 'application/json' } },
      );
      return { status: response.status, ...((await response.json()) as object) };
    },
    path,
    body === undefined ? null : JSON.stringify(body),
  ) as Promise<Answer & { status: number; detail?: string; errors?: { path: string; message: string }[] }>;
let platId = '';
const portId = (name: string) => `${platId}:${name}`;
async function openPort(name: string): Promise<void> {
  await openWhole(page, `${app.address}/ports?device=${platId}&sel=port:${encodeURIComponent(portId(name))}`);
  await see(page, `Port ${name}`);
  // what comes later pushes down what is to be pressed
  for (let before = '', same = 0; same < 3; await new Promise((resolve) => setTimeout(resolve, 50))) {
    const now = await page.$eval('body', (body) => body.innerText);
    same = now === before ? same + 1 : 0;
    before = now;
  }
}
const dialogText = () => page.$eval('[role=dialog]', (dialog) => (dialog as HTMLElement).innerText);
const mayPress = (words: string) =>
  page.evaluate(
    (wanted) =>
      [...document.querySelectorAll<HTMLButtonElement>('[role=dialog] button')].some(
        (button) => button.innerText === wanted && !button.disabled,
      ),
    words,
  );
async function sealed<Answer>(job: { jobId: number }): Promise<Answer> {
  for (;;) {
    const { state, result } = await api<{ state: string; result: Answer }>(`jobs/${job.jobId}`);
    if (state === 'done' || state === 'failed') return result;
  }
}

beforeAll(async () => {
  sample = await openSample();
  await sample.fleet.moveTo(8);
  const { base, port, store } = sample;
  const translations = [`10.72.0.0/16 via ${base}/16 port ${port} https ${port}`];
  await sample.survey(
    { scopeName: 'Ropewalk' },
    { ranges: ['10.72.0.1-2', ...[3, 4, 5, 6].map((stop) => `10.72.${stop}.1-2`)] },
  );
  const approved = onLoopback(port);
  saveCredential(store, { name: 'looks only', ...keysOf(sampleUser), purpose: 'write', approved });
  saveCredential(store, { name: 'hands', ...keysOf(sampleWriter), purpose: 'write', approved });
  saveScope(store.db, {
    ...scopeDefaults,
    name: 'Ropewalk',
    ranges: ['10.72.4.1-2'],
    translations,
    writeCredentials: ['hands'],
    timeoutMs: 250,
  });
  for (const [name, role] of Object.entries(people)) await addPerson(store.db, name, password, role);
  other = snmp.createV3Session(inside.replace('10.72', base.split('.').slice(0, 2).join('.')), userOf(sampleUser), {
    port,
    timeout: 1000,
    retries: 2,
    version: snmp.Version3,
  });
  [app, browser] = await Promise.all([startApplication(store.folder), launchBrowser()]);
  ({ page, errors } = await openPage(browser));
  await signIn('osric');
  platId = (await api<{ rows: { id: string }[] }>(`devices?where=name%3D${plat}`)).rows[0]?.id ?? '';
});
afterAll(async () => {
  other?.close();
  await browser?.close();
  await stopAll();
  sample?.close();
});

describe('an operator', () => {
  test('power-cycles a help point: sees what is sent and who hangs there, types its name, and the switch really takes the power away', async () => {
    await openPort('4');
    await press(page, 'Power-cycle');
    await see(page, 'This is sent to rpw-plat');
    expect(await dialogText()).toMatch(
      /delivering power[\s\S]*loses power and link[\s\S]*pethPsePortAdminEnable\.1\.4[\s\S]*false \(2\)[\s\S]*true \(1\)[\s\S]*after 5 s/,
    );
    expect(await accessibilityProblems(page)).toEqual([]);
    expect(await mayPress('Take the power away and give it back')).toBe(false);
    await fill(page, '[role=dialog] input[name=name]', 'rpw-plat 5');
    expect(await mayPress('Take the power away and give it back')).toBe(false);
    await fill(page, '[role=dialog] input[name=name]', 'rpw-plat 4');
    await fill(page, '[role=dialog] input[name=offSeconds]', '1');
    await see(page, 'a whole number from 2 to 120');
    await fill(page, '[role=dialog] input[name=offSeconds]', '2');
    // the switch is watched all the while: two seconds may be over before the page has said so
    const isOff = toldOnce('2,2', fed(4), oper(4));
    await page.keyboard.press('Enter');
    await see(page, 'It is given back after 2 s');
    await isOff;
    await see(page, 'Done: power taken away for 2 s');
    expect(await told(fed(4), oper(4))).toBe('1,1');
    await press(page, 'Close');
    await see(page, /power taken away for 2 s by osric/);
  });

  test('shuts a port and takes it back, and all of it is in the audit list', async () => {
    await openPort('5');
    await press(page, 'Shut');
    await see(page, 'This is sent to rpw-plat');
    await fill(page, '[role=dialog] input[name=name]', 'rpw-plat 5');
    await press(page, 'Shut it');
    await see(page, 'Done: shut');
    expect(await told(admin(5), oper(5))).toBe('2,2');
    await press(page, 'Close');
    await press(page, 'Take it back');
    await see(page, 'ifAdminStatus.5');
    await press(page, 'Enable it');
    await see(page, 'Done: enabled');
    expect(await told(admin(5), oper(5))).toBe('1,1');
    await press(page, 'Close');
    await see(page, /shut by osric, .*taken back/);
    const acts = listActs(sample.store.db, { text: 'rpw-plat 5', before: null, most: 20 })
      .rows.filter(({ subject }) => subject.startsWith('rpw-plat 5'))
      .map(({ act, subject }) => `${act}: ${subject}`)
      .reverse();
    expect(acts).toEqual([
      'looked at a port to act on it: rpw-plat 5',
      'asked for an act on a port: rpw-plat 5: shut',
      'acted on a port: rpw-plat 5: shut',
      'looked at a port to act on it: rpw-plat 5',
      'asked for an act on a port: rpw-plat 5: enabled',
      'acted on a port: rpw-plat 5: enabled',
    ]);
  });

  test('writes an alias; one that the standard does not allow is told at its field', async () => {
    await openPort('9');
    await press(page, 'Change alias');
    await see(page, 'no alias');
    await fill(page, '[role=dialog] input[name=alias]', 'Türstation');
    await see(page, 'plain ASCII');
    expect(await mayPress('Set the alias')).toBe(false);
    await fill(page, '[role=dialog] input[name=alias]', 'spare, cut at the frame');
    await see(page, 'ifAlias.9');
    await page.keyboard.press('Enter');
    await see(page, 'Done: alias set to');
    expect(await told(alias(9))).toBe('spare, cut at the frame');
  });

  test('is not let at an uplink, neither by the page nor by the API', async () => {
    await openPort('U1');
    await press(page, 'Shut');
    await see(page, /This is an uplink: it leads to rpw-ring/);
    expect([await mayPress('Shut it'), await page.$('[role=dialog] input[name=name]')]).toEqual([false, null]);
    const { settings } = await sealed<{ settings: unknown }>(
      await api<{ jobId: number }>('acts/look', { port: portId('U1') }),
    );
    const refused = await api('acts', {
      port: portId('U1'),
      act: { kind: 'shut' },
      seen: settings,
      name: 'rpw-plat U1',
      force: true,
    });
    expect([refused.status, refused.errors?.[0]?.path]).toEqual([403, 'force']);
    expect(await told(admin(101))).toBe('1');
  });

  test('sends nothing where somebody else was at the port meanwhile', async () => {
    await openPort('7');
    await press(page, 'Shut');
    await see(page, 'This is sent to rpw-plat');
    const elsewhere = snmp.createV3Session(
      inside.replace('10.72', sample.base.split('.').slice(0, 2).join('.')),
      userOf(sampleWriter),
      { port: sample.port, timeout: 1000, retries: 2, version: snmp.Version3 },
    );
    await new Promise<void>((resolve, reject) =>
      elsewhere.set([{ oid: alias(7), type: snmp.ObjectType.OctetString, value: 'mine' }], (error) =>
        error ? reject(error) : resolve(),
      ),
    );
    elsewhere.close();
    await fill(page, '[role=dialog] input[name=name]', 'rpw-plat 7');
    await press(page, 'Shut it');
    await see(page, /Not sent: the port was changed since you looked: nothing was sent/);
    expect(await told(admin(7))).toBe('1');
  });
});

describe('what is asked for by hand', () => {
  const seen = { ifIndex: 8, admin: 'up', oper: 'up', alias: '', power: null };
  test.each([
    ['a port that is not there', () => ({ port: portId('99'), act: { kind: 'shut' }, seen }), 404, undefined],
    ['an act that is none', () => ({ port: portId('8'), act: { kind: 'explode' }, seen }), 422, 'act.kind'],
    [
      'an act with what belongs to another',
      () => ({ port: portId('8'), act: { kind: 'shut', alias: 'x' }, seen }),
      422,
      'act.alias',
    ],
    [
      'too short a time without power',
      () => ({ port: portId('8'), act: { kind: 'powerCycle', offSeconds: 0 }, seen }),
      422,
      'act.offSeconds',
    ],
    ['no look before', () => ({ port: portId('8'), act: { kind: 'shut' } }), 422, 'seen'],
    ['no name where something hangs', () => ({ port: portId('8'), act: { kind: 'shut' }, seen }), 422, 'name'],
    [
      'taking back what was done elsewhere',
      () => ({ port: portId('8'), act: { kind: 'enable' }, seen, undoes: 1 }),
      422,
      'undoes',
    ],
    [
      'a field that is not known',
      () => ({ port: portId('8'), act: { kind: 'enable' }, seen, really: true }),
      422,
      'really',
    ],
  ])('with %s is refused at its place', async (_, body, status, path) => {
    const answer = await api('acts', body());
    expect([answer.status, answer.errors?.[0]?.path]).toEqual([status, path]);
  });
});

describe('an administrator', () => {
  test('shuts an uplink who says so, and sees that the switch itself is cut off', async () => {
    await signIn('marla');
    await openPort('U1');
    await press(page, 'Shut');
    await see(page, 'rpw-plat itself is cut off');
    await fill(page, '[role=dialog] input[name=name]', 'rpw-plat U1');
    expect(await mayPress('Shut it')).toBe(false);
    await press(page, 'I know that this is an uplink, and want it all the same');
    await press(page, 'Shut it');
    await see(page, 'Done: shut');
    expect(await told(admin(101), oper(101))).toBe('2,2');
    await press(page, 'Close');
    await press(page, 'Take it back');
    await see(page, 'ifAdminStatus.101');
    await press(page, 'Enable it');
    await see(page, 'Done: enabled');
    expect(await told(oper(101))).toBe('1');
  });

  test('gives a scope a user that may only read: the device refuses, and says why', async () => {
    const { rows } = await api<{ rows: { scope: object }[] }>('scopes');
    const scope = rows[0]?.scope ?? {};
    const wrong = await api('scopes', { ...scope, name: 'Another', credentials: ['hands'] });
    expect([wrong.status, wrong.errors?.[0]]).toEqual([
      422,
      { path: 'credentials', message: '“hands” is kept for acting on ports: surveys do not use it' },
    ]);
    sample.store.db.$client.exec("delete from port_act where state = 'queued'");
    saveScope(sample.store.db, { ...scopeDefaults, ...scope, writeCredentials: ['looks only'] });
    await openPort('9');
    await press(page, 'Shut');
    await see(page, 'as “looks only”');
    await press(page, 'Shut it');
    await see(page, 'The device refused: the user may read, but not write: nothing was changed.');
    expect(await told(admin(9))).toBe('1');
    saveScope(sample.store.db, { ...scopeDefaults, ...scope });
  });

  test('finds the power given back that an engine took away and did not live to give back', async () => {
    const { there, ...look } = await api<{ jobId: number; there: { device: string } }>('acts/look', {
      port: portId('4'),
    });
    const { settings } = await sealed<{ settings: object }>(look);
    const { actId, jobId } = await api<{ actId: number; jobId: number }>('acts', {
      port: portId('4'),
      act: { kind: 'powerCycle', offSeconds: 60 },
      seen: settings,
      name: `${there.device} 4`,
    });
    while ((await told(fed(4))) !== '2') await new Promise((resolve) => setTimeout(resolve, 50));
    const engine = processOf(readJob(sample.store.db, jobId)?.worker ?? '');
    process.kill(engine, 'SIGKILL');
    while ((await told(fed(4))) !== '1') await new Promise((resolve) => setTimeout(resolve, 50));
    for (;;) {
      const { state, sent } = await api<{ state: string; sent: { words: string }[] }>(`acts/${actId}`);
      if (state === 'sending') continue;
      expect([state, sent.map(({ words }) => words)]).toEqual(['done', ['false (2)', 'true (1)']]);
      break;
    }
  });
});

describe('where nobody can act', () => {
  test('a device without a credential for it says what an administrator must do', async () => {
    const core =
      (await api<{ rows: { id: string }[] }>('ports?where=device%3Dsgh-core-1%20kind%3Dedge&size=1')).rows[0]?.id ?? '';
    const { rows } = await api<{ rows: { scope: object }[] }>('scopes');
    saveScope(sample.store.db, { ...scopeDefaults, ...rows[0]?.scope, writeCredentials: [] });
    const answer = await api('acts/look', { port: core });
    expect([answer.status, answer.detail]).toEqual([
      409,
      expect.stringMatching(
        /The scope “Ropewalk” has no credential for acting on ports. An administrator adds an SNMP v3 user that may write/,
      ),
    ]);
    saveScope(sample.store.db, { ...scopeDefaults, ...rows[0]?.scope });
  });
  test('an operator is offered no secret that writes: neither to try, nor for a scope of theirs', async () => {
    await signIn('osric');
    await openWhole(page, `${app.address}/survey`);
    await see(page, 'for acting on ports');
    const offered = () =>
      page.$$eval('button', (list) => list.map((button) => button.getAttribute('aria-label') ?? ''));
    expect((await offered()).filter((name) => /the credential (hands|looks only)/.test(name))).toEqual([]);
    await press(page, 'Add a scope');
    await press(page, 'How it is reached: as usual');
    await page.waitForSelector('[role=dialog] textarea[name=translations]', { visible: true });
    expect(await page.$eval('[role=dialog]', (dialog) => (dialog as HTMLElement).innerText)).not.toContain('hands');
    await page.keyboard.press('Escape');
  });
  test('a viewer sees what was done, and is offered nothing', async () => {
    await signIn('wenna');
    await openPort('5');
    await see(page, /shut by osric/);
    expect(
      await page.evaluate(() =>
        [...document.querySelectorAll('button')]
          .map(({ innerText }) => innerText)
          .filter((words) => /^(Shut|Power|Change alias|Take it back)/.test(words)),
      ),
    ).toEqual([]);
    expect((await api('acts/look', { port: portId('5') })).status).toBe(403);
  });
  test('a switch that is silent says so, and nothing is sent', async () => {
    await signIn('osric');
    sample.fleet.close();
    await openPort('5');
    await press(page, 'Shut');
    await see(page, 'rpw-plat cannot be acted on: no answer to any credential.');
    expect(await accessibilityProblems(page)).toEqual([]);
    await press(page, 'Leave it');
  });
  test('no page logged an error', () => {
    expect(errors).toEqual([]);
  });
});
