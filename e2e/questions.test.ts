// covers: src/ui/ports
import { existsSync, mkdirSync, readdirSync } from 'node:fs';
import path from 'node:path';
import Excel from 'exceljs';
import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals';
import type { Browser, Page } from 'puppeteer-core';
import { ostermere } from '../src/sim/ostermere/estate';
import { addPerson } from '../src/store/people';
import { startApplication, type Application } from './support/application';
import {
  accessibilityProblems,
  click,
  fill,
  launchBrowser,
  openPage,
  openWhole,
  press,
  pressAmong,
  see,
} from './support/browser';
import { stopAll, temporaryFolder } from './support/program';
import { openSample, type SampleStore } from './support/sampleStore';

/**
 * Questions that people really ask, each answered by what is on the screen, with mouse and keys alone; what is right is taken from the network as it was simulated, which
 * shares nothing with the program. Four weekly surveys: the baseline, rpw-plat replaced, new releases on half the stops, today.
 */
const steps = [1, 2, 3, 8];
let sample: SampleStore;
let app: Application;
let browser: Browser;
let page: Page;
let errors: string[];
const downloads = path.join(temporaryFolder(), 'downloads');
const osric = { name: 'osric', password: 'harbour-depot-7' };

beforeAll(async () => {
  sample = await openSample({ steps });
  await addPerson(sample.store.db, osric.name, osric.password, 'operator');
  mkdirSync(downloads, { recursive: true });
  [app, browser] = await Promise.all([startApplication(sample.store.folder), launchBrowser()]);
  ({ page, errors } = await openPage(browser));
  const session = await page.createCDPSession();
  await session.send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: downloads });
  await openWhole(page, `${app.address}/login`);
  await fill(page, 'input[name=name]', osric.name);
  await fill(page, 'input[name=password]', osric.password);
  await page.keyboard.press('Enter');
  await see(page, 'viewing the latest');
});
afterAll(async () => {
  await browser?.close();
  await stopAll();
  sample.close();
});
beforeEach(async () => {
  await openWhole(page, `${app.address}/today`);
});

const goTo = async (words: string) => {
  await page.keyboard.down('Control');
  await page.keyboard.press('k');
  await page.keyboard.up('Control');
  await page.waitForSelector('[role=dialog] input');
  await page.keyboard.type(words);
  await page.waitForFunction(
    (wanted) =>
      document
        .querySelector('[role=option][aria-selected=true]')
        ?.textContent?.toLowerCase()
        .startsWith(wanted.toLowerCase()),
    {},
    words,
  );
  await page.keyboard.press('Enter');
  await page.waitForSelector('[role=dialog]', { hidden: true });
};
const tableThere = () =>
  page.waitForSelector('.table .head').catch(async () => {
    throw new Error(`no table at ${page.url()}:\n${await page.evaluate(() => document.body.innerText.slice(0, 1500))}`);
  });
const filter = async (text: string) => {
  await tableThere();
  await page.keyboard.press('/');
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
  await rowsAnswer(text);
};
/** Waits until the rows are those of the filter, the survey and the comparison in the address. */
const rowsAnswer = (where: string) =>
  page.waitForFunction(
    (wanted) => {
      const view = new URLSearchParams(location.search);
      const table = document.querySelector<HTMLElement>('.table');
      const answers = new URLSearchParams(table?.dataset.answers?.split('?')[1]);
      return (
        answers.get('where') === wanted &&
        ['where', 'survey', 'against'].every((name) => !view.has(name) || view.get(name) === answers.get(name)) &&
        (table?.dataset.total === '0' || document.querySelectorAll('.table .body .row').length > 0)
      );
    },
    {},
    where,
  );
/** The cells of a column over all rows in sight. */
const column = (head: string) =>
  page.evaluate((wanted) => {
    const heads = [...document.querySelectorAll<HTMLElement>('.table .head [role=columnheader]')].map((cell) =>
      cell.innerText.trim(),
    );
    const at = heads.indexOf(wanted);
    return [...document.querySelectorAll('.table .body .row')].map((row) =>
      (row.querySelectorAll<HTMLElement>('[role=gridcell]')[at]?.innerText ?? '').trim(),
    );
  }, head);
const simulated = (step: number, name: string) => {
  const device = ostermere(step).devices.find((one) => one.name === name);
  if (!device) throw new Error(`nothing is called ${name}`);
  return device;
};
const serialOf = ({ modules }: ReturnType<typeof simulated>) =>
  modules.find(({ class: entityClass }) => entityClass === 3)?.serial ?? 'none';
const known = (step: number) => ostermere(step).devices.filter(({ name }) => sampleNames.includes(name));
/** What the surveys of this test reach. */
let sampleNames: string[] = [];
beforeAll(async () => {
  sampleNames = (
    await page.evaluate(
      async () =>
        (await fetch('/api/v1/devices?size=1000&columns=name')).json() as Promise<{ rows: { name: string }[] }>,
    )
  ).rows.map(({ name }) => name);
});

test('the serial of the third supply in a given chassis', async () => {
  await goTo('sgh-core-1');
  const place = await page.waitForSelector('.bayrow.powerSupply .place:nth-child(3)');
  const serial = simulated(8, 'sgh-core-1').modules.find(({ name }) => name === 'Supply 3')?.serial ?? 'none';
  expect(await place?.evaluate((bay) => bay.getAttribute('aria-label'))).toContain(serial);
  await click(page, '.bayrow.powerSupply .place:nth-child(3)');
  await see(page, 'Supply 3');
  await page.waitForFunction(
    (wanted) => document.querySelector('.panel .facts')?.textContent?.includes(wanted),
    {},
    serial,
  );
});

test('all modules of one model with a revision below another', async () => {
  await goTo('Modules');
  await filter('model="K-Access 24" firmware<3.3');
  // what is silent today is as it was known last
  const right = [
    ...new Set(
      [...known(3), ...known(8)].flatMap(({ name, modules }) =>
        modules.filter(({ model, firmware }) => model === 'K-Access 24' && firmware < '3.3').map(() => name),
      ),
    ),
  ].sort();
  expect(right.length).toBeGreaterThan(0);
  expect((await column('Device')).sort()).toEqual(right);
});

test('which devices changed release between two surveys', async () => {
  await goTo('Changes');
  await tableThere();
  // the survey before the latest, against the one before it
  await page.keyboard.press('[');
  await page.waitForFunction(() => new URLSearchParams(location.search).get('survey') === '3');
  await page.keyboard.press('.');
  await page.waitForFunction(() => new URLSearchParams(location.search).get('against') === '2');
  await filter('thing=device field=release');
  const before = new Map(known(2).map(({ name, release }) => [name, release]));
  const right = known(3)
    .filter(({ name, release }) => before.has(name) && before.get(name) !== release)
    .map(({ name }) => name)
    .sort();
  expect(right.length).toBeGreaterThan(1);
  expect((await column('Subject')).sort()).toEqual(right);
  expect([...new Set(await column('Before'))]).toEqual(['7.4.9']);
});

test('endpoints of one maker at one site', async () => {
  await goTo('Endpoints');
  await filter('maker=Calivex site=LQY');
  const { total } = await page.evaluate(
    async () => (await fetch('/api/v1/endpoints?where=maker%3DCalivex')).json() as Promise<{ total: number }>,
  );
  const devices = await column('On device');
  expect(devices.length).toBeGreaterThan(0);
  expect(devices.length).toBeLessThan(total);
  expect(new Set(devices)).toEqual(new Set(['lqy-plat']));
  expect(new Set(await column('Maker'))).toEqual(new Set(['Calivex']));
});

test('on which port a camera was before it was moved', async () => {
  const moved = await page.evaluate(
    async () =>
      (
        (await (await fetch('/api/v1/changes?where=thing%3Dendpoint%20field%3Dport')).json()) as {
          rows: { subject: string; before: string; after: string }[];
        }
      ).rows[0],
  );
  await goTo('Find a port');
  await page.waitForFunction(
    () => document.activeElement?.getAttribute('aria-label') === 'A MAC, address, host or serial',
  );
  await page.keyboard.type(moved?.subject.replaceAll(':', '').toUpperCase() ?? '');
  await see(page, `on rpw-plat port ${moved?.after ?? ''} since`);
  expect(
    await page.$$eval('.foundports tbody tr', (rows) => rows.map((row) => row.innerText.split('\t')[0]?.trim())),
  ).toEqual([`rpw-plat port ${moved?.after ?? ''}`, `rpw-plat port ${moved?.before ?? ''}`]);
  expect(await accessibilityProblems(page)).toEqual([]);
  // the port it was on is a click away
  await press(page, 'rpw-plat port ' + (moved?.before ?? ''));
  await page.waitForFunction(
    (name) => document.querySelector('.panel h2')?.textContent?.startsWith(`Port ${name}`),
    {},
    moved?.before ?? '',
  );
});

test('what one watches is told of on Today when it moved', async () => {
  const moved = await page.evaluate(
    async () =>
      (
        (await (await fetch('/api/v1/changes?where=thing%3Dendpoint%20field%3Dport')).json()) as {
          rows: { subject: string; before: string; after: string }[];
        }
      ).rows[0],
  );
  await openWhole(
    page,
    `${app.address}/estate?of=endpoints&where=${moved?.subject ?? ''}&sel=endpoint:${moved?.subject ?? ''}`,
  );
  await press(page, 'Watch');
  await see(page, 'watched since');
  expect(await accessibilityProblems(page)).toEqual([]);
  await openWhole(page, `${app.address}/today`);
  await see(page, `moved to rpw-plat port ${moved?.after ?? ''}, was on rpw-plat port ${moved?.before ?? ''}`);
  await openWhole(page, `${app.address}/today?survey=3`);
  await see(page, 'It is as before');
  await openWhole(
    page,
    `${app.address}/estate?of=endpoints&where=${moved?.subject ?? ''}&sel=endpoint:${moved?.subject ?? ''}`,
  );
  await press(page, 'Watch no more');
  await page.waitForFunction(() =>
    [...document.querySelectorAll('button')].some(({ innerText }) => innerText === 'Watch'),
  );
  expect(
    await page.evaluate(async () => ((await (await fetch('/api/v1/watches')).json()) as { total: number }).total),
  ).toBe(0);
});

test('which sockets of a switch carry which VLAN, by colour, by keyboard', async () => {
  await openWhole(
    page,
    `${app.address}/ports?device=${String(await page.evaluate(async () => ((await (await fetch('/api/v1/devices?where=name%3Drpw-plat')).json()) as { rows: { id: string }[] }).rows[0]?.id))}`,
  );
  await page.waitForSelector('.faceplate .colours select');
  await page.select('.faceplate .colours select', 'VLAN');
  await see(page, 'VLAN 30');
  const legend = await page.$$eval('.faceplate .colours button', (buttons) =>
    buttons.map((button) => button.innerText.replaceAll(/\s+/g, ' ').trim()),
  );
  const { rows } = await page.evaluate(
    async () =>
      (await fetch('/api/v1/ports?where=device%3Drpw-plat&size=200')).json() as Promise<{
        rows: { vlan: number | null; physical: boolean }[];
      }>,
  );
  expect(legend).toContain(`VLAN 30 ${rows.filter(({ vlan, physical }) => vlan === 30 && physical).length}`);
  expect(await accessibilityProblems(page)).toEqual([]);
  // one stop of the tab key, then arrows; the card tells of the socket in focus
  await page.focus('.socket[tabindex="0"]');
  await page.keyboard.press('End');
  await page.keyboard.press('Home');
  await page.keyboard.press('ArrowDown');
  expect(await page.evaluate(() => (document.activeElement as HTMLElement).dataset.port)).toBe('2');
  await see(page, 'Port 2 ');
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => document.querySelector('.panel h2')?.textContent?.startsWith('Port 2'));
  await pressAmong(page, '.faceplate .colours button', 'VLAN 30');
  await page.waitForFunction(
    (many) =>
      new URLSearchParams(location.search).get('where') === 'vlan=30' &&
      document.querySelectorAll('.table .row').length === many,
    {},
    rows.filter(({ vlan }) => vlan === 30).length,
  );
  expect(new Set(await column('VLAN'))).toEqual(new Set(['30']));
  await page.select('.faceplate .colours select', 'state');
});

test('empty memory sockets across the servers, by choosing conditions', async () => {
  await goTo('Modules');
  await tableThere();
  for (const [field, value] of [
    ['empty', 'yes'],
    ['holds', 'memory'],
  ] as const) {
    if (field === 'empty') await press(page, 'Conditions');
    await page.waitForSelector('.builder select[aria-label=Field]');
    const fields = await page.$$('.builder select[aria-label=Field]');
    await fields.at(-1)?.select(field);
    await page.waitForFunction(
      (count) => document.querySelectorAll('.builder input[aria-label=Value]').length === count,
      {},
      fields.length,
    );
    const relations = await page.$$('.builder select[aria-label=Relation]');
    await relations.at(-1)?.select('=');
    const inputs = await page.$$('.builder input[aria-label=Value]');
    await inputs.at(-1)?.type(value);
  }
  await page.waitForFunction(() => new URLSearchParams(location.search).get('where') === 'empty=yes holds=memory');
  const servers = sampleNames.filter((name) => name.includes('-srv-'));
  await page.keyboard.press('Escape');
  await rowsAnswer('empty=yes holds=memory');
  const counts = new Map<string, number>();
  for (const name of await column('Device')) counts.set(name, (counts.get(name) ?? 0) + 1);
  // four of the eight sockets of each server are empty
  expect(Object.fromEntries(counts)).toEqual(Object.fromEntries(servers.map((name) => [name, 4])));
  expect(await page.$eval('.table .body .row', (row) => row.textContent)).toContain('empty, for');
});

test('what one device looked like three weeks ago', async () => {
  await page.goto(`${app.address}/estate`);
  await tableThere();
  // whoever was in the filter is where they went to: keys are for the panel, not for the filter
  await page.focus('.filter input');
  await goTo('rpw-plat');
  await see(page, simulated(8, 'rpw-plat').release);
  await page.keyboard.press('Escape');
  await page.waitForSelector('.panel', { hidden: true });
  await page.focus('.filter input');
  await goTo('rpw-plat');
  // quickly, three steps in a row
  for (let step = 0; step < 3; step++) await page.keyboard.press('[');
  await page.waitForFunction(() => new URLSearchParams(location.search).get('survey') === '1');
  const then = simulated(1, 'rpw-plat');
  await page.waitForFunction(
    (serial, release) =>
      [serial, release].every((word) => document.querySelector('.panel')?.textContent?.includes(word)),
    {},
    serialOf(then),
    then.release,
  );
  await page.waitForFunction(
    (serial) => !document.querySelector('.panel')?.textContent?.includes(serial),
    {},
    serialOf(simulated(8, 'rpw-plat')),
  );
});

test('the ten oldest releases by site, as a spreadsheet', async () => {
  await goTo('Devices');
  await tableThere();
  await press(page, 'Columns');
  await press(page, 'Release age');
  await press(page, 'Done');
  await page.waitForSelector('[role=dialog]', { hidden: true });
  // oldest first: a second press turns the order around, also one that follows at once
  await press(page, 'Release age');
  await press(page, 'Release age ↑');
  await page.waitForFunction(() => new URLSearchParams(location.search).get('sort') === '-releaseAgeSeconds');
  await press(page, 'Export');
  await fill(page, 'input[name=first]', '10');
  await press(page, 'Spreadsheet (XLSX)');
  for (
    let attempt = 0;
    attempt < 100 && !(existsSync(downloads) && readdirSync(downloads).some((name) => name.endsWith('.xlsx')));
    attempt++
  )
    await new Promise((resolve) => setTimeout(resolve, 100));
  const book = new Excel.Workbook();
  await book.xlsx.readFile(path.join(downloads, readdirSync(downloads).find((name) => name.endsWith('.xlsx')) ?? ''));
  const [sheet] = book.worksheets;
  const head = (sheet?.getRow(1).values as string[]).slice(1);
  expect(sheet?.views[0]).toMatchObject({ state: 'frozen', ySplit: 1 });
  expect(sheet?.rowCount).toBe(11);
  const cells = (name: string) =>
    Array.from({ length: 10 }, (_, at) => sheet?.getRow(at + 2).getCell(head.indexOf(name) + 1).value);
  expect(cells('Site').every((site) => typeof site === 'string' && /^[A-Z]{3}$/.test(site))).toBe(true);
  const ages = cells('Release age (days)') as number[];
  expect(ages.every((age) => typeof age === 'number' && age > 0)).toBe(true);
  expect(ages).toEqual([...ages].sort((x, y) => y - x));
  const { rows } = await page.evaluate(
    async () =>
      (await fetch('/api/v1/devices?size=1000&columns=releaseAgeSeconds')).json() as Promise<{
        rows: { releaseAgeSeconds: number | null }[];
      }>,
  );
  expect(ages).toEqual(
    rows
      .map(({ releaseAgeSeconds }) => Number(((releaseAgeSeconds ?? 0) / 86_400).toFixed(3)))
      .sort((x, y) => y - x)
      .slice(0, 10),
  );
});

test('a chassis that was replaced under its name is said to be another device, and that is taken back', async () => {
  await goTo('rpw-plat');
  await press(page, 'is it one device?');
  await see(page, 'serial KA48-90117 → KA48-93302');
  await press(page, 'Another device from then on');
  await see(page, 'Parted');
  await see(page, 'rpw-plat is another device from survey 2 on');
  await press(page, 'Undo');
  await see(page, 'Taken back');
  await see(page, 'taken back');
  await press(page, 'Close');
  expect(
    await page.evaluate(async () =>
      (
        (await (await fetch('/api/v1/devices?where=name%3Drpw-plat&against=1')).json()) as {
          rows: { change?: string }[];
        }
      ).rows.map(({ change }) => change),
    ),
  ).toEqual(['replaced']);
});

test('nothing went wrong in the page meanwhile', () => {
  expect(errors).toEqual([]);
});
