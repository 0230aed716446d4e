import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import type { Browser, Page } from 'puppeteer-core';
import { settingsSections } from '../src/ui/features/goTo/settingsSections';
import { startApplication, type Application } from './support/application';
import {
  accessibilityProblems,
  click,
  fill,
  isThere,
  launchBrowser,
  openPage,
  press,
  pressAmong,
  see,
} from './support/browser';
import { startFleetAgain } from './support/sameAgents';
import { sampleCredentials, startAgents, stop, stopAll, temporaryFolder } from './support/program';

/** One person's way through the whole program, on an empty machine, with live agents. Each test goes on where the one before ended. */
let app: Application;
let agents: Awaited<ReturnType<typeof startAgents>>;
let browser: Browser;
let page: Page;
let errors: string[];
const downloads = path.join(temporaryFolder(), 'downloads');
const password = 'ostermere-lights';

let broken = false;
/** A step of the story: none is tried once one has failed, since each stands on those before. */
const step = (name: string, act: () => Promise<void>) =>
  test(name, async () => {
    if (broken) throw new Error('not tried: an earlier step of the story failed');
    broken = true;
    await act();
    broken = false;
  });

const open = (where: string) => page.goto(`${app.address}${where}`, { waitUntil: 'domcontentloaded' });
const api = <Answer>(where: string): Promise<Answer> =>
  page.evaluate(async (url) => (await fetch(url)).json() as Promise<never>, `/api/v1/${where}`);

async function downloaded(extension: string): Promise<string> {
  for (let attempt = 0; attempt < 100; attempt++) {
    const file = existsSync(downloads) ? readdirSync(downloads).find((name) => name.endsWith(extension)) : undefined;
    if (file && statSync(path.join(downloads, file)).size > 0) return path.join(downloads, file);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error(`no ${extension} was downloaded`);
}

beforeAll(async () => {
  mkdirSync(downloads, { recursive: true });
  [app, agents, browser] = await Promise.all([startApplication(), startAgents(1), launchBrowser()]);
  ({ page, errors } = await openPage(browser));
  const session = await page.createCDPSession();
  await session.send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: downloads });
});
afterAll(async () => {
  await browser?.close();
  await stopAll();
});

describe('first start', () => {
  step('leads to the making of the administrator, whatever page was asked for', async () => {
    await open('/estate');
    await see(page, 'Make the administrator');
    expect(await accessibilityProblems(page)).toEqual([]);
  });
  step('a short password and a different confirmation are told at their fields', async () => {
    await fill(page, 'input[name=name]', 'marla');
    await fill(page, 'input[name=password]', 'short');
    await fill(page, 'input[name=confirmation]', 'other');
    await press(page, 'Make the administrator');
    await see(page, 'at least 10 characters');
    await see(page, 'The two passwords differ');
  });
  step('a good one signs in at once and goes to the survey', async () => {
    await fill(page, 'input[name=password]', password);
    await fill(page, 'input[name=confirmation]', password);
    await press(page, 'Make the administrator');
    await see(page, 'Setting up');
    await see(page, 'step 2 of 5');
    await open('/survey');
    await see(page, 'No credential yet');
    await see(page, 'No scope yet');
  });
});

describe('the first survey', () => {
  step('a credential with a short secret is refused at its field, then saved; its secret is never shown', async () => {
    const [v3, community] = sampleCredentials;
    await press(page, 'Add a credential');
    await fill(page, 'input[name=name]', 'core v3');
    await fill(page, 'input[name=user]', v3?.user ?? '');
    await fill(page, 'input[name="auth.password"]', 'short');
    await fill(page, 'input[name="priv.password"]', v3?.priv?.password ?? '');
    await press(page, 'Save the credential');
    await see(page, 'needs at least 8 characters');
    await fill(page, 'input[name="auth.password"]', v3?.auth?.password ?? '');
    await press(page, 'Save the credential');
    await see(page, 'SNMP v3, user olr-survey, SHA-256, AES-128');
    await page.evaluate(
      async (value) =>
        fetch('/api/v1/credentials', {
          method: 'POST',
          body: JSON.stringify(value),
          headers: { 'content-type': 'application/json' },
        }),
      { ...community, name: 'read-only' },
    );
    const shown = JSON.stringify(await api('credentials'));
    for (const secret of ['signal-lantern-71', 'harbour-bell-19', 'olr-readonly']) expect(shown).not.toContain(secret);
    await open('/survey');
  });
  step('mistakes in a scope are told at their line, and nothing is saved', async () => {
    await press(page, 'Add a scope');
    await fill(page, 'input[name=name]', 'Ostermere');
    await fill(page, 'textarea[name=ranges]', '10.72.0.0/27\n10.72.4.1/24\n10.0.0.0/8');
    await press(page, 'What else: as usual');
    await fill(page, 'textarea[name=exclusions]', '192.0.2.1');
    await press(page, 'Save the scope');
    await see(page, 'line 2: “10.72.4.1/24” has bits set');
    await see(page, 'line 3: “10.0.0.0/8” is larger than /16');
    expect(await api('scopes')).toMatchObject({ total: 0 });
  });
  step('the corrected scope is saved', async () => {
    await fill(
      page,
      'textarea[name=ranges]',
      '10.72.0.0/27\n10.72.1.0/26\n10.72.3.0/28\n10.72.4.0/28\n10.72.5.0/28\n10.72.6.0/28\n10.72.17.0/28',
    );
    await press(page, 'Save the scope');
    await see(page, 'lies in none of the ranges');
    await fill(page, 'textarea[name=exclusions]', '10.72.1.60-62');
    await press(page, 'How it is reached: as usual');
    await fill(page, 'textarea[name=translations]', `10.72.0.0/16 via ${agents.base}/16 port ${agents.port}`);
    await press(page, 'Save the scope');
    await see(page, 'tries core v3, then read-only');
  });
  step('it runs before one’s eyes and ends on the outcomes, each with its reason', async () => {
    await press(page, 'Run now');
    await see(page, /Survey 1 is running|The survey begins/);
    await see(page, /10\.72\.0\.1\b/);
    await see(page, 'by the clock');
    await see(page, 'answered');
    const { rows } = await api<{ rows: { state: string; summary: { devices: { found: number } } }[] }>('surveys');
    expect(rows[0]).toMatchObject({ state: 'sealed', summary: { devices: { found: 30 } } });
  });
});

describe('sites', () => {
  step(
    'nobody is anywhere until a rule says so; what it gives is seen before it is saved, and holds at once',
    async () => {
      expect(await api('devices?where=site%3DSGH')).toMatchObject({ total: 0 });
      await open('/settings/sites');
      await see(page, 'No rule is written');
      await press(page, 'Add a rule');
      await fill(page, 'input[name="rules.0.pattern"]', '{place}-*');
      await page.keyboard.press('Tab');
      await see(page, 'In braces stands {site}');
      await fill(page, 'input[name="rules.0.pattern"]', '{site 2-4}-*');
      await see(page, /30 devices at CHD, LQY/);
      await see(page, '30 devices would stand elsewhere');
      expect(await accessibilityProblems(page)).toEqual([]);
      await press(page, 'Save the rules');
      await see(page, 'Every device has a site');
      await see(page, 'Nothing would change');
      const { total } = await api<{ total: number }>('devices?where=site%3DSGH');
      expect(total).toBeGreaterThan(5);
      // by keyboard, a rule is put before another
      await press(page, 'Add a rule');
      await fill(page, 'input[name="rules.1.pattern"]', 'sgh-core*');
      await fill(page, 'input[name="rules.1.site"]', 'HALL');
      await see(page, 'fits no device that is not told already');
      await page.focus('[aria-label^="Move rule 2"]');
      for (const key of ['Enter', 'ArrowUp', 'Enter'] as const) {
        await page.keyboard.press(key);
        await new Promise((resolve) => setTimeout(resolve, 300));
      }
      await see(page, '2 devices at HALL');
      await see(page, '2 devices would stand elsewhere');
      await press(page, 'Remove rule 1');
      await see(page, 'Nothing would change');
    },
  );
});

describe('the estate', () => {
  step('a device is found by a scrap of its serial and opened by keyboard', async () => {
    await open('/estate');
    await see(page, 'sgh-core-1');
    await page.keyboard.press('/');
    await page.keyboard.type('90117');
    await page.waitForFunction(() => document.querySelector('[role=grid]')?.getAttribute('data-total') === '1');
    await page.focus('[role=grid]');
    await page.keyboard.press('ArrowDown');
    await see(page, 'open dossier');
    await see(page, 'KA48-90117');
    await see(page, 'Supply bay 2: empty');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() => location.pathname.startsWith('/estate/'));
    await see(page, 'Kestrane K-Access 48, release 7.4.9, boot 3.2');
    await see(page, 'first seen');
  });
  step('a filter mistake is shown at its place and the table says so', async () => {
    await open('/estate');
    await fill(page, 'input[aria-label=Filter]', 'sit=RPW');
    await see(page, 'There is no field “sit”');
    await fill(page, 'input[aria-label=Filter]', '(rpw');
    await see(page, 'A bracket is not closed');
    await fill(page, 'input[aria-label=Filter]', 'name=nothing-here');
    await see(page, 'Nothing fits this filter');
    await page.keyboard.press('Escape');
    await see(page, 'chd-plat');
  });
  step('chosen columns stay, also after signing out and in', async () => {
    await press(page, 'Columns');
    await press(page, 'Location');
    await press(page, 'Done');
    await see(page, 'Chandlery, cabinet 1');
    await page.waitForFunction(async () =>
      JSON.stringify(await (await fetch('/api/v1/preferences')).json()).includes('location'),
    );
    await press(page, 'marla');
    await press(page, 'Sign out');
    await see(page, 'Sign in');
    await fill(page, 'input[name=name]', 'marla');
    await fill(page, 'input[name=password]', 'not this one');
    await press(page, 'Sign in');
    await see(page, 'Name and password do not fit');
    await fill(page, 'input[name=password]', password);
    await press(page, 'Sign in');
    await see(page, 'Needs attention');
    await open('/estate');
    await see(page, 'Chandlery, cabinet 1');
  });
  step('sorting is by value, and a picture narrows', async () => {
    await press(page, 'Release');
    await page.waitForFunction(() =>
      document.querySelector('[role=row][aria-rowindex="2"]')?.textContent?.includes('5.1.0'),
    );
    await pressAmong(page, '.picture button', 'host');
    await page.waitForFunction(() => document.querySelector('[role=grid]')?.getAttribute('data-total') === '5');
    expect(new URL(page.url()).searchParams.get('where')).toBe('role=host');
  });
  step('what is shown is exported as CSV, XLSX and JSON, and the request for it is told', async () => {
    for (const [name, extension] of [
      ['CSV', '.csv'],
      ['Spreadsheet (XLSX)', '.xlsx'],
      ['JSON', '.json'],
    ] as const) {
      await press(page, 'Export');
      await press(page, name);
      await downloaded(extension);
      await page.waitForFunction(() => !document.querySelector('[role=menu]'));
    }
    const csv = readFileSync(await downloaded('.csv'), 'utf8')
      .trim()
      .split('\r\n');
    expect(csv[0]).toContain('Name,Role,Site');
    expect(csv).toHaveLength(6);
    expect(JSON.parse(readFileSync(await downloaded('.json'), 'utf8'))).toHaveLength(5);
    await press(page, 'Export');
    await press(page, 'Request for this table…');
    await see(page, 'curl -H');
    await see(page, 'where=role%3Dhost');
    await press(page, 'Done');
  });
});

describe('ports, map, ledger', () => {
  step('which endpoint hangs on a switch port, from the faceplate, with how it is known', async () => {
    const { rows } = await api<{ rows: { id: string }[] }>('devices?where=name%3Drpw-plat');
    await open(`/ports?device=${rows[0]?.id}`);
    await see(page, /1[5-9] used/);
    await page.waitForSelector('button[aria-label^="Port 14, up"]');
    await click(page, 'button[aria-label^="Port 14, up"]');
    await see(page, 'phone with a computer behind');
    await see(page, 'behind it');
    await see(page, 'forwarding table of rpw-plat, port 14');
    await see(page, '10.72.4.118');
  });
  step(
    'the map shows every device and link; one chosen in the list tells who says so; it can be walked by keyboard',
    async () => {
      await open('/map');
      await see(page, /30 devices, \d+ links/);
      await fill(page, 'input[aria-label="Find on the map"]', 'lqy-plat');
      await page.waitForFunction(() =>
        [...document.querySelectorAll('[role=treeitem]')]
          .map((line) => line.textContent)
          .join()
          .includes('lqy-plat'),
      );
      await page.focus('[role=tree]');
      await page.keyboard.press('End');
      // its links stand below it, since it is chosen
      await page.waitForFunction(() => document.querySelectorAll('[role=treeitem][aria-level="3"]').length > 0);
      const line = () =>
        page.evaluate(() => document.querySelector('[role=treeitem][aria-selected=true]')?.textContent ?? '');
      for (let down = 0; down < 9; down++) {
        const now = await line();
        if (now.includes('lqy-ring')) break;
        await page.keyboard.press('ArrowDown');
        // the map is drawn anew before the list tells which line it is on
        await page.waitForFunction(
          (before) => document.querySelector('[role=treeitem][aria-selected=true]')?.textContent !== before,
          {},
          now,
        );
      }
      await see(page, 'Who says so');
      await see(page, 'both ends say so');
      await see(page, 'lqy-ring hears lqy-plat');
      await fill(page, 'input[aria-label="Find on the map"]', '');
      await page.focus('canvas');
      await page.keyboard.press('ArrowUp');
      await page.waitForFunction(() => /^(device|site):/.test(new URLSearchParams(location.search).get('sel') ?? ''));
      expect(await accessibilityProblems(page)).toEqual([]);
    },
  );
  step('the map goes from sites to devices to ports, only around one of them, and by VLAN', async () => {
    await open('/map');
    await page.waitForSelector('canvas[data-scale]');
    await page.focus('canvas');
    const scale = () => page.$eval('canvas', (canvas) => Number((canvas as HTMLElement).dataset.scale));
    const far = await scale();
    for (let step = 0; step < 4; step++) await page.keyboard.press('+');
    expect(await scale()).toBeGreaterThan(far * 2);
    await page.keyboard.press('0');
    expect(await scale()).toBe(far);
    await open('/map?sel=site:RPW');
    await see(page, 'Joined to');
    await press(page, 'Only this site and what it is joined to');
    await see(page, /only around RPW/);
    await click(page, '.mapfocus input[type=checkbox]');
    await page.waitForFunction(() => [...document.querySelectorAll('[role=treeitem][aria-level="1"]')].length < 5);
    await press(page, 'the whole map');
    await page.select('select[aria-label="The map is coloured by"]', 'spanning tree');
    await see(page, 'leads up to the root');
    await page.select('select[aria-label="The map is coloured by"]', 'VLAN');
    await page.type('input[aria-label="Number of the VLAN"]', '30');
    await see(page, 'VLAN 30 at both ends');
    expect(new URL(page.url()).searchParams.get('over')).toBe('vlan:30');
    await open('/map');
  });
  step('the picture of the map is exported with real text, and as PNG', async () => {
    const take = async (kind: string) => {
      await press(page, 'Take away');
      await pressAmong(page, '.kinds label', kind);
      await press(page, 'Save');
      await page.waitForSelector('[role=dialog]', { hidden: true });
    };
    await take('SVG');
    const svg = readFileSync(await downloaded('.svg'), 'utf8');
    for (const name of ['sgh-core-1', 'rpw-ring']) expect(svg).toContain(`>${name}</text>`);
    await take('PNG');
    expect(
      readFileSync(await downloaded('.png'))
        .subarray(1, 4)
        .toString(),
    ).toBe('PNG');
  });
  step('go to anything by Ctrl+K', async () => {
    await page.keyboard.down('Control');
    await page.keyboard.press('k');
    await page.keyboard.up('Control');
    await page.waitForSelector('[role=combobox]');
    await page.keyboard.type('KS2-33017');
    await see(page, 'serial, Supervisor module in sgh-core-1');
    await page.keyboard.press('Enter');
    await see(page, 'Its life');
  });
});

describe('firmware', () => {
  step('a target judges every device of a family, with every reason written out; the chart filters', async () => {
    await open('/firmware');
    await see(page, 'No target is set yet');
    await press(page, 'Set a target');
    await page.waitForFunction(() => window.location.search.includes('targets'));
    await see(page, '0 targets');
    await press(page, 'Set a target');
    for (const [field, choice] of [
      ['line', 'Kestrane K-Access, system'],
      ['release', '7.4.12b, 2026-06-16'],
    ] as const) {
      await click(page, `:has(> input[name="target.${field}"]) > [role=combobox]`);
      await press(page, choice);
      await page.waitForSelector('[role=option]', { hidden: true });
    }
    await pressAmong(page, '.panel button[type=submit]', 'Set the target');
    await see(page, 'The target is set.');
    await press(page, 'Readiness');
    await see(page, 'memory is 256 MB, 7.4.12b needs 384 MB');
    await see(page, 'free flash is 22 MB, 7.4.12b needs 96 MB');
    await pressAmong(page, '.picture button', 'blocked');
    await page.waitForFunction(() => document.querySelector('[role=grid]')?.getAttribute('data-total') === '1');
    await see(page, 'ofy-plat');
    const { rows } = await api<{ rows: object[] }>('readiness');
    for (const field of ['device', 'component', 'current', 'target', 'verdict', 'reasons'])
      expect(Object.keys(rows[0] ?? {})).toContain(field);
  });
});

describe('time', () => {
  step('later surveys fill the strip; Today tells what was replaced', async () => {
    await stop(agents.process);
    for (const step of [2, 8]) {
      const again = await startFleetAgain(agents, step);
      await open('/survey');
      await press(page, 'Run now');
      // a survey takes as long as it takes: on a busy machine that is longer than anything else that is waited for
      await page.waitForFunction(
        (wanted) => document.querySelector('body')?.innerText.includes(wanted),
        { timeout: 55_000 },
        `Survey ${step === 2 ? 2 : 3}\n`,
      );
      await see(page, 'by the clock');
      await stop(again);
    }
    await open('/today?survey=2');
    await see(page, 'KA48-90117 → KA48-93302');
    await open('/today');
    await see(page, 'ofy-plat does not answer');
    await see(page, 'duplex differs: lqy-plat U1 has full, lqy-ring 3 has half');
  });
  step('viewing and comparing work by keyboard: added, gone and changed are marked', async () => {
    await open('/estate');
    await see(page, 'tme-plat');
    await page.focus('[role=grid]');
    await page.keyboard.press('.');
    await page.waitForFunction(() => new URLSearchParams(location.search).get('against') === '2');
    await page.waitForSelector('.row.added');
    await press(page, '+2 added');
    await page.waitForFunction(() => document.querySelector('.table')?.getAttribute('data-total') === '2');
    await page.focus('[role=grid]');
    // what the filter says of the comparison goes with it
    await page.keyboard.press('.');
    await page.waitForFunction(() => !location.search.includes('against') && !location.search.includes('where'));
    await page.keyboard.press('.');
    await see(page, /~\d+ changed/);
    await page.keyboard.press('[');
    await page.waitForFunction(() => new URLSearchParams(location.search).get('survey') === '2');
    await see(page, /viewing\n/);
    await page.waitForFunction(() => !document.querySelector('[aria-label*="compared with"]'));
    await page.keyboard.press('.');
    await see(page, 'KA48-90117 → KA48-93302');
  });
});

describe('trust', () => {
  step('no screen breaks a rule of accessibility or logs an error, by day and by night', async () => {
    const screens = [
      '/today',
      '/survey',
      '/estate?sel=device:1',
      '/ports',
      '/map',
      '/map?of=trace',
      '/map?of=hosts',
      '/map?of=fabric',
      '/firmware',
      '/ledger',
      ...settingsSections.map(({ key }) => `/settings/${key}`),
      '/begin',
      '/estate?of=checks',
      '/estate?of=groups',
      '/api',
    ];
    const inTheme = (theme: 'day' | 'night') =>
      page.setCookie({ name: 'bolide-theme', value: theme, url: app.address });
    const opened = async (where: string) => {
      await open(where);
      await isThere(page);
    };
    for (const where of screens) {
      await inTheme('day');
      await opened(where);
      expect(['day', where, await accessibilityProblems(page)]).toEqual(['day', where, []]);
      // a screen with a header changes its colours where it stands, as a person would have it; the first is opened by night besides
      if (where !== screens[0] && (await page.$('.header'))) {
        await press(page, 'marla');
        await press(page, 'Night theme');
        await page.waitForFunction(
          () => document.documentElement.dataset.theme === 'night' && !document.querySelector('[role=menu]'),
        );
      } else {
        await inTheme('night');
        await opened(where);
      }
      expect(['night', where, await accessibilityProblems(page, 'colours')]).toEqual(['night', where, []]);
    }
    expect(errors).toEqual([]);
  });
  step('pages carry a strict policy; nobody else’s page may write; nothing is told to strangers', async () => {
    const answer = await fetch(`${app.address}/login`);
    expect(answer.headers.get('content-security-policy')).toMatch(/script-src 'self' 'nonce-[^']+'/);
    expect(answer.headers.get('content-security-policy')).not.toMatch(/script-src[^;]*unsafe/);
    for (const where of ['devices', 'credentials', 'surveys', 'scopes', 'today', 'people', 'preferences', 'catalogue'])
      expect([where, (await fetch(`${app.address}/api/v1/${where}`)).status]).toEqual([where, 401]);
    const cookie = (await page.cookies()).map(({ name, value }) => `${name}=${value}`).join('; ');
    const write = (origin?: string) =>
      fetch(`${app.address}/api/v1/targets`, {
        method: 'PUT',
        body: JSON.stringify({ vendor: 'Kestrane', family: 'K-Ring', release: null }),
        headers: { cookie, 'content-type': 'application/json', ...(origin && { origin }) },
      });
    expect([
      (await write('http://example.invalid')).status,
      (await write()).status,
      (await write(app.address)).status,
    ]).toEqual([403, 403, 200]);
  });
  step('a viewer sees no credential and changes nothing', async () => {
    const made = await page.evaluate(
      async () =>
        (
          await fetch('/api/v1/people', {
            method: 'POST',
            body: JSON.stringify({ name: 'auditor', password: 'reads-only-here', role: 'viewer' }),
            headers: { 'content-type': 'application/json' },
          })
        ).status,
    );
    expect(made).toBe(200);
    const signIn = await fetch(`${app.address}/api/v1/session`, {
      method: 'POST',
      body: JSON.stringify({ name: 'auditor', password: 'reads-only-here' }),
      headers: { origin: app.address },
    });
    const cookie = signIn.headers
      .getSetCookie()
      .map((line) => line.split(';')[0])
      .join('; ');
    expect(signIn.headers.getSetCookie().join()).toMatch(/httponly.*samesite=strict|samesite=strict.*httponly/i);
    const status = async (where: string, method = 'GET', body?: object) =>
      (
        await fetch(`${app.address}/api/v1/${where}`, {
          method,
          headers: { cookie, origin: app.address },
          ...(body && { body: JSON.stringify(body) }),
        })
      ).status;
    expect([await status('devices'), await status('credentials'), await status('people')]).toEqual([200, 403, 403]);
    expect([
      await status('surveys', 'POST', { scopeId: 1 }),
      await status('targets', 'PUT', {}),
      await status('scopes/1', 'DELETE'),
    ]).toEqual([403, 403, 403]);
    // nothing is offered that would be refused, and nothing is asked for that is not told
    const context = await browser.createBrowserContext();
    const viewer = await context.newPage();
    const refused: string[] = [];
    viewer.on('response', (answer) => answer.status() >= 400 && refused.push(`${answer.status()} ${answer.url()}`));
    await viewer.goto(`${app.address}/login`, { waitUntil: 'networkidle0' });
    await viewer.evaluate(() =>
      fetch('/api/v1/session', {
        method: 'POST',
        body: JSON.stringify({ name: 'auditor', password: 'reads-only-here' }),
        headers: { 'content-type': 'application/json' },
      }),
    );
    const offered: string[] = [];
    for (const where of [
      '/today',
      '/survey',
      '/estate',
      '/estate?of=groups',
      '/estate?of=checks',
      '/firmware',
      // one's own password is for everybody to change
      ...settingsSections.filter(({ key }) => key !== 'you').map(({ key }) => `/settings/${key}`),
    ]) {
      await viewer.goto(`${app.address}${where}`, { waitUntil: 'domcontentloaded' });
      await isThere(viewer);
      offered.push(
        ...(await viewer.$$eval('button', (list) =>
          list
            .map((button) => button.innerText)
            .filter((text) => /^(Add|Run|Make|Edit|Delete|Remove|Change|Test|Save|Work at)\b/.test(text)),
        )),
      );
    }
    await context.close();
    expect([offered, refused]).toEqual([[], []]);
  });
  step('unknown parameters, fields and pages are problem documents that say where', async () => {
    const problem = (where: string) =>
      page.evaluate(async (url) => {
        const answer = await fetch(url);
        return {
          status: answer.status,
          type: answer.headers.get('content-type'),
          body: (await answer.json()) as { title: string; errors: { path: string }[] },
        };
      }, `/api/v1/${where}`);
    expect(await problem('devices?colour=red')).toMatchObject({
      status: 422,
      type: 'application/problem+json',
      body: { errors: [{ path: 'colour' }] },
    });
    expect(await problem('devices?survey=99')).toMatchObject({ status: 422, body: { errors: [{ path: 'survey' }] } });
    expect(await problem('devices?where=(x')).toMatchObject({
      status: 422,
      body: { title: 'Filter mistake', errors: [{ path: 'where', at: 2 }] },
    });
    expect(await problem('devices?size=0')).toMatchObject({ status: 422 });
    expect(await problem('cables')).toMatchObject({ status: 404 });
    expect(await problem('devices/999')).toMatchObject({ status: 404 });
  });
  step('guessing a password is slowed down', async () => {
    const guess = async () =>
      (
        await fetch(`${app.address}/api/v1/session`, {
          method: 'POST',
          body: JSON.stringify({ name: 'auditor', password: 'guess' }),
          headers: { origin: app.address },
        })
      ).status;
    // forty at once are forty: they are counted before a password is looked at
    const answers = await Promise.all(Array.from({ length: 40 }, guess));
    expect(answers.filter((status) => status === 401)).toHaveLength(5);
    expect(answers.filter((status) => status === 429)).toHaveLength(35);
  });
});

step('a survey in flight is cancelled from the interface; what was collected is kept', async () => {
  const again = await startFleetAgain(agents, 8);
  await open('/survey');
  await press(page, 'Change the scope Ostermere');
  await press(page, 'How hard it asks: as usual');
  await fill(page, 'input[name=concurrency]', '1');
  await press(page, 'Save the scope');
  await see(page, 'Run now');
  await page.waitForFunction(() => !document.querySelector('[role=dialog]'));
  await press(page, 'Run now');
  await see(page, /[1-9]\d* answered/);
  await press(page, 'Cancel');
  await see(page, 'cut short');
  const { rows } = await api<{ rows: { state: string; summary: { addresses: { asked: number } } }[] }>('surveys');
  expect(rows[0]?.state).toBe('cancelled');
  expect(await api('devices?size=1')).toMatchObject({ total: 32 });
  await stop(again);
});
