import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import Excel from 'exceljs';
import type { Browser, Page } from 'puppeteer-core';
import { scopeDefaults } from '../src/core/estate/scope';
import { addPerson } from '../src/store/people';
import { startApplication, type Application } from './support/application';
import { click, fill, launchBrowser, openPage, press, pressAmong, see } from './support/browser';
import { stopAll } from './support/program';
import { openSample, type SampleStore } from './support/sampleStore';

/** A long day of use: each task as a person does it, on the network with four weekly surveys. */
const steps = [1, 2, 3, 8];
const person = { name: 'osric', password: 'harbour-depot-7' };
let sample: SampleStore;
let app: Application;
let browser: Browser;
let page: Page;
let errors: string[];
/** questions that the server refused as mistaken */
const refused: string[] = [];

beforeAll(async () => {
  sample = await openSample({ steps });
  await addPerson(sample.store.db, person.name, person.password, 'administrator');
  [app, browser] = await Promise.all([startApplication(sample.store.folder), launchBrowser()]);
  ({ page, errors } = await openPage(browser));
  page.on('response', (response) => void (response.status() === 422 && refused.push(response.url())));
  await page.goto(`${app.address}/login`, { waitUntil: 'networkidle0' });
  await fill(page, 'input[name=name]', person.name);
  await fill(page, 'input[name=password]', person.password);
  await page.keyboard.press('Enter');
  await see(page, 'viewing the latest');
});
afterAll(async () => {
  await browser?.close();
  await stopAll();
  sample.close();
});

const open = (where: string) => page.goto(`${app.address}${where}`, { waitUntil: 'domcontentloaded' });
const api = <Answer>(where: string): Promise<Answer> =>
  page.evaluate(async (url) => (await fetch(url)).json() as Promise<never>, `/api/v1/${where}`);

/** Waits until the table shows what a filter asks for. @returns how many rows fit */
async function rowsOf(where: string): Promise<number> {
  await page.waitForFunction(
    (wanted) =>
      new URLSearchParams(document.querySelector<HTMLElement>('.table')?.dataset.answers?.split('?')[1]).get(
        'where',
      ) === wanted,
    {},
    where,
  );
  return page.$eval('.table', (table) => Number((table as HTMLElement).dataset.total));
}
async function typeFilter(text: string): Promise<void> {
  await page.waitForSelector('.table .head');
  await page.keyboard.press('/');
  await page.keyboard.type(text);
}

/** Sends as the page does. @returns what came of it */
const send = (method: string, where: string, body: unknown, headers: Record<string, string> = {}) =>
  page.evaluate(
    async (...[how, url, given, more]) => {
      const answer = await fetch(url, {
        method: how,
        ...(given !== null && { body: JSON.stringify(given) }),
        headers: { 'content-type': 'application/json', ...more },
      });
      return { status: answer.status, body: (await answer.json()) as Record<string, unknown> };
    },
    method,
    `/api/v1/${where}`,
    body,
    headers,
  );
const numberBefore = async (words: string): Promise<number> => {
  await see(page, words);
  return page.$$eval(
    '.numbers a',
    (links, wanted) =>
      Number(links.find(({ textContent }) => textContent?.includes(wanted))?.querySelector('b')?.textContent ?? NaN),
    words,
  );
};

describe('filters', () => {
  test('habits of other query languages are understood', async () => {
    const byApi = async (where: string) =>
      (await api<{ total: number }>(`devices?size=1&where=${encodeURIComponent(where)}`)).total;
    const switches = await byApi('role=switch');
    const here = await byApi('role=switch site=SGH');
    expect([switches, here].every((count) => count > 0) && here < switches).toBe(true);
    const all = await byApi('');
    const { rows } = await api<{ rows: { name: string }[] }>('devices?size=500&columns=name');
    const names = rows.map(({ name }) => name);
    await open('/estate');
    for (const [typed, right] of [
      ['role=switch and site=SGH', here],
      ['not role=switch', all - switches],
      ['role==switch', switches],
      ['role = switch', switches],
      ['site=SGH,HDP', await byApi('site=SGH or site=HDP')],
      ['name=sgh*', names.filter((name) => name.startsWith('sgh')).length],
      ['memory<=256 MB', await byApi('memory<=256M')],
    ] as const) {
      await open(`/estate?where=${encodeURIComponent(typed)}`);
      expect([typed, await rowsOf(typed)]).toEqual([typed, right]);
    }
  });

  test('what is not understood is told at its place, with what to write', async () => {
    for (const [typed, words] of [
      ['name~acc*', 'Expected: name:part or name=beginning*'],
      ['role is switch', 'Expected: role=value, or "is" for the word'],
      ['serial=10 MB', '“MB” is read as a unit, and serial has none'],
    ]) {
      await open('/estate');
      await typeFilter(typed ?? '');
      await see(page, words ?? '');
    }
  });

  test('within brackets values are proposed, and no keystroke is refused', async () => {
    await open('/estate');
    refused.length = 0;
    await typeFilter('(site=SGH or role=sw');
    await page.waitForFunction(() =>
      [...document.querySelectorAll('.filter [role=option]')].some(({ textContent }) =>
        textContent?.includes('switch'),
      ),
    );
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await page.keyboard.type(')');
    await page.waitForFunction(
      () => document.querySelector<HTMLInputElement>('.filter input')?.value === '(site=SGH or role=switch )',
    );
    expect(await rowsOf('(site=SGH or role=switch )')).toBeGreaterThan(0);
    expect(refused).toEqual([]);
  });

  test('what a cell shows is found', async () => {
    await open(`/estate?where=${encodeURIComponent('role=access-point')}`);
    const right = await rowsOf('role=access-point');
    await see(page, 'access point');
    for (const typed of ['"access point"', 'role="access point"', 'access point']) {
      await open(`/estate?where=${encodeURIComponent(typed)}`);
      expect([typed, await rowsOf(typed)]).toEqual([typed, right]);
    }
  });
});

describe('counts', () => {
  test('what Today counts is what its links show', async () => {
    await open('/today?against=1');
    const changed = await numberBefore('devices changed');
    const added = await numberBefore('new since');
    expect(changed).toBeGreaterThan(1);
    await pressAmong(page, '.numbers a', String(changed));
    expect(await rowsOf('change=changed')).toBe(changed);
    // the marks of the table say the same
    await see(page, `~${changed} changed`);
    await open('/today?against=1');
    await numberBefore('new since');
    await pressAmong(page, '.numbers a', String(added));
    expect(await rowsOf('change=added')).toBe(added);
    await open('/today?against=1');
    const all = await page
      .waitForFunction(() => /all (\d+) changes/.exec(document.body.innerText)?.[1])
      .then((found) => found.jsonValue());
    await pressAmong(page, 'main a', `all ${all} changes`);
    await page.waitForFunction(
      (many) => document.querySelector<HTMLElement>('.table')?.dataset.total === many,
      {},
      all,
    );
  });
});

describe('checks', () => {
  test('on an own field are judged anew as soon as it is written', async () => {
    await send('POST', 'fields', { thing: 'devices', label: 'Keeper', kind: 'text' });
    const { body } = await send('POST', 'checks', {
      name: 'Cores have a keeper',
      thing: 'devices',
      where: 'name=sgh-core-1 keeper=""',
      scope: '',
      severity: 'minor',
      why: '',
      remedy: '',
      on: true,
    });
    await open(`/estate?of=checks&sel=check:${String(body.id)}`);
    await see(page, '1 found');
    const core = await api<{ rows: { id: string }[] }>('devices?where=name%3Dsgh-core-1');
    await send('POST', 'values', { thing: 'devices', ids: [core.rows[0]?.id], set: { keeper: 'field service' } });
    await open(`/estate?of=checks&sel=check:${String(body.id)}`);
    await see(page, 'Nothing is found');
    await open('/today');
    await see(page, 'checks fail');
    expect(
      (await api<{ rows: { id: string; failing: number }[] }>('checks')).rows.find(({ id }) => id === body.id)?.failing,
    ).toBe(0);
  });
});

describe('a moment of the estate', () => {
  test('is told by what it covered, and compared with the last survey of the same scope', async () => {
    const known = await api<{ total: number }>('devices?size=1');
    await sample.survey({ scopeName: 'Depot' }, { ranges: ['10.72.200.1-3'] });
    await open('/today');
    await see(page, `“Depot” was surveyed`);
    await see(page, `0 of ${known.total} devices among its 3 addresses`);
    await see(page, '“Depot” was surveyed for the first time');
    await see(page, /the others answered .+ or later/);
    await see(page, /Survey 5 of Depot sealed .+ ago, 0 of 3 addresses answered/);
    // the next of all is held against the last of all, not against that one
    await pressAmong(page, 'main a', 'Compare with the survey before');
    await page.waitForFunction(() => new URLSearchParams(location.search).get('against') === '4');
    await sample.survey({ cancelled: () => true });
    await open('/today');
    await see(page, /“Ostermere” was cut short .+ ago: 0 of/);
    expect((await api<{ before: number }>('today')).before).toBe(4);
  });
});

describe('what is sent', () => {
  const maintenance = async () => (await api<{ rows: { reason: string }[] }>('maintenance')).rows;
  const writeReason = async (reason: string) => {
    await open(`/estate?of=groups&where=${encodeURIComponent('site=SGH')}`);
    await fill(page, 'input[name=maintenanceReason]', reason);
  };

  test('is sent once, however often it is pressed while it is on its way', async () => {
    const session = await page.createCDPSession();
    await session.send('Fetch.enable', { patterns: [{ urlPattern: '*/api/v1/maintenance' }] });
    let sent = 0;
    session.on('Fetch.requestPaused', ({ requestId, request }) => {
      const wait = request.method === 'POST' ? 700 : 0;
      sent += wait > 0 ? 1 : 0;
      setTimeout(() => void session.send('Fetch.continueRequest', { requestId }).catch(() => undefined), wait);
    });
    await writeReason('new fans');
    for (let times = 0; times < 3; times++) await page.keyboard.press('Enter');
    await see(page, /Set for \d+ devices?\./);
    await session.detach();
    expect([sent, (await maintenance()).filter(({ reason }) => reason === 'new fans').length]).toEqual([1, 1]);
  });

  test('counts once though the line lost the answer and it was sent again', async () => {
    const session = await page.createCDPSession();
    await session.send('Fetch.enable', {
      patterns: [{ urlPattern: '*/api/v1/maintenance', requestStage: 'Response' }],
    });
    let sent = 0;
    session.on('Fetch.requestPaused', ({ requestId, request }) => {
      const lost = request.method === 'POST' && ++sent === 1;
      if (lost) void session.send('Fetch.failRequest', { requestId, errorReason: 'ConnectionReset' });
      else void session.send('Fetch.continueRequest', { requestId });
    });
    await writeReason('new cables');
    await page.keyboard.press('Enter');
    await see(page, /Set for \d+ devices?\./);
    await session.detach();
    expect([sent, (await maintenance()).filter(({ reason }) => reason === 'new cables').length]).toEqual([2, 1]);
  });

  test('is told to whoever writes the same in another tab', async () => {
    const core = (await api<{ rows: { id: string }[] }>('devices?where=name%3Dsgh-core-2')).rows[0]?.id ?? '';
    const where = `/estate?sel=device:${core}`;
    await open(where);
    const other = await browser.newPage();
    await other.goto(`${app.address}${where}`, { waitUntil: 'domcontentloaded' });
    for (const one of [page, other]) {
      await press(one, 'Write');
      await fill(one, 'input[name="own.keeper"]', one === page ? 'first tab' : 'second tab');
    }
    await page.keyboard.press('Enter');
    await see(page, 'Written.');
    // the keys are where they were before the form
    await page.waitForFunction(() => document.activeElement?.textContent === 'Change');
    await other.bringToFront();
    await other.keyboard.press('Enter');
    await see(other, 'became another while you were writing');
    await see(other, 'first tab');
    expect((await api<{ rows: { keeper: string }[] }>('devices?where=name%3Dsgh-core-2')).rows[0]?.keeper).toBe(
      'first tab',
    );
    await other.close();
    await page.bringToFront();
  });
});

describe('what was written', () => {
  test('can be taken back one by one, whatever was written after it', async () => {
    await send('POST', 'credentials', { name: 'day', kind: 'snmp2c', community: 'not-a-secret' });
    for (const name of ['North', 'South'])
      expect(
        await send('POST', 'scopes', { ...scopeDefaults, name, ranges: ['10.72.201.0/30'], credentials: ['day'] }),
      ).toMatchObject({
        status: 200,
      });
    await open('/survey');
    for (const name of ['North', 'South']) {
      await press(page, `Delete the scope ${name}`);
      await see(page, `Deleted the scope “${name}”.`);
    }
    // the one before the last is still there to be taken back
    await pressAmong(page, '[role=status] button', 'Undo', 1);
    await page.waitForSelector('[aria-label="Delete the scope North"]');
    await pressAmong(page, '[role=status] button', 'Undo');
    await page.waitForSelector('[aria-label="Delete the scope South"]');
  });

  test('is in a log by person and thing, with the way back of whatever nothing newer stands upon', async () => {
    const core = (await api<{ rows: { id: string }[] }>('devices?where=name%3Dsgh-core-1')).rows[0]?.id;
    for (const keeper of ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'])
      await send('POST', 'values', { thing: 'devices', ids: [core], set: { keeper } });
    await open('/settings/written');
    await page.waitForSelector('select[aria-label="Written of"] option[value=devices]');
    await page.select('select[aria-label="Written of"]', 'devices');
    await fill(page, 'input[aria-label="Edits that hold"]', 'sgh-core-1');
    await see(page, 'written over since');
    await pressAmong(page, 'table button', 'Undo');
    await see(page, '1 taken back');
    expect((await api<{ rows: { keeper: string }[] }>('devices?where=name%3Dsgh-core-1')).rows[0]?.keeper).toBe('g');
    // what stands under it can be taken back then
    await see(page, 'taken back');
    await pressAmong(page, 'table button', 'Undo');
    await page.waitForFunction(
      async () =>
        ((await (await fetch('/api/v1/devices?where=name%3Dsgh-core-1')).json()) as { rows: { keeper: string }[] })
          .rows[0]?.keeper === 'f',
    );
  });

  test('of a check that is deleted the way back stays, though its page is gone', async () => {
    const { rows } = await api<{ rows: { id: string; name: string }[] }>('checks');
    const own = rows.find(({ name }) => name === 'Cores have a keeper');
    await open(`/estate?of=checks&sel=check:${own?.id ?? ''}`);
    await press(page, 'Delete the check');
    await see(page, '“Cores have a keeper” is deleted.');
    await pressAmong(page, '.donetray button', 'Undo');
    await page.waitForFunction(
      async (name) =>
        ((await (await fetch('/api/v1/checks')).json()) as { rows: { name: string }[] }).rows.some(
          (one) => one.name === name,
        ),
      {},
      'Cores have a keeper',
    );
  });
});

describe('exports', () => {
  const saved = (where: string) =>
    page.evaluate(async (url) => [...new Uint8Array(await (await fetch(url)).arrayBuffer())], where);
  /** What a press on a line of the export menu fetches. */
  async function exported(words: string): Promise<Buffer> {
    await press(page, 'Export');
    const href = await page
      .waitForFunction(
        (wanted) =>
          [...document.querySelectorAll<HTMLAnchorElement>('[role=menuitem]')].find(
            ({ innerText }) => innerText === wanted,
          )?.href,
        {},
        words,
      )
      .then((found) => found.jsonValue());
    await page.keyboard.press('Escape');
    return Buffer.from(await saved(String(href)));
  }
  const columns = 'name,role,memoryBytes,firstSeen,keeper';

  test('look as the table does: headings, units, types, the order of groups; and can be read back', async () => {
    const core = (await api<{ rows: { id: string }[] }>('devices?where=name%3Dsgh-core-1')).rows[0]?.id;
    await send('POST', 'values', { thing: 'devices', ids: [core], set: { keeper: '=SUM(1,2)' } });
    await open(`/estate?columns=${columns}&sort=-name&group=site`);
    await page.waitForSelector('.table .head');
    const book = new Excel.Workbook();
    await book.xlsx.load((await exported('Spreadsheet (XLSX)')) as never);
    const [sheet] = book.worksheets;
    const head = (sheet?.getRow(1).values as string[]).slice(1);
    expect(head).toEqual(['Name', 'Role', 'Memory (MB)', 'First seen (UTC)', 'Keeper']);
    const lines = sheet?.getRows(2, (sheet.rowCount ?? 1) - 1)?.map((row) => (row.values as unknown[]).slice(1)) ?? [];
    const line = lines.find(([name]) => name === 'sgh-core-1');
    expect(line?.[4]).toBe('=SUM(1,2)');
    expect([typeof line?.[2], line?.[3] instanceof Date]).toEqual(['number', true]);
    expect(lines.some(([, role]) => role === 'access point')).toBe(true);
    // site by site, within it backwards by name
    const sites = lines.map(([name]) => String(name).slice(0, 3));
    expect(sites).toEqual([...new Set(sites)].flatMap((site) => sites.filter((other) => other === site)));
    const csv = (await exported('CSV')).toString('utf8');
    expect(csv.startsWith('\ufeffName,Role,Memory (MB),First seen (UTC),Keeper')).toBe(true);
    expect(
      (await exported('CSV for scripts')).toString('utf8').startsWith('name,role,memoryBytes,firstSeen,keeper'),
    ).toBe(true);

    const { body: back } = await send('POST', 'imports/devices', { csv, name: 'back.csv', preview: true });
    expect(back).toMatchObject({ mistakes: [], changed: 0, added: 0 });
  });
});

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
    await page.focus('canvas');
    const drawn = () => page.$eval('canvas', (canvas) => [canvas.dataset.scale, canvas.dataset.at]);
    const before = await drawn();
    expect(await moved(() => page.keyboard.press('ArrowUp'))).toEqual([]);
    expect(await drawn()).toEqual(before);
  });

  test('a table is sorted by several columns, and stands so when one comes back', async () => {
    await open('/estate');
    const head = (words: string) => `.table .head .cell button::-p-text(${words})`;
    await page.waitForSelector(head('Site'));
    await page.click(head('Site'));
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

describe('the catalogue', () => {
  const find = async (release: string) =>
    (await api<{ rows: { release: string; published: string }[] }>('catalogue')).rows.find(
      (one) => one.release === release,
    );

  test('of releases is added to, changed and taken from, with a way back', async () => {
    await open('/firmware');
    await press(page, 'Targets and catalogue');
    for (const [name, value] of [
      ['vendor', 'Kestrane'],
      ['family', 'K-Day'],
      ['release', '9.9.1'],
      ['published', '2026-11-01'],
      ['minimumMemoryBytes', 'much'],
    ])
      await fill(page, `input[name="release.${name}"]`, value ?? '');
    await press(page, 'Add to the catalogue');
    await see(page, 'Write a size like 512M or 2G');
    await fill(page, 'input[name="release.minimumMemoryBytes"]', '512M');
    await press(page, 'Add to the catalogue');
    await see(page, '9.9.1 is in the catalogue.');
    await press(page, 'Change the release 9.9.1 of Kestrane K-Day');
    await fill(page, 'input[name="release.published"]', '2026-11-02');
    await press(page, 'Save the release');
    await page.waitForFunction(() => document.querySelector('[role=dialog]')?.textContent?.includes('2026-11-02'));
    expect(await find('9.9.1')).toMatchObject({ published: '2026-11-02', minimumMemoryBytes: 512 * 1024 ** 2 });
    await press(page, 'Remove the release 9.9.1 of Kestrane K-Day');
    await see(page, '9.9.1 is out of the catalogue.');
    expect(await find('9.9.1')).toBeUndefined();
    await pressAmong(page, '[role=dialog] [role=status] button', 'Undo');
    await see(page, '1 taken back');
    expect(await find('9.9.1')).toMatchObject({ published: '2026-11-02' });
  });
});

describe('surveys', () => {
  const silent = (name: string) => ({
    ...scopeDefaults,
    name,
    ranges: ['10.72.202.0/26'],
    translations: [`10.72.0.0/16 via ${sample.base}/16 port ${sample.port}`],
    credentials: ['day'],
    timeoutMs: 60_000,
    retries: 3,
    concurrency: 8,
  });

  test('wait for their turn in sight, ask as many at once as they are told, and are cancelled at once', async () => {
    for (const name of ['Silent east', 'Silent west']) await send('POST', 'scopes', silent(name));
    await open('/survey');
    await see(page, 'Silent east');
    const place = await page.$$eval('ul.lines li', (lines) =>
      lines
        .filter(({ textContent }) => textContent?.includes('Run now'))
        .findIndex(({ textContent }) => textContent?.includes('Silent east')),
    );
    await pressAmong(page, 'ul.lines li button', 'Run now', place);
    await see(page, /0 of 62 addresses/);
    // eight are waited for, though nobody answers any of them
    const { active } = await api<{ active: { surveyId: number } }>('surveys');
    const asked = await page.evaluate(
      (id) =>
        new Promise<number>((resolve) => {
          const events = new EventSource(`/api/v1/surveys/${id}/events`);
          events.addEventListener('progress', (event) => {
            events.close();
            resolve((JSON.parse(event.data as string) as { done: number }).done);
          });
        }),
      active.surveyId,
    );
    expect(asked).toBe(0);
    await page.waitForSelector('select[aria-label="Survey another scope after it"] option:nth-child(2)');
    const west = await page.$$eval('select[aria-label="Survey another scope after it"] option', (options) =>
      String((options as HTMLOptionElement[]).find(({ label }) => label === 'Silent west')?.value),
    );
    await page.select('select[aria-label="Survey another scope after it"]', west);
    await see(page, 'Then, each in its turn:');
    await see(page, 'Silent west');
    // minutes of silence are not waited for
    await press(page, 'Cancel');
    await page.waitForFunction(
      async (id) => ((await (await fetch(`/api/v1/surveys/${id}`)).json()) as { state: string }).state === 'cancelled',
      {},
      active.surveyId,
    );
    await page.waitForFunction(
      async (id) =>
        ((await (await fetch('/api/v1/surveys')).json()) as { active: { surveyId: number } | null }).active
          ?.surveyId === id,
      {},
      active.surveyId + 1,
    );
    await send('POST', `surveys/${active.surveyId + 1}/cancel`, {});
    await page.waitForFunction(
      async () => ((await (await fetch('/api/v1/surveys')).json()) as { active: object | null }).active === null,
    );
  });
});

describe('work that is not saved', () => {
  test('is offered again after Escape, a press beside the dialog, and another page', async () => {
    const name = '[role=dialog] input[name=name]';
    await open('/survey');
    for (const leave of [
      () => page.keyboard.press('Escape'),
      () => page.mouse.click(20, 400),
      () => open('/today').then(() => open('/survey')),
    ]) {
      await press(page, 'Add a scope');
      await fill(page, name, 'All of the north');
      await leave();
      await page.waitForFunction(() => !document.querySelector('[role=dialog]'));
      await press(page, 'Add a scope');
      await press(page, 'Take it up again');
      expect(await page.$eval(name, (input) => (input as HTMLInputElement).value)).toBe('All of the north');
      await page.keyboard.press('Escape');
      await page.waitForFunction(() => !document.querySelector('[role=dialog]'));
      await press(page, 'Add a scope');
      await press(page, 'Forget it');
      await page.keyboard.press('Escape');
      await page.waitForFunction(() => !document.querySelector('[role=dialog]'));
    }
  });
});

describe('the line', () => {
  test('is gone: the frame stays, says what it waits for, and goes there once it can', async () => {
    await open('/today');
    await see(page, 'Needs attention');
    await page.setOfflineMode(true);
    await pressAmong(page, '.workspaces a', 'Ports');
    await see(page, 'Ports opens as soon as the application answers; nothing here is lost');
    await see(page, 'Needs attention');
    await page.setOfflineMode(false);
    await page.waitForFunction(() => location.pathname === '/ports');
    await page.waitForSelector('.table .head');
  });

  test('is slow: something shows at once', async () => {
    await open('/today');
    await see(page, 'Needs attention');
    const session = await page.createCDPSession();
    await session.send('Network.enable');
    const slow = { offline: false, latency: 1500, downloadThroughput: -1, uploadThroughput: -1 };
    await session.send('Network.emulateNetworkConditions', slow);
    await pressAmong(page, '.workspaces a', 'Ledger');
    await see(page, 'opening Ledger…');
    expect(await page.$eval('.frame', (frame) => frame.getAttribute('aria-busy'))).toBe('true');
    await session.send('Network.emulateNetworkConditions', { ...slow, latency: 0 });
    await session.detach();
    await page.waitForFunction(() => location.pathname === '/ledger');
  });
});

test('nothing was logged as an error all day', () =>
  expect(errors.filter((error) => !/ERR_(INTERNET_DISCONNECTED|CONNECTION_RESET)/.test(error))).toEqual([]));
