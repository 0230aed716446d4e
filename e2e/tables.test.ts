// covers: src/ui/components/table src/ui/components/filter src/ui/components/pictures
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { Browser, ElementHandle, Page } from 'puppeteer-core';
import { generateEstate } from '../bench/generate';
import { openStore } from '../src/store/base/database';
import { addPerson } from '../src/store/people';
import { startApplication, type Application } from './support/application';
import { click, launchBrowser, openPage, openWhole, preferenceKept, press, pressAmong, see } from './support/browser';
import { stopAll, temporaryFolder } from './support/program';

/** Tables as a person lays them out: groups, columns, marks, blocks of cells, views; and whether it stays. */
let app: Application;
let browser: Browser;
let page: Page;
const people = [
  { name: 'osric', password: 'harbour-depot-7' },
  { name: 'wenna', password: 'signal-house-9' },
];

async function signIn(on: Page, who: (typeof people)[number]): Promise<void> {
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
const heads = () => page.$$eval('.table .head button', (list) => list.map((button) => button.innerText.trim()));
const lines = () =>
  page.$$eval('.table .body [role=row]', (list) =>
    list.map(
      (row) =>
        (row.getAttribute('aria-expanded') === null ? '' : row.getAttribute('aria-expanded') === 'true' ? 'v ' : '> ') +
        (row as HTMLElement).innerText.replace(/[▸▾]/g, '').replace(/\s+/g, ' ').trim(),
    ),
  );
const until = (look: () => unknown) => page.waitForFunction(look);
const open = async (where: string) => {
  await openWhole(page, `${app.address}${where}`);
  await page.waitForSelector('.table .body [role=row]');
  await until(
    () =>
      document.querySelector('.table')?.getAttribute('aria-busy') === 'false' &&
      (document.querySelector<HTMLElement>('.table .body [role=row]')?.innerText.trim() ?? '') !== '',
  );
};

beforeAll(async () => {
  const data = temporaryFolder();
  const store = openStore(data);
  generateEstate(store, 300);
  for (const { name, password } of people) await addPerson(store.db, name, password, 'viewer');
  store.close();
  [app, browser] = await Promise.all([startApplication(data), launchBrowser()]);
  await browser
    .defaultBrowserContext()
    .overridePermissions(app.address, ['clipboard-read', 'clipboard-write', 'clipboard-sanitized-write']);
  ({ page } = await openPage(browser));
  await signIn(page, people[0] ?? { name: '', password: '' });
});
afterAll(async () => {
  await browser.close();
  await stopAll();
});
beforeEach(() => open('/estate'));

test('what is fetched before the Estate can be used stays small: dialogs, pickers and dossiers come when they are asked for', async () => {
  await page.setCacheEnabled(false);
  const session = await page.createCDPSession();
  await session.send('Network.enable');
  const scripts = new Set<string>();
  let octets = 0;
  session.on('Network.responseReceived', ({ type, requestId }) => type === 'Script' && scripts.add(requestId));
  session.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    if (scripts.has(requestId)) octets += encodedDataLength;
  });
  await openWhole(page, `${app.address}/estate`);
  await session.detach();
  await page.setCacheEnabled(true);
  expect(octets).toBeGreaterThan(100_000);
  expect(octets).toBeLessThanOrEqual(350_000);
});

test('a dialog that cannot be fetched is waited for, and the page stays as it is', async () => {
  await page.setOfflineMode(true);
  await press(page, 'Pictures');
  await see(page, 'What was pressed is being fetched: the application does not answer. Trying again.');
  expect(await page.$$eval('.table .body .row', (rows) => rows.length)).toBeGreaterThan(0);
  await page.setOfflineMode(false);
  await page.waitForSelector('[role=dialog] select');
  await press(page, 'Done');
});

describe('groups', () => {
  test('are chosen on up to three levels, counted, summed, opened by key and by press, and stand in the address', async () => {
    await press(page, 'Group');
    for (const [level, field] of [
      [0, 'Role'],
      [1, 'Model'],
      [2, 'Release'],
    ] as const) {
      await page.waitForSelector('[role=option]', { hidden: true });
      await page.waitForFunction(
        (count) => document.querySelectorAll('[role=dialog] [role=combobox]').length > count,
        {},
        level,
      );
      const boxes = await page.$$('[role=dialog] [role=combobox]');
      await boxes[level]?.click();
      await page.waitForSelector('[role=option]', { visible: true });
      await press(page, field);
    }
    await page.waitForSelector('[role=option]', { hidden: true });
    await press(page, 'Done');
    expect(new URL(page.url()).searchParams.get('group')).toBe('role,model,release');
    await until(() => document.querySelectorAll('.table .grouphead').length === 2);
    expect(await lines()).toEqual(['> router 34', '> switch 266']);
    await page.focus('.table');
    await page.keyboard.press('End');
    await page.keyboard.press('ArrowRight');
    await until(() => document.querySelectorAll('.table .grouphead').length === 4);
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await until(
      () =>
        document.querySelectorAll('.table .row:not(.grouphead)').length > 5 &&
        (document.querySelector<HTMLElement>('.table .row:not(.grouphead)')?.innerText.trim() ?? '') !== '',
    );
    const shown = await lines();
    expect(shown.slice(0, 4)).toEqual([
      '> router 34',
      'v switch 266',
      expect.stringMatching(/^v K-Access 24 \d+$/),
      expect.stringMatching(/^v 7\.4\.9 \d+$/),
    ]);
    expect(shown[4]).toMatch(/^s\d+-sw-\d+ switch S\d+ K-Access 24 KA-\d+ 7\.4\.9 /);
    await press(page, 'Close all');
    await until(() => document.querySelectorAll('.table .body [role=row]').length === 2);
  });
  test('with a filter hold only what fits it, and a field with several values is none to group by', async () => {
    await open('/estate?group=release,addresses&where=site%3DS7');
    expect((await lines()).every((line) => /^> 7\.4\.(9|12b) [123]$/.test(line))).toBe(true);
  });
});

test('from the filter Enter goes to the rows, and where nothing has the keys the arrows do', async () => {
  await open('/estate');
  await page.keyboard.press('/');
  await page.keyboard.type('sw-12');
  await until(() => Number(document.querySelector('.table')?.getAttribute('data-total')) < 20);
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowDown');
  await until(() => document.querySelector('.table .row')?.getAttribute('aria-selected') === 'true');
  await page.keyboard.press('Escape');
  await until(() => document.querySelector('.table .row[aria-selected=true]') === null);
  await open('/estate?where=sw-12');
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  await page.keyboard.press('ArrowDown');
  await until(() => document.querySelector('.table .row')?.getAttribute('aria-selected') === 'true');
  await page.keyboard.press('ArrowDown');
  await until(() => document.querySelectorAll('.table .row')[1]?.getAttribute('aria-selected') === 'true');
});

describe('columns', () => {
  test('are moved by drag and by key, widened at their edge, and stay after signing out', async () => {
    const before = await heads();
    const head = (name: string) =>
      page.evaluateHandle(
        (wanted) =>
          [...document.querySelectorAll<HTMLElement>('.table .head [role=columnheader]')].find(
            (cell) => cell.innerText.trim() === wanted,
          ) ?? document.body,
        name,
      );
    const middleOf = async (name: string) => {
      const box = await ((await head(name)) as ElementHandle<HTMLElement>).boundingBox();
      return { x: (box?.x ?? 0) + 24, y: (box?.y ?? 0) + 12 };
    };
    const [from, to] = [await middleOf('Serial'), await middleOf(before[0] ?? '')];
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move(from.x - 20, from.y, { steps: 4 });
    // it shows itself while it is on its way
    expect(await page.$eval('.liftedhead', (lifted) => lifted.textContent)).toBe('Serial');
    await page.mouse.move(to.x, to.y, { steps: 12 });
    // those it passes make room: it is let go when the first one has
    await until(() =>
      /translate/.test(document.querySelector<HTMLElement>('.table .head .movable')?.style.transform ?? ''),
    );
    await page.mouse.up();
    await until(() => document.querySelector('.table .head button')?.textContent?.trim() === 'Serial');
    await page.focus('.table .head button');
    await page.keyboard.down('Alt');
    await page.keyboard.press('ArrowRight');
    await page.keyboard.up('Alt');
    await until(() => document.querySelectorAll('.table .head button')[1]?.textContent?.trim() === 'Serial');
    expect(await heads()).toEqual([before[0], 'Serial', ...before.slice(1).filter((name) => name !== 'Serial')]);
    const box = await page.$eval('.table .head .edge', (edge) => ({
      x: edge.getBoundingClientRect().right - 3,
      y: edge.getBoundingClientRect().top + 6,
      width: edge.parentElement?.offsetWidth ?? 0,
    }));
    await page.mouse.move(box.x, box.y);
    await page.mouse.down();
    await page.mouse.move(box.x + 60, box.y, { steps: 4 });
    await page.mouse.up();
    await page.waitForFunction(
      (width) =>
        Math.abs((document.querySelector<HTMLElement>('.table .head .movable')?.offsetWidth ?? 0) - width - 60) <= 4,
      {},
      box.width,
    );
    await page.evaluate(() => fetch('/api/v1/session', { method: 'DELETE' }));
    await signIn(page, people[0] ?? { name: '', password: '' });
    await open('/estate');
    expect((await heads())[1]).toBe('Serial');
    expect(
      Math.abs(
        (await page.$eval('.table .head .movable', (cell) => (cell as HTMLElement).offsetWidth)) - box.width - 60,
      ),
    ).toBeLessThanOrEqual(4);
    await press(page, 'Columns');
    await press(page, 'As at first');
    await press(page, 'Done');
    expect(await heads()).toEqual(before);
  });
});

test('rows are marked by key, and stay marked', async () => {
  await click(page, '.table .row .cell.first');
  await page.keyboard.press('m');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('m');
  await until(() => document.querySelectorAll('.row.marked').length === 2);
  await preferenceKept(page, 'marked.devices', 2);
  await open('/estate');
  expect(
    await page.$$eval('.table .row', (rows) => rows.slice(0, 4).map((row) => row.classList.contains('marked'))),
  ).toEqual([true, false, true, false]);
});

test('a mark that is made while the application cannot be reached is kept once it can', async () => {
  await click(page, '.table .row .cell.first');
  const marked = await page.$$eval('.row.marked', (list) => list.length);
  await page.setOfflineMode(true);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('m');
  await page.waitForFunction((many) => document.querySelectorAll('.row.marked').length === many, {}, marked + 1);
  await page.setOfflineMode(false);
  await preferenceKept(page, 'marked.devices', marked + 1);
});

test('a block of cells is copied as a spreadsheet takes it', async () => {
  const [first, second] = await page.$$eval('.table .row', (rows) =>
    rows
      .slice(0, 2)
      .map((row) =>
        [...row.querySelectorAll('.cell')].slice(2, 4).map((cell) => (cell as HTMLElement).innerText.trim()),
      ),
  );
  await click(page, '.table .row .cell.first');
  await page.keyboard.down('Shift');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.up('Shift');
  await until(() => document.querySelectorAll('.inblock').length === 4);
  await page.keyboard.down('Control');
  await page.keyboard.press('c');
  await page.keyboard.up('Control');
  await page.waitForFunction(
    async (wanted) => (await navigator.clipboard.readText()) === wanted,
    { polling: 100 },
    [first, second].map((cells) => cells?.join('\t')).join('\n'),
  );
});

test('a view is saved with filter, groups and columns, shared, and opened by another person, whose own columns stay', async () => {
  await open('/estate?where=role%3Drouter&group=release');
  await press(page, 'Views');
  await page.waitForSelector('input[name=viewName]');
  await page.type('input[name=viewName]', 'Routers by release');
  await press(page, 'Everybody may see it');
  await press(page, 'Save the view');
  await see(page, 'Routers by release');
  await see(page, 'everybody');
  const context = await browser.createBrowserContext();
  const other = await context.newPage();
  await signIn(other, people[1] ?? { name: '', password: '' });
  await openWhole(other, `${app.address}/estate`);
  await press(other, 'Views');
  await see(other, 'osric');
  expect(
    await other.$$eval('[role=dialog] button', (buttons) => buttons.map((button) => button.innerText)),
  ).not.toContain('Remove');
  await press(other, 'Routers by release');
  await other.waitForFunction(() => document.querySelectorAll('.table .grouphead').length === 2);
  expect(new URL(other.url()).searchParams.get('where')).toBe('role=router');
  await context.close();
  await press(page, 'Remove');
  await see(page, 'is removed');
  await press(page, 'Undo');
  await until(() => /Routers by release/.test(document.querySelector('[role=dialog] table')?.textContent ?? ''));
});

describe('going anywhere', () => {
  const listed = () =>
    page.$$eval('[role=listbox] [role=option]', (list) =>
      list.map((option) => (option as HTMLElement).innerText.replace(/\s+/g, ' ').trim()),
    );
  const write = async (text: string) => {
    await page.keyboard.down('Control');
    await page.keyboard.press('k');
    await page.keyboard.up('Control');
    await page.waitForSelector('[role=dialog] [role=combobox]');
    await page.keyboard.type(text);
  };
  test('a device by a name with letters swapped, with Enter right behind the last letter', async () => {
    await write('s117-ws-257');
    await page.keyboard.press('Enter');
    await until(() => document.querySelector('[aria-label=Dossier] h2')?.textContent?.includes('s117-sw-257') === true);
    expect(new URL(page.url()).searchParams.get('sel')).toBe('device:258');
  });
  test('a table and an act by a word of theirs; what is nowhere is said', async () => {
    await write('wirel');
    await until(
      () =>
        document.querySelector('[role=option][aria-selected=true]')?.textContent?.startsWith('Wireless networks') ===
        true,
    );
    await page.keyboard.press('Enter');
    await until(() => location.search.includes('of=wlans'));
    await write('night them');
    await until(
      () =>
        document.querySelector('[role=option][aria-selected=true]')?.textContent?.startsWith('Night theme') === true,
    );
    await page.keyboard.press('Enter');
    await until(() => document.documentElement.dataset.theme === 'night');
    await write('day theme');
    await page.keyboard.press('Enter');
    await until(() => document.documentElement.dataset.theme === 'day');
    await write('zzzz-nowhere');
    await see(page, 'Nothing here has “zzzz-nowhere”');
    expect(await listed()).toEqual([]);
    await page.keyboard.press('Escape');
  });
});

describe('writing a filter', () => {
  const options = () =>
    page.$$eval('.filter [role=listbox] [role=option]', (list) =>
      list.map((option) => (option as HTMLElement).innerText.replace(/\s+/g, ' ').trim()),
    );
  const where = () => page.evaluate(() => new URLSearchParams(location.search).get('where') ?? '');
  const text = () => page.$eval('input[aria-label=Filter]', (input) => (input as HTMLInputElement).value);
  test('a field and one of the values its rows have are written by a letter and a few keys', async () => {
    await page.focus('input[aria-label=Filter]');
    await page.keyboard.type('mod');
    await page.waitForSelector('.filter [role=listbox]');
    expect((await options())[0]).toBe('model Model');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    expect(await text()).toBe('model=');
    await until(() => document.querySelectorAll('.filter [role=listbox] [role=option]').length === 2);
    expect(await options()).toEqual(['K-Access 48 200', 'K-Access 24 100']);
    // half a filter narrows nothing and loses nothing
    await until(() => document.querySelector('[data-total]')?.getAttribute('data-total') === '300');
    expect(await where()).toBe('');
    await page.keyboard.type('24');
    await until(() => document.querySelectorAll('.filter [role=listbox] [role=option]').length === 1);
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    expect(await text()).toBe('model="K-Access 24" ');
    await until(() => document.querySelector('[data-total]')?.getAttribute('data-total') === '100');
    await page.keyboard.type('role=');
    await until(() => document.querySelectorAll('.filter [role=listbox] [role=option]').length === 2);
    // of the rows that the rest of the filter holds
    expect(
      (await options()).map((option) => Number(option.split(' ').at(-1))).reduce((sum, count) => sum + count, 0),
    ).toBe(100);
  });
  test('a mistake is told at its place while the rows stay', async () => {
    await page.focus('input[aria-label=Filter]');
    await page.keyboard.type('colour=red');
    await see(page, 'There is no field “colour”');
    await until(() => document.querySelector('[data-total]')?.getAttribute('data-total') === '300');
    expect(await where()).toBe('');
  });
  test('the same filter stands as conditions, and both ways are in step', async () => {
    await page.focus('input[aria-label=Filter]');
    await page.keyboard.type('role=router');
    await until(() => document.querySelector('[data-total]')?.getAttribute('data-total') === '34');
    await press(page, 'Conditions');
    await page.waitForSelector('.conditions li:nth-child(2)');
    expect(
      await page.$$eval('.conditions li', (list) =>
        list.map((row) =>
          [...row.querySelectorAll<HTMLSelectElement | HTMLInputElement>('select, input')].map((own) => own.value),
        ),
      ),
    ).toEqual([['role', '=', 'router'], ['']]);
    await page.select('.conditions li:last-child select', 'release');
    await page.select('.conditions li:nth-child(2) select[aria-label=Relation]', '<');
    await page.type('.conditions li:nth-child(2) input', '7.4.12');
    await until(
      () =>
        document.querySelector<HTMLInputElement>('input[aria-label=Filter]')?.value === 'role=router release<7.4.12',
    );
    await until(() => document.querySelector('[data-total]')?.getAttribute('data-total') === '17');
    await click(page, '.conditions li:first-child button');
    await until(() => document.querySelector('[data-total]')?.getAttribute('data-total') === '150');
    expect(await text()).toBe('release<7.4.12');
    await page.keyboard.press('Escape');
    await page.waitForSelector('.conditions', { hidden: true });
  });
  test('a filter that was used is offered again, also after a reload', async () => {
    await page.focus('input[aria-label=Filter]');
    await page.keyboard.type('site=S41');
    await page.keyboard.press('Enter');
    await until(() => document.querySelector('[data-total]')?.getAttribute('data-total') === '2');
    await open('/estate');
    await page.focus('input[aria-label=Filter]');
    await page.keyboard.press('ArrowDown');
    await page.waitForSelector('.filter [role=listbox]');
    expect((await options())[0]).toBe('site=S41 used before');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await until(() => document.querySelector('[data-total]')?.getAttribute('data-total') === '2');
  });
});

describe('pictures', () => {
  const bars = (title: string) =>
    page.$$eval(`.picture[aria-label="${title}"] button`, (list) =>
      list.map(
        (bar) =>
          `${bar.getAttribute('aria-pressed') === 'true' ? '*' : ''}${(bar as HTMLElement).innerText.replace(/\s+/g, ' ').trim()}`,
      ),
    );
  const pressBar = (title: string, at: number, shift = false) =>
    page.evaluate(
      (label, place, more) =>
        document
          .querySelectorAll(`.picture[aria-label="${label}"] button`)
          [place]?.dispatchEvent(new MouseEvent('click', { bubbles: true, shiftKey: more })),
      title,
      at,
      shift,
    );
  const rows = (count: number) =>
    page.waitForFunction(
      (wanted) => document.querySelector('[data-total]')?.getAttribute('data-total') === String(wanted),
      {},
      count,
    );
  const where = () => page.evaluate(() => new URLSearchParams(location.search).get('where') ?? '');
  test('narrow to a value, with Shift to one more, and back; the other values stay to be chosen', async () => {
    expect(await bars('by role')).toEqual(['switch 266', 'router 34']);
    await pressBar('by role', 1);
    await rows(34);
    expect(await bars('by role')).toEqual(['switch 266', '*router 34']);
    await pressBar('by role', 0, true);
    await rows(300);
    expect(await where()).toBe('role=router or role=switch');
    await pressBar('by role', 1, true);
    await rows(266);
    await pressBar('by role', 0);
    await rows(300);
    expect(await where()).toBe('');
  });
  test('are of any field, or of two against each other, and stay with the person', async () => {
    await press(page, 'Pictures');
    await page.waitForSelector('[role=dialog] select');
    await page.select('[aria-label="Picture 1 by"]', 'model');
    await page.select('[aria-label="Picture 1 as"]', 'role');
    await page.select('[aria-label="Picture 2 by"]', 'firstSeen');
    await page.select('[aria-label="Picture 3 as"]', ':shares');
    await press(page, 'Done');
    await open('/estate');
    await page.waitForSelector('.picture[aria-label="by model and role"] td button');
    // model, then role: every device with n divisible by 3 is a 24, with n divisible by 9 a router
    expect(
      await page.$$eval('.matrix tbody tr', (list) => list.map((row) => row.innerText.replace(/\s+/g, ' ').trim())),
    ).toEqual(['K-Access 48 200', 'K-Access 24 66 34']);
    expect(await bars('by first seen')).toEqual(['last 7 days 300']);
    expect(await bars('by role')).toEqual(['switch 89 %', 'router 11 %']);
    await pressAmong(page, '.matrix td button', '34');
    await rows(34);
    expect(await where()).toBe('model="K-Access 24" role=router');
    await open('/estate?pictures=site');
    expect(await page.$$eval('.picture', (list) => list.map((picture) => picture.getAttribute('aria-label')))).toEqual([
      'by site',
    ]);
  });
});

test('on paper a table has all its rows, in its groups and columns, with the marks', async () => {
  await open('/estate?where=site%3DS7+or+site%3DS8&columns=name,role,release&group=role');
  await page.focus('.table');
  for (const key of ['ArrowDown', 'ArrowRight', 'ArrowDown'] as const) await page.keyboard.press(key);
  await page.waitForFunction(() => location.search.includes('sel=device'));
  await page.keyboard.press('m');
  await page.waitForSelector('.table .marked');
  const name = await page.$eval('.table .marked', (row) =>
    (row as HTMLElement).innerText
      .trim()
      .split(/\s+/)
      .find((word) => word.includes('-sw-')),
  );
  await press(page, 'Export');
  const paper = await page.waitForSelector('[role=menuitem][href^="/print/"]');
  await page.goto(new URL(String(await paper?.evaluate((link) => link.getAttribute('href'))), app.address).href, {
    waitUntil: 'networkidle0',
  });
  await page.waitForSelector('.paper tbody tr');
  expect(
    await page.$$eval('.paper thead th', (list) => list.map(({ innerText }) => innerText).filter(Boolean)),
  ).toEqual(['Name', 'Role', 'Release']);
  expect(
    await page.$$eval('.paper .heading', (list) => list.map((row) => (row as HTMLElement).innerText.trim())),
  ).toEqual(['router', 'switch']);
  expect(await page.$$eval('.paper tbody tr:not(.heading)', (list) => list.length)).toBe(
    await page.evaluate(
      async () =>
        ((await (await fetch('/api/v1/devices?where=site%3DS7+or+site%3DS8&size=1')).json()) as { total: number })
          .total,
    ),
  );
  expect(
    await page.$$eval('.paper .marked', (list) => list.map((row) => (row as HTMLElement).innerText.includes('-sw-'))),
  ).toEqual([true]);
  expect(await page.$eval('.paper .marked', (row) => (row as HTMLElement).innerText)).toContain(name);
  expect(
    Buffer.from(await page.pdf())
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-');
});
