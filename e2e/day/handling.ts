import { describe, expect, test } from '@jest/globals';
import { click, fill, press, pressAmong, see } from '../support/browser';
import { page, open, api, rowsOf, typeFilter } from './theDay';

export const handling = () =>
  describe('under the hand', () => {
    /** Where everything stands that is there before a press and after it. */
    async function moved(act: () => Promise<unknown>): Promise<string[]> {
      const look = () =>
        page.$$eval('.header *, .strip *, .work *, .footline *', (elements) =>
          elements
            .filter(
              (element) =>
                element.children.length === 0 &&
                element.getClientRects().length > 0 &&
                !element.closest('.panel, svg, .portcard'),
            )
            .map((element) => {
              const one = element as HTMLElement;
              one.dataset.seen ??= String(Math.random());
              const { x, y } = one.getBoundingClientRect();
              return [one.dataset.seen, Math.round(x), Math.round(y), one.textContent ?? ''] as const;
            }),
        );
      // what is still coming would move anyway
      let still = await look();
      for (let before = ''; before !== JSON.stringify(still); still = await look()) {
        before = JSON.stringify(still);
        await new Promise((resolve) => setTimeout(resolve, 400));
      }
      const before = new Map(still.map((one) => [one[0], one]));
      await act();
      await page.waitForSelector('.panel h2');
      const after = await look();
      expect(after.filter(([key]) => before.has(key)).length).toBeGreaterThan(10);
      return after.flatMap(([key, x, y, words]) => {
        const was = before.get(key);
        return was && (Math.abs(was[1] - x) > 1 || Math.abs(was[2] - y) > 1)
          ? [`${words} ${was[1]},${was[2]} to ${x},${y}`]
          : [];
      });
    }

    test.each([
      ['/estate', '.table .body .row:nth-child(3) .cell.first'],
      ['/estate?of=modules', '.table .body .row:nth-child(2) .cell.first'],
      ['/estate?of=checks', '.checkrow'],
      ['/ports', '.socket[data-port="3"]'],
      ['/ledger', '.table .body .row:nth-child(2) .cell.first'],
    ])('at %s nothing moves when something is chosen', async (where, what) => {
      await open(where);
      await page.waitForSelector(what);
      expect(await moved(() => click(page, what))).toEqual([]);
    });

    test('nor does the map', async () => {
      await open('/map');
      await page.waitForSelector('canvas[data-scale]');
      // fitted to its room once it is placed
      await page.waitForFunction(() => !document.querySelector('.map[aria-busy=true]'));
      await page.focus('canvas');
      const drawn = () => page.$eval('canvas', (canvas) => [canvas.dataset.scale, canvas.dataset.at]);
      const before = await drawn();
      expect(await moved(() => page.keyboard.press('ArrowUp'))).toEqual([]);
      expect(await drawn()).toEqual(before);
    });

    test('a table is sorted by several columns, and stands so when one comes back', async () => {
      await open('/estate');
      const head = (words: string) => `.table .head .cell button::-p-text(${words})`;
      await pressAmong(page, '.table .head .cell button', 'Site');
      await page.waitForFunction(() => new URLSearchParams(location.search).get('sort') === 'site');
      await page.keyboard.down('Shift');
      await page.click(head('Name'));
      await page.click(head('Name'));
      await page.keyboard.up('Shift');
      await page.waitForFunction(() => new URLSearchParams(location.search).get('sort') === 'site,-name');
      await see(page, 'Site ↑1');
      await see(page, 'Name ↓2');
      const inOrder = () =>
        page.$$eval('.table .body .row .cell.first', (cells) => cells.slice(0, 5).map((cell) => cell.textContent));
      await open('/estate');
      await see(page, 'Name ↓2');
      const { rows } = await api<{ rows: { name: string }[] }>('devices?sort=site,-name&size=5');
      await page.waitForFunction(
        (first) => document.querySelector('.table .body .row .cell.first')?.textContent === first,
        {},
        rows[0]?.name,
      );
      expect(await inOrder()).toEqual(rows.map(({ name }) => name));
    });

    test('Enter after a filter goes to the rows, and once more to the first of them', async () => {
      await open('/estate');
      await typeFilter('name=sgh-core-2');
      await rowsOf('name=sgh-core-2');
      await page.keyboard.press('Enter');
      await page.keyboard.press('Enter');
      await page.waitForFunction(() => document.querySelector('.panel h2')?.textContent === 'sgh-core-2');
    });

    test('marks are counted, and taken away together', async () => {
      await open('/estate');
      await page.waitForSelector('.table .body .row');
      await page.focus('.table');
      for (let row = 0; row < 3; row++) {
        await page.keyboard.press('ArrowDown');
        await page.keyboard.press('m');
      }
      await see(page, '3 rows are marked');
      // three that a filter holds print as three, whatever is marked
      await open(`/print/dossiers?where=${encodeURIComponent('name=sgh-core-1,sgh-core-2')}`);
      await see(page, 'only the 3 devices I marked');
      expect(await page.$$eval('article', (sheets) => sheets.length)).toBe(2);
      await open('/estate');
      await press(page, 'Unmark all');
      await page.waitForFunction(() => !document.body.innerText.includes('are marked'));
    });

    test('the time strip is one stop of the tab key; arrows go from survey to survey', async () => {
      await open('/estate');
      await page.waitForSelector('.strip .tick[tabindex="0"]');
      expect(await page.$$eval('.strip .tick[tabindex="0"]', (ticks) => ticks.length)).toBe(1);
      // each has a place of its own, though some are minutes apart
      const places = await page.$$eval('.strip .tick .hit', (ticks) =>
        ticks.map((tick) => Number(tick.getAttribute('x'))),
      );
      expect(places.slice(1).every((place, at) => place - (places[at] ?? 0) >= 8.9)).toBe(true);
      await page.$eval('.strip .tick[tabindex="0"]', (tick) => (tick as SVGGElement).focus());
      await page.keyboard.press('Home');
      await page.keyboard.press('ArrowRight');
      await page.keyboard.press('Enter');
      await page.waitForFunction(() => new URLSearchParams(location.search).get('survey') === '2');
    });

    test('the tab key leads past the frame to the work', async () => {
      await open('/estate');
      await page.waitForSelector('.table .body .row');
      await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
      await page.keyboard.press('Tab');
      expect(await page.evaluate(() => document.activeElement?.textContent)).toBe('Skip to the work');
      await page.keyboard.press('Enter');
      expect(await page.evaluate(() => document.activeElement?.tagName)).toBe('MAIN');
    });

    test('Enter takes the hit of what is looked for on the map', async () => {
      await open('/map');
      await page.waitForSelector('input[aria-label="Find on the map"]');
      await fill(page, 'input[aria-label="Find on the map"]', 'lqy-plat');
      await page.waitForFunction(() => document.querySelectorAll('[role=treeitem]').length === 2);
      await page.keyboard.press('Enter');
      await page.waitForFunction(() => document.querySelector('.panel h2')?.textContent === 'lqy-plat');
    });

    test('what is no VLAN is told where it is written', async () => {
      await open('/map?over=vlan:30');
      await page.waitForSelector('input[aria-label="Number of the VLAN"]');
      await fill(page, 'input[aria-label="Number of the VLAN"]', 'abc');
      await see(page, 'a VLAN is a number from 1 to 4094; shown is 30');
    });

    test('a heading alone renames no field that is there', async () => {
      await open('/settings/fields');
      await fill(page, 'input[name=fieldLabel]', 'keeper!');
      await press(page, 'Add the field');
      await see(page, '“Keeper” is called keeper in filters already: take another heading');
      expect((await api<{ rows: { label: string }[] }>('fields')).rows.map(({ label }) => label)).toContain('Keeper');
    });

    test('examples in filters are of what is there', async () => {
      await open('/estate');
      const most = await api<{ shares: Record<string, { value: string }[]> }>('devices?size=1&count=site,role');
      await page.waitForFunction(
        (words) => document.querySelector<HTMLInputElement>('.filter input')?.placeholder.includes(words),
        {},
        `site=${most.shares.site?.[0]?.value ?? ''}`,
      );
    });

    test('moments are told in the time of whoever looks, and ages stay true', async () => {
      await page.emulateTimezone('America/Los_Angeles');
      await open('/estate?of=changes&survey=4');
      await page.waitForSelector('.table .body .row');
      const [shown] = await page.$$eval('.strip .moment b', (moments) =>
        moments.map(({ textContent }) => textContent ?? ''),
      );
      expect(await page.$eval('.table .body .row', (row) => row.textContent)).toContain(shown);
      await page.emulateTimezone();
    });
  });
