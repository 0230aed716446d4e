// covers: src/ui/estate/checks src/ui/estate/groups src/ui/features/own src/ui/features/imports src/server/edits src/server/imports src/server/own src/server/groups src/server/checks
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Browser, ElementHandle, Page } from 'puppeteer-core';
import { generateEstate } from '../bench/generate';
import { openStore } from '../src/store/base/database';
import { addPerson } from '../src/store/people';
import { startApplication, type Application } from './support/application';
import {
  accessibilityProblems,
  click,
  fill,
  fillDay,
  launchBrowser,
  openPage,
  openWhole,
  press,
  see,
} from './support/browser';
import { stopAll, temporaryFolder } from './support/program';

/** What people say of the estate: own fields, groups, maintenance, checks; by operator and by viewer. */
let app: Application;
let browser: Browser;
let page: Page;
let errors: string[];
const osric = { name: 'osric', password: 'harbour-depot-7' };
const wenna = { name: 'wenna', password: 'signal-house-9' };
const folder = temporaryFolder();

async function signIn(on: Page, who: typeof osric): Promise<void> {
  await on.goto(`${app.address}/login`);
  await on.evaluate(
    async (given) =>
      fetch('/api/v1/session', {
        method: 'POST',
        body: JSON.stringify(given),
        headers: { 'content-type': 'application/json' },
      }),
    who,
  );
}
const open = (where: string, on = page) => openWhole(on, `${app.address}${where}`);
const theme = (name: string) =>
  page.evaluate(
    (value) =>
      fetch('/api/v1/preferences', {
        method: 'PUT',
        body: JSON.stringify({ key: 'theme', value }),
        headers: { 'content-type': 'application/json' },
      }),
    name,
  );
const ask = (path_: string) =>
  page.evaluate(
    async (wanted) =>
      (await fetch(`/api/v1/${wanted}`)).json() as Promise<{ rows: Record<string, unknown>[]; total: number }>,
    path_,
  );

beforeAll(async () => {
  const data = temporaryFolder();
  const store = openStore(data);
  generateEstate(store, 300);
  await addPerson(store.db, osric.name, osric.password, 'administrator');
  await addPerson(store.db, wenna.name, wenna.password, 'viewer');
  store.close();
  [app, browser] = await Promise.all([startApplication(data), launchBrowser()]);
  ({ page, errors } = await openPage(browser));
  await signIn(page, osric);
});
afterAll(async () => {
  await browser.close();
  await stopAll();
});

describe('own fields', () => {
  test('are written at a dossier, shown at once, and taken back', async () => {
    await open('/estate?where=site%3DS7');
    await click(page, '.table .row .cell.first');
    await press(page, 'Write');
    await fill(page, 'input[name="own.owner"]', 'field service');
    await fill(page, 'input[name="own.tags"]', 'spare, spare,cold');
    await press(page, 'Save');
    await see(page, '2 values written');
    await see(page, 'field service');
    expect((await ask('devices?where=tags%3Dcold')).total).toBe(1);
    await click(page, '.panel [role=status] button');
    await see(page, 'nothing written yet');
    expect((await ask('devices?where=tags%3Dcold')).total).toBe(0);
  });
  test('that are half written at one device are not written at another', async () => {
    await open('/estate?where=site%3DS7');
    const cells = await page.$$('.table .row .cell.first');
    // both dossiers are there by then
    for (const cell of [cells[1], cells[0]]) {
      await cell?.click();
      await page.waitForFunction(
        (name) => document.querySelector('.panel h2')?.textContent === name,
        {},
        await cell?.evaluate((own) => own.textContent ?? ''),
      );
    }
    await press(page, 'Write');
    await fill(page, 'input[name="own.owner"]', 'half a thought');
    await cells[1]?.click();
    await page.waitForFunction(
      (name) => document.querySelector('.panel h2')?.textContent === name,
      {},
      await cells[1]?.evaluate((own) => own.textContent ?? ''),
    );
    expect(await page.$('input[name="own.owner"]')).toBeNull();
    await press(page, 'Write');
    await page.waitForSelector('input[name="own.owner"]');
    expect(await page.$eval('input[name="own.owner"]', (input) => (input as HTMLInputElement).value)).toBe('');
    await press(page, 'Leave it');
  });
  test('of many rows are looked at before they are written, and undone together', async () => {
    const { total } = await ask('devices?where=site%3DS7');
    await open('/estate?where=site%3DS7');
    await press(page, 'Edit');
    await page.waitForSelector('input[name="change.owner"]', { visible: true });
    await click(page, 'input[name="change.owner"]');
    await fill(page, 'input[name="own.owner"]', 'north team');
    await press(page, 'Show what changes');
    await see(page, `${total} values would change in ${total} devices`);
    expect(await accessibilityProblems(page)).toEqual([]);
    await press(page, `Write ${total} values`);
    await see(page, `${total} values written`);
    await see(page, 'owner of 3 devices');
    await press(page, 'Undo');
    await see(page, `${total} taken back`);
    expect((await ask('devices?where=owner%3D%22north+team%22')).total).toBe(0);
    await press(page, 'Close');
  });
  test('from a file: every mistake at its line, nothing taken; a right one is taken as a whole', async () => {
    const names = (await ask('devices?where=site%3DS7&size=3')).rows.map(({ name }) => String(name));
    const wrong = path.join(folder, 'wrong.csv');
    writeFileSync(wrong, `name,owner,asset number\n${names[0] ?? ''},marla,A-1\nnobody,marla,A-2\n`);
    const right = path.join(folder, 'right.csv');
    writeFileSync(right, `Name;Asset number;Owner\n${names.map((name, at) => `${name};A-${at};marla`).join('\n')}\n`);
    await open('/estate');
    await press(page, 'Edit');
    await press(page, 'Own fields from a CSV file');
    const input = (await page.waitForSelector('input[name=devicesCsv]')) as ElementHandle<HTMLInputElement>;
    await input.uploadFile(wrong);
    await see(page, 'Nothing has “nobody”');
    expect(
      (
        await page.$$eval('[aria-label="Mistakes in the file"] tbody tr', (rows) =>
          rows.map((row) => row.innerText.trim()),
        )
      ).join(),
    ).toMatch(/^3\s+name\s+Nothing has/);
    expect((await ask('devices?where=assetNumber!%3D%22%22')).total).toBe(0);
    await ((await page.$('input[name=devicesCsv]')) as ElementHandle<HTMLInputElement>).uploadFile(right);
    await see(page, '6 new values, 0 changed, in 3 lines');
    await press(page, 'Take 6 values');
    await see(page, '6 new values, 0 changed.');
    expect((await ask('devices?where=assetNumber%3DA-2&columns=name,owner')).rows).toEqual([
      { id: expect.anything(), name: names[2], owner: 'marla' },
    ]);
    await press(page, 'Close');
  });
  test('an administrator makes a new one, which is a column, a filter and a place in dossiers', async () => {
    await open('/settings/fields');
    await fill(page, 'input[name=fieldLabel]', 'Cost centre');
    await press(page, 'Add the field');
    // in the list, not only as the name it would have
    await page.waitForFunction(() =>
      [...document.querySelectorAll<HTMLElement>('table td')].some(
        ({ innerText }) => innerText.trim() === 'costCentre',
      ),
    );
    await open('/estate?where=costCentre%3D%22%22&columns=name,costCentre');
    await see(page, 'Cost centre');
    await open('/estate?where=costCentr%3D1');
    await see(page, 'There is no field “costCentr”');
  });
});

describe('contracts', () => {
  test('from a file: every mistake at its line, nothing taken; a right one is taken, shown in dossiers and tables, and taken back', async () => {
    const [first, second] = (await ask('devices?where=site%3DS7%20serial!%3D%22%22&size=2')).rows.map(
      ({ name, serial }) => ({ name: String(name), serial: String(serial) }),
    );
    const wrong = path.join(folder, 'contracts-wrong.csv');
    writeFileSync(
      wrong,
      `number,kind,until,serial\nKS-1,contract,2099-12-31,${first?.serial ?? ''}\nKS-1,contract,2098-12-31,${second?.serial ?? ''}\n,licence,,X\n`,
    );
    const right = path.join(folder, 'contracts.csv');
    writeFileSync(
      right,
      `Number;Kind;Until;Serial;Supplier;Price\nKS-1;contract;2099-12-31;${first?.serial ?? ''};Kestrane Service;400\nKS-1;;;${second?.serial ?? ''};;\nKS-2;licence;;SHELF-1;;20\n`,
    );
    await open('/estate?of=contracts');
    await see(page, 'No contract is entered yet');
    await press(page, 'Enter');
    await press(page, 'Many, from a CSV file');
    const choose = async (file: string) =>
      ((await page.waitForSelector('input[name=contractsCsv]')) as ElementHandle<HTMLInputElement>).uploadFile(file);
    await choose(wrong);
    await see(page, '2 mistakes');
    expect(
      await page.$$eval('[aria-label="Mistakes in the file"] tbody tr', (rows) =>
        rows.map((row) => row.innerText.replaceAll(/\s+/g, ' ').trim()),
      ),
    ).toEqual([
      '3 until “2098-12-31”, but line 2 says “2099-12-31” of KS-1',
      '4 number says of no contract which it is',
    ]);
    expect((await ask('contracts')).total).toBe(0);
    await choose(right);
    await see(page, '2 new contracts, 0 changed');
    await see(page, 'not taken');
    await see(page, 'no survey has seen: SHELF-1');
    expect(await accessibilityProblems(page)).toEqual([]);
    await press(page, 'Take 2 contracts');
    await see(page, '2 new contracts, 0 changed.');
    await press(page, 'Close');
    await see(page, 'KS-2');
    expect((await ask('devices?where=coveredBy%3DKS-1')).rows.map(({ name }) => name).sort()).toEqual(
      [first?.name, second?.name].sort(),
    );
    await open(`/estate?where=name%3D${first?.name ?? ''}`);
    await click(page, '.table .row .cell.first');
    await see(page, 'covered until Thu 31 Dec 2099');
    await see(page, 'contract of Kestrane Service');
    // a check of its own looks at it, too
    expect((await ask('devices?where=cover%3Dcovered%20coverUntil%3E2099-01-01')).total).toBe(2);
  });
  test('one is changed at its dossier with the keyboard, each mistake at its field, and deleted', async () => {
    await open('/estate?of=contracts&where=KS-2');
    await click(page, '.table .row .cell.first');
    await see(page, 'Not in service');
    await press(page, 'Change the contract');
    await fillDay(page, 'contract.until', '2030-01-01');
    await fillDay(page, 'contract.from', '2031-01-01');
    await press(page, 'Save');
    await see(page, 'before it begins on 2031-01-01');
    await fillDay(page, 'contract.from', '2029-01-01');
    await page.focus('input[name="contract.number"]');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() => !document.querySelector('[role=dialog]'));
    expect((await ask('contracts?where=KS-2')).rows).toMatchObject([
      { until: '2030-01-01', from: '2029-01-01', kind: 'licence', serials: ['SHELF-1'] },
    ]);
    await press(page, 'Delete the contract');
    await see(page, 'Nothing fits this filter');
    await open('/estate?of=contracts');
    await press(page, 'Enter');
    await see(page, 'Written last');
    await press(page, 'Undo');
    await see(page, '1 taken back');
    expect((await ask('contracts')).total).toBe(2);
    expect((await ask('audit?text=contract')).rows.map(({ act }) => act)).toEqual([
      'took an edit of contracts back',
      'deleted a contract',
      'changed a contract',
      'took contracts from a file',
    ]);
  });
});

describe('groups and maintenance', () => {
  test('what a table shows becomes a group by its filter; marked rows become one by name', async () => {
    await open('/estate?where=site%3DS7');
    await press(page, 'Edit');
    await press(page, 'Into a group');
    await fill(page, 'input[name=name]', 'Seventh site');
    await press(page, 'Make the group');
    await see(page, 'whatever fits the filter is in it');
    await press(page, 'Close');
    await click(page, '.table .row .cell.first');
    await page.keyboard.press('m');
    await press(page, 'Edit');
    await press(page, 'Into a group');
    await fill(page, 'input[name=name]', 'Picked');
    await press(page, 'Make the group');
    await see(page, 'is made with 1 devices');
    await press(page, 'Close');
    await open('/estate?of=groups');
    await see(page, 'Seventh site');
    expect(await accessibilityProblems(page)).toEqual([]);
    await press(page, 'Delete the group Picked');
    await see(page, '“Picked” is deleted');
    await press(page, 'Undo');
    // it comes back above the other, which moves down
    await page.waitForSelector('[aria-label="Delete the group Picked"]');
    await press(page, 'Seventh site');
    await page.waitForFunction(() => location.search.includes('Seventh'));
    expect((await ask('devices?where=group%3D%22Seventh+site%22')).total).toBe(
      (await ask('devices?where=site%3DS7')).total,
    );
  });
  test('a mistake is told at its place; maintenance is a state of its devices until it is ended', async () => {
    await open('/estate?of=groups');
    await fill(page, 'input[name=maintenanceReason]', 'new supplies');
    const filters = await page.$$('input[aria-label=Filter]');
    await filters[1]?.type('site=');
    await page.keyboard.press('Enter');
    await see(page, '“site=” has no value');
    await press(page, 'Set maintenance');
    await see(page, 'has no value');
    await filters[1]?.type('S7');
    await page.keyboard.press('Enter');
    await press(page, 'Set maintenance');
    await see(page, /Set for \d+ devices/);
    expect((await ask('devices?where=maintenance%3Dyes')).total).toBe((await ask('devices?where=site%3DS7')).total);
    await press(page, 'End now: new supplies');
    await see(page, 'is ended');
    expect((await ask('devices?where=maintenance%3Dyes')).total).toBe(0);
  });
});

describe('checks', () => {
  test('those that fail stand first, each with its proof; one is made, tried, switched off and on', async () => {
    await theme('night');
    await open('/estate?of=checks');
    await page.waitForSelector('.checkrow');
    expect(await accessibilityProblems(page)).toEqual([]);
    await press(page, 'Make a check');
    await fill(page, 'input[name=checkName]', 'No device is called s1');
    const [where] = await page.$$('.panel input[aria-label=Filter]');
    await where?.type('name:s1-');
    await press(page, 'Try it');
    await see(page, 'It would fail now');
    await press(page, 'Make the check');
    await see(page, /\d+ found/);
    await press(page, 'Switch off');
    await see(page, 'no survey judges it');
    await press(page, 'Undo');
    await page.waitForFunction(() =>
      [...document.querySelectorAll('.checkrow[aria-selected=true]')].some((row) =>
        row.querySelector('[role=gridcell] b'),
      ),
    );
    await click(page, '.panel section.section a');
    await page.waitForSelector('.table .row');
    expect(new URL(page.url()).searchParams.get('where')).toBe('name:s1-');
    await theme('day');
  });
});

describe('two people write one thing', () => {
  test('the second is shown what the first wrote beside the own, and chooses: theirs, or the own over it', async () => {
    const by = async (method: string, where: string, body?: object) =>
      page.evaluate(
        async (how, to, given) =>
          (
            await fetch(`/api/v1/${to}`, {
              method: how,
              body: JSON.stringify(given ?? {}),
              headers: { 'content-type': 'application/json' },
            })
          ).json() as Promise<Record<string, unknown>>,
        method,
        where,
        body,
      );
    const group = { name: 'Two write', thing: 'devices', kind: 'filter', where: 'site=S7' };
    const { id } = await by('POST', 'groups', group);
    const begin = async () => {
      await open('/estate?of=groups');
      await see(page, 'Two write');
      await page.evaluate(() =>
        [...document.querySelectorAll('tr')]
          .find((row) => row.innerText.includes('Two write'))
          ?.querySelector<HTMLElement>('button')
          ?.click(),
      );
      await see(page, 'Change “Two write”');
    };
    await begin();
    await by('PUT', `groups/${String(id)}`, { ...group, note: 'of the first' });
    await fill(page, 'input[name=groupNote]', 'of the second');
    await press(page, 'Save');
    await see(page, 'became another while you were writing, by osric');
    expect(
      await page.$$eval('[aria-label="Written meanwhile"] tbody td', (cells) => cells.map((cell) => cell.innerText)),
    ).toEqual(['Note', 'of the second', 'of the first']);
    expect(await accessibilityProblems(page)).toEqual([]);
    expect((await ask('groups')).rows.find((row) => row.name === 'Two write')).toMatchObject({ note: 'of the first' });
    await press(page, 'Take what osric wrote');
    expect(await page.$eval('input[name=groupNote]', (input) => (input as HTMLInputElement).value)).toBe(
      'of the first',
    );
    await begin();
    await by('PUT', `groups/${String(id)}`, { ...group, note: 'of the third' });
    await fill(page, 'input[name=groupNote]', 'of the second');
    await press(page, 'Save');
    await see(page, 'of the third');
    await press(page, 'Write mine over it');
    await see(page, 'Make a group');
    expect((await ask('groups')).rows.find((row) => row.name === 'Two write')).toMatchObject({ note: 'of the second' });
  });
});

describe('settings', () => {
  test('a token is made, shown once, used, and revoked', async () => {
    await open('/settings/tokens');
    await fill(page, 'input[name=tokenName]', 'nightly');
    await fillDay(page, 'tokenExpiresOn', '2099-12-31');
    await press(page, 'Make the token');
    await see(page, 'shown this once');
    const token = await page.$eval('pre.secret', (text) => text.innerText);
    const status = async () =>
      (await fetch(`${app.address}/api/v1/devices?size=1`, { headers: { authorization: `Bearer ${token}` } })).status;
    expect(await status()).toBe(200);
    await open('/settings/tokens');
    await see(page, 'Thu 31 Dec 2099');
    await see(page, /nightly\s+viewer[^\n]*\s+(just now|\d+ seconds? ago)/);
    expect(await accessibilityProblems(page)).toEqual([]);
    await press(page, 'Revoke nightly');
    await see(page, 'opens nothing any more');
    expect(await status()).toBe(401);
  });
  test('one changes the own password, and only who knows it does', async () => {
    await open('/settings/you');
    await fill(page, 'input[name=passwordCurrent]', 'not-the-one-7');
    await fill(page, 'input[name=passwordPassword]', 'short');
    await page.keyboard.press('Tab');
    await see(page, 'at least 10 characters');
    await fill(page, 'input[name=passwordPassword]', 'lamp-room-three');
    await fill(page, 'input[name=passwordConfirmation]', 'lamp-room-four');
    await press(page, 'Change the password');
    await see(page, 'The two passwords differ');
    await fill(page, 'input[name=passwordConfirmation]', 'lamp-room-three');
    await press(page, 'Change the password');
    await see(page, 'This is not your password');
    await fill(page, 'input[name=passwordCurrent]', osric.password);
    await press(page, 'Change the password');
    await see(page, 'Your password is another now');
    const signedIn = await fetch(`${app.address}/api/v1/session`, {
      method: 'POST',
      body: JSON.stringify({ name: osric.name, password: 'lamp-room-three' }),
      headers: { 'content-type': 'application/json', origin: app.address },
    });
    expect(signedIn.status).toBe(200);
  });
  test('a site set by hand goes before every rule, until it is left to them again', async () => {
    const [device] = (await ask('devices?where=site%3DS7&size=1')).rows;
    await open(`/estate?sel=device:${String(device?.id)}`);
    await press(page, 'Set the site');
    await fill(page, '.panel input[name=site]', 'Annex');
    await page.keyboard.press('Enter');
    await see(page, 'It stands at Annex now');
    expect((await ask('devices?where=site%3DAnnex')).rows.map(({ id }) => id)).toEqual([device?.id]);
    await click(page, '.panel [role=status] button');
    await see(page, '1 taken back');
    expect((await ask('devices?where=site%3DAnnex')).total).toBe(0);
  });
  test('questions of the Estate have a key each', async () => {
    await open('/estate');
    await page.waitForSelector('.table .row');
    await page.keyboard.press('4');
    await page.waitForFunction(() => document.querySelector('h1')?.textContent === 'Faults');
    await page.keyboard.press('2');
    await page.waitForFunction(() => location.search.includes('of=ports') || location.search.includes('of=endpoints'));
    expect(await accessibilityProblems(page)).toEqual([]);
  });
});

test('a viewer sees all of it and changes none of it', async () => {
  const context = await browser.createBrowserContext();
  const other = await context.newPage();
  await signIn(other, wenna);
  await open('/estate', other);
  await other.waitForSelector('.table .row');
  await other.click('.table .row .cell.first');
  await other.waitForSelector('.panel h3');
  const buttons = () => other.$$eval('button', (list) => list.map((button) => button.innerText.trim()));
  expect((await buttons()).filter((words) => ['Edit', 'Write', 'Change'].includes(words))).toEqual([]);
  await open('/estate?of=groups', other);
  expect((await buttons()).filter((words) => ['Make the group', 'Set maintenance', 'Delete'].includes(words))).toEqual(
    [],
  );
  const refused = await other.evaluate(async () =>
    Promise.all(
      [
        ['values', { thing: 'devices', ids: ['1'], set: { owner: 'x' } }],
        ['groups', { name: 'x', thing: 'devices', kind: 'fixed' }],
        ['maintenance', { where: 'x', reason: 'x', from: '2026-01-01T00:00:00Z' }],
        ['checks', { name: 'x', thing: 'devices', where: 'x', severity: 'minor' }],
        ['fields', { thing: 'devices', label: 'x', kind: 'text' }],
        ['contracts', { number: 'x', kind: 'licence', serials: ['x'] }],
        ['imports/contracts', { csv: 'x' }],
      ].map(
        async ([to, body]) =>
          (
            await fetch(`/api/v1/${String(to)}`, {
              method: 'POST',
              body: JSON.stringify(body),
              headers: { 'content-type': 'application/json' },
            })
          ).status,
      ),
    ),
  );
  expect(refused).toEqual([403, 403, 403, 403, 403, 403, 403]);
  await context.close();
});

test('nothing went wrong in the page meanwhile', () => {
  expect(errors).toEqual([]);
});
