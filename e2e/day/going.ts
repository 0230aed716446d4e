import { describe, expect, test } from '@jest/globals';
import type { Page } from 'puppeteer-core';
import { addPerson } from '../../src/store/people';
import { click, fill, openPage, press, pressAmong, see } from '../support/browser';
import { browser, open, page, person, sample, typeFilter } from './theDay';

/** What stands in the middle of a page, in short; nothing while one page takes the place of another. */
const shown = (on: Page = page): Promise<string> =>
  on
    .evaluate(() => {
      const words = (selector: string) => document.querySelector<HTMLElement>(selector)?.innerText ?? '';
      const filter = document.querySelector<HTMLInputElement>('input[aria-label=Filter]')?.value ?? '';
      const table = document.querySelector<HTMLElement>('.table');
      const first = words('.table .body .row');
      const isComing = table && (!table.dataset.answers || (table.dataset.total !== '0' && first === ''));
      return [location.pathname, words('h1'), filter, words('.panel h2'), isComing ? '…' : first].join(' | ');
    })
    .catch(() => '');
const moment = () => new Promise((resolve) => setTimeout(resolve, 150));
/** Waits until a page shows what is expected: it is there before all of it is. */
async function shows(what: string, on: Page = page): Promise<void> {
  for (let left = 130; (await shown(on)) !== what; left--) {
    if (left === 0) throw new Error(`not as it was:\n${what}\nbut\n${await shown(on)}`);
    await moment();
  }
}
/** What a page shows at last, once it is another than before. */
async function shownNext(before: string): Promise<string> {
  let now = await shown();
  for (let [same, left] = [0, 130]; same < 4; left--) {
    if (left === 0) throw new Error(`nothing came of it: ${now}`);
    await moment();
    const next = await shown();
    same = next === now && next !== before && !next.endsWith('…') ? same + 1 : 0;
    now = next;
  }
  return now;
}

/** A page of each kind. */
const pages = [
  '/today',
  '/survey',
  '/estate?against=3',
  '/estate?of=checks',
  '/ports',
  '/map',
  '/map?of=hosts',
  '/ledger',
  '/settings/written',
];

/** Going about: back and forward, small windows, other languages, a link handed to somebody. */
export const going = () =>
  describe('going about', () => {
    test('back and forward lead through ten steps, filters and selections among them', async () => {
      const refine = async () => {
        await page.focus('input[aria-label=Filter]');
        await page.keyboard.press('End');
        await page.keyboard.type(' -site=SGH');
      };
      const steps: (() => Promise<unknown>)[] = [
        () => pressAmong(page, '.workspaces a', 'Estate'),
        () => typeFilter('role=switch'),
        () => click(page, '.table .body .row:nth-child(2) .cell.first'),
        () => pressAmong(page, '.table .head .cell button', 'Serial'),
        refine,
        () => pressAmong(page, '.workspaces a', 'Ports'),
        () => click(page, '.socket[data-port="3"]'),
        () => pressAmong(page, '.workspaces a', 'Map'),
        () => pressAmong(page, '.workspaces a', 'Firmware'),
        () => pressAmong(page, '.workspaces a', 'Ledger'),
      ];
      await open('/today');
      await see(page, 'Needs attention');
      const seen = [await shown()];
      for (const act of steps) {
        await act();
        seen.push(await shownNext(seen.at(-1) ?? ''));
      }
      expect(new Set(seen).size).toBe(steps.length + 1);
      for (const was of seen.slice(0, -1).toReversed()) {
        await page.goBack({ waitUntil: 'domcontentloaded' });
        await shows(was);
      }
      for (const was of seen.slice(1)) {
        await page.goForward({ waitUntil: 'domcontentloaded' });
        await shows(was);
      }
    });

    test('at 150 % nothing scrolls sideways, and nothing is cut off', async () => {
      await page.setViewport({ width: 960, height: 533 });
      try {
        for (const where of pages) {
          await open(where);
          await page.waitForSelector('h1');
          await page.waitForFunction(() => document.readyState === 'complete');
          await shownNext('');
          const wide = await page.evaluate(() => {
            const found = [...document.querySelectorAll<HTMLElement>('html, body *')].filter((element) => {
              const { overflowX, textOverflow } = getComputedStyle(element);
              const isWider = element.clientWidth > 1 && element.scrollWidth > element.clientWidth + 1;
              const cuts = overflowX === 'hidden' && textOverflow !== 'ellipsis' && element.tagName !== 'INPUT';
              return isWider && (element.tagName === 'HTML' || /auto|scroll/.test(overflowX) || cuts);
            });
            const over =
              found.length > 0
                ? [...document.querySelectorAll('body *')].filter(
                    (element) =>
                      element.children.length === 0 && element.getBoundingClientRect().right > innerWidth + 1,
                  )
                : [];
            return [
              ...found.map((element) => `${element.tagName}.${element.className} ${element.scrollWidth}`),
              ...over.slice(0, 9).map((element) => `${element.tagName} “${element.textContent.slice(0, 60)}”`),
            ];
          });
          expect([where, ...wide]).toEqual([where]);
        }
      } finally {
        await page.setViewport({ width: 1280, height: 800 });
      }
    });

    test('what is shown does not hang on the language of the browser', async () => {
      const words = async () => {
        await open('/estate?of=ports&columns=device,name,speedBps,lastChangeSeconds');
        await shownNext('');
        return page.$$eval('.strip, .table .body .row', (parts) =>
          parts.slice(0, 12).map((part) => (part as HTMLElement).innerText ?? part.textContent),
        );
      };
      const inEnglish = await words();
      const session = await page.createCDPSession();
      for (const locale of ['de-DE', 'ar-EG', 'th-TH']) {
        await session.send('Emulation.setLocaleOverride', { locale });
        expect(await words()).toEqual(inEnglish);
      }
      await session.send('Emulation.setLocaleOverride', {});
      await session.detach();
    });

    test('what had the keys hands them on: to what is beside it, back to what opened it, to the work of another page', async () => {
      const has = (words: string) =>
        page.waitForFunction(
          (wanted) => {
            const { activeElement } = document;
            const name = activeElement?.getAttribute('aria-label') ?? activeElement?.textContent?.trim() ?? '';
            return name.startsWith(wanted);
          },
          {},
          words,
        );
      const byKey = async (selector: string) => {
        await page.waitForSelector(selector);
        await page.focus(selector);
        await page.keyboard.press('Enter');
      };
      await open('/settings/fields');
      await see(page, 'Own fields');
      await fill(page, 'input[name=fieldLabel]', 'Rack door');
      await press(page, 'Add the field');
      await byKey('[aria-label="Remove the field Rack door of devices"]');
      await see(page, '“Rack door” is out of use');
      await has('Remove the field');
      await byKey('p[role=status] button');
      await has('Remove the field Rack door of devices');
      await open('/estate?where=role%3Drouter');
      await byKey('[aria-label="Empty the filter"]');
      await has('Filter');
      await page.waitForSelector('.table .body .row');
      await page.keyboard.press('Enter');
      await page.keyboard.press('ArrowDown');
      await page.keyboard.press('Enter');
      await page.waitForFunction(
        () => /^\/estate\/\d+$/.test(location.pathname) && document.activeElement?.tagName === 'MAIN',
      );
    });

    test('a link shows somebody else the same', async () => {
      const wenna = 'wenna';
      await addPerson(sample.store.db, wenna, person.password, 'viewer');
      await open('/estate?where=role%3Dswitch&sort=-site&columns=name,site,release');
      await click(page, '.table .body .row:nth-child(2) .cell.first');
      await page.waitForSelector('.panel h2');
      const link = page.url();
      const own = await shown();
      const context = await browser.createBrowserContext();
      const { page: theirs } = await openPage(context as unknown as typeof browser);
      await theirs.goto(link, { waitUntil: 'domcontentloaded' });
      await fill(theirs, 'input[name=name]', wenna);
      await fill(theirs, 'input[name=password]', person.password);
      await theirs.keyboard.press('Enter');
      await shows(own, theirs);
      expect(theirs.url()).toBe(link);
      await context.close();
    });
  });
