// covers: src/ui/print
import {
  BarcodeFormat,
  BinaryBitmap,
  DecodeHintType,
  HybridBinarizer,
  MultiFormatReader,
  RGBLuminanceSource,
} from '@zxing/library';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { PNG } from 'pngjs';
import type { Browser, Page } from 'puppeteer-core';
import { generateEstate } from '../bench/generate';
import { openStore } from '../src/store/base/database';
import { addPerson } from '../src/store/people';
import { startApplication, type Application } from './support/application';
import {
  accessibilityProblems,
  click,
  launchBrowser,
  openPage,
  openWhole,
  preferenceKept,
  press,
  see,
} from './support/browser';
import { stopAll, temporaryFolder } from './support/program';

/** What is printed: labels that a reader of codes reads, and dossiers of many devices. */
let app: Application;
let browser: Browser;
let page: Page;
let errors: string[];
const osric = { name: 'osric', password: 'harbour-depot-7' };

beforeAll(async () => {
  const data = temporaryFolder();
  const store = openStore(data);
  generateEstate(store, 60);
  await addPerson(store.db, osric.name, osric.password, 'viewer');
  store.close();
  [app, browser] = await Promise.all([startApplication(data), launchBrowser()]);
  ({ page, errors } = await openPage(browser));
  await page.goto(`${app.address}/login`);
  await page.evaluate(
    async (given) =>
      fetch('/api/v1/session', {
        method: 'POST',
        body: JSON.stringify(given),
        headers: { 'content-type': 'application/json' },
      }),
    osric,
  );
});
afterAll(async () => {
  await browser.close();
  await stopAll();
});

const open = (where: string) => openWhole(page, `${app.address}${where}`);
/** Pages of a PDF as it would come out of the printer. */
const pagesOf = async () =>
  Buffer.from(await page.pdf({ preferCSSPageSize: true, printBackground: true }))
    .toString('latin1')
    .match(/\/Type\s*\/Page\b(?!s)/g)?.length ?? 0;

/** What a reader makes of a code on the screen. */
async function readCode(selector: string, format: BarcodeFormat): Promise<string> {
  const element = await page.waitForSelector(selector);
  const box = await element?.boundingBox();
  if (!box) throw new Error(`nothing at ${selector}`);
  const quiet = 10;
  const shot = await page.screenshot({
    clip: { x: box.x - quiet, y: Math.max(0, box.y - 2), width: box.width + 2 * quiet, height: box.height + 4 },
  });
  const { data, width, height } = PNG.sync.read(Buffer.from(shot));
  const grey = Uint8ClampedArray.from({ length: width * height }, (_, at) =>
    Math.round(((data[4 * at] ?? 0) + (data[4 * at + 1] ?? 0) + (data[4 * at + 2] ?? 0)) / 3),
  );
  const hints = new Map<DecodeHintType, unknown>([
    [DecodeHintType.POSSIBLE_FORMATS, [format]],
    [DecodeHintType.TRY_HARDER, true],
  ]);
  return new MultiFormatReader()
    .decode(new BinaryBitmap(new HybridBinarizer(new RGBLuminanceSource(grey, width, height))), hints)
    .getText();
}

describe('labels', () => {
  test('carry name and serial, which a reader reads from QR and from Code 128', async () => {
    await page.setViewport({ width: 1280, height: 900, deviceScaleFactor: 4 });
    await open('/print/labels?where=role%3Dswitch');
    await see(page, 'Labels of devices');
    const serial = await page.$eval('.label .mono', (text) => text.textContent ?? '');
    expect(serial).toMatch(/\S{4,}/);
    expect(await readCode('.label .qr', BarcodeFormat.QR_CODE)).toBe(serial);
    expect(await readCode('.label .bars', BarcodeFormat.CODE_128)).toBe(serial);
    expect(await accessibilityProblems(page)).toEqual([]);
    await page.setViewport({ width: 1280, height: 800 });
  });
  test('lie on as many sheets as they need; places that are used up are left out; another sheet is kept', async () => {
    const labels = await page.$$eval('.label', (list) => list.length);
    expect([labels, await pagesOf()]).toEqual([labels, Math.ceil(labels / 24)]);
    await page.select('select[name=sheet]', 'a4-65');
    await page.click('input[name=used]', { count: 3 });
    await page.keyboard.type('64');
    await page.waitForFunction(
      (count) =>
        document.querySelectorAll('.sheet').length === Math.ceil((count + 64) / 65) &&
        document.querySelectorAll('.sheet:first-of-type .label, .sheet .label').length === count,
      {},
      labels,
    );
    expect(await pagesOf()).toBe(Math.ceil((labels + 64) / 65));
    await preferenceKept(page, 'labels', 'a4-65');
    await open('/print/labels?of=modules&where=class%3DpowerSupply');
    expect(await page.$eval('select[name=sheet]', (box) => box.value)).toBe('a4-65');
  });
});

test('dossiers of many devices are printed, brief or whole; marked devices alone where somebody says so', async () => {
  await open('/print/dossiers?where=site%3DS7');
  await see(page, 'Printed');
  const all = await page.$$eval('article', (list) => list.length);
  expect(all).toBeGreaterThan(0);
  await (await page.$$('input[name=length]'))[1]?.click();
  await page.waitForSelector('article.whole h1');
  expect(await pagesOf()).toBeGreaterThanOrEqual(all);
  await open('/estate');
  await page.waitForSelector('.table .row .cell.first');
  await click(page, '.table .row .cell.first');
  await page.keyboard.press('m');
  await page.waitForSelector('.row.marked');
  await preferenceKept(page, 'marked.devices', 1);
  await press(page, 'Export');
  await see(page, 'Dossiers on paper…');
  expect(
    await page.$$eval('[role=menuitem]', (items) =>
      items
        .map((item) => [item.textContent, item.getAttribute('href')?.split('?')[0]])
        .filter(([, href]) => href?.startsWith('/print')),
    ),
  ).toEqual([
    ['Print…', '/print/devices'],
    ['Dossiers on paper…', '/print/dossiers'],
    ['Labels…', '/print/labels'],
  ]);
  // marks are told, and restrict the print once somebody says so
  await open('/print/dossiers');
  await see(page, 'only the device I marked');
  expect(await page.$$eval('article', (sheets) => sheets.length)).toBeGreaterThan(1);
  await click(page, 'input[type=checkbox]');
  await page.waitForFunction(() => document.querySelectorAll('article').length === 1);
  expect(await accessibilityProblems(page)).toEqual([]);
});

test('the ports of a site come with a summary, and each switch on a page of its own', async () => {
  await page.setViewport({ width: 1280, height: 800 });
  await open('/print/switchboard?where=site%3DS1%20or%20site%3DS2%20or%20site%3DS3');
  await see(page, /Ports of \d+ switches/);
  const { total } = await page.evaluate(
    async () =>
      (await fetch('/api/v1/devices?where=site%3DS1%20or%20site%3DS2%20or%20site%3DS3&size=1')).json() as Promise<{
        total: number;
      }>,
  );
  expect(await page.$$eval('article h1', (heads) => heads.length)).toBe(total + 1);
  expect(await accessibilityProblems(page)).toEqual([]);
  expect(await pagesOf()).toBeGreaterThanOrEqual(total + 1);
  // no paper at all: why is said in its place
  await page.goto(`${app.address}/print/switchboard?where=site%3D`);
  await see(page, 'has no value');
});

test('nothing went wrong in the page meanwhile', () => {
  expect(errors).toEqual([]);
});
