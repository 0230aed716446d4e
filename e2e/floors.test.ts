// covers: src/ui/ports/floor src/ui/features/outlets src/server/floor src/store/floorPlans src/store/outlets src/core/floor
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Browser, ElementHandle, Page } from 'puppeteer-core';
import type { PlanLayout } from '../src/core/floor/floorPlan';
import { addPerson } from '../src/store/people';
import { startApplication, type Application } from './support/application';
import { accessibilityProblems, click, fill, launchBrowser, openPage, openWhole, press, see } from './support/browser';
import { openSample, type SampleStore } from './support/sampleStore';
import { stopAll, temporaryFolder } from './support/program';

/** Floors: their pictures, rooms and outlets, and the way from a port to its place and back. */
let sample: SampleStore;
let app: Application;
let browser: Browser;
let page: Page;
let errors: string[];
const osric = { name: 'osric', password: 'harbour-depot-7' };
const wenna = { name: 'wenna', password: 'signal-house-9' };
const folder = temporaryFolder();
const file = (name: string) => path.join(folder, name);

async function signIn(who: typeof osric): Promise<void> {
  await page.goto(`${app.address}/login`);
  await page.evaluate(
    async (given) =>
      fetch('/api/v1/session', {
        method: 'POST',
        body: JSON.stringify(given),
        headers: { 'content-type': 'application/json' },
      }),
    who,
  );
}
const open = (where: string) => openWhole(page, `${app.address}${where}`);
const api = <Answer>(where: string, method = 'GET', body?: unknown) =>
  page.evaluate(
    async (wanted, how, sent) => {
      const response = await fetch(`/api/v1/${wanted}`, {
        method: how,
        ...(sent !== null && { body: sent, headers: { 'content-type': 'application/json' } }),
      });
      const text = await response.text();
      return { status: response.status, ...(text.startsWith('{') ? (JSON.parse(text) as object) : { text }) };
    },
    where,
    method,
    body === undefined ? null : JSON.stringify(body),
  ) as Promise<
    Answer & { status: number; errors?: { path: string; message: string }[]; detail?: string; text?: string }
  >;
const give = async (name: string, chosen: string) =>
  ((await page.waitForSelector(`input[name=${name}]`)) as ElementHandle<HTMLInputElement>).uploadFile(chosen);
const planOf = async (id: number) =>
  (await api<{ plan: { layout: PlanLayout; revision: number; width: number; height: number } }>(`plans/${id}`)).plan;
/** A place on the plan, in points of the page: parts of the picture’s width and height. */
async function spot(x: number, y: number): Promise<{ x: number; y: number }> {
  const { left, top, width, height } = await page.$eval(
    '.floorpicture',
    (picture) =>
      picture.getBoundingClientRect().toJSON() as { left: number; top: number; width: number; height: number },
  );
  return { x: left + x * width, y: top + y * height };
}
async function clickAt(x: number, y: number): Promise<void> {
  const point = await spot(x, y);
  await page.mouse.click(point.x, point.y);
}
async function choosePlaced(words: string): Promise<void> {
  await fill(page, 'input[aria-label="Place a device or outlet"]', words);
  await page
    .waitForFunction(
      (wanted) => document.querySelector('[role=option]')?.textContent?.startsWith(wanted) ?? false,
      {},
      words,
    )
    .catch(async () => {
      throw new Error(`“${words}” is not offered: ${await page.evaluate(() => document.body.innerText.slice(-800))}`);
    });
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await see(page, `Press where ${words} is.`);
}
let device = { id: '', name: '', site: '' };
let ports: string[] = [];

beforeAll(async () => {
  sample = await openSample();
  await sample.fleet.moveTo(8);
  await sample.survey({}, { ranges: ['10.72.4.1-2', '10.72.5.1-2'] });
  await addPerson(sample.store.db, osric.name, osric.password, 'operator');
  await addPerson(sample.store.db, wenna.name, wenna.password, 'viewer');
  [app, browser] = await Promise.all([startApplication(sample.store.folder), launchBrowser()]);
  ({ page, errors } = await openPage(browser));
  mkdirSync(folder, { recursive: true });
  await page.setContent(
    '<div style="break-after:page">a cover</div><svg width="700" height="480"><rect x="20" y="20" width="640" height="420" fill="none" stroke="#222" stroke-width="6"/></svg>',
  );
  await page.pdf({ path: file('floor.pdf'), landscape: true });
  await page.screenshot({ path: file('floor.png') as `${string}.png` });
  writeFileSync(file('nothing.png'), 'no picture at all');
  await signIn(osric);
  const rows = (
    await api<{ rows: { id: string; name: string; site: string }[] }>('devices?where=name%3Drpw-plat&size=1')
  ).rows;
  device = rows[0] ?? device;
  ports = (await api<{ rows: { name: string }[] }>(`ports?where=device%3D%22${device.name}%22&size=4`)).rows.map(
    ({ name }) => name,
  );
});
afterAll(async () => {
  await browser?.close();
  await stopAll();
  sample?.close();
});

describe('outlets', () => {
  const csv = (port: string) =>
    `site,outlet,room,panel,position,device,port\n${device.site},W-01,Workshop,PP1,01,${device.name},${port}\n${device.site},W-02,Workshop,PP1,02,,\n`;
  test('come from a file: its mistakes at their lines, then as a whole, and back again', async () => {
    await open('/ports?of=plan');
    await see(page, 'No floor plan is there yet');
    await press(page, 'Outlets');
    await press(page, 'Many, from a CSV file');
    writeFileSync(file('wrong.csv'), csv('no-such-port'));
    await give('outletsCsv', file('wrong.csv'));
    await see(page, `${device.name} has no port “no-such-port”`);
    writeFileSync(file('right.csv'), csv(ports[0] ?? ''));
    await give('outletsCsv', file('right.csv'));
    await see(page, '2 new outlets, 0 changed');
    await press(page, 'Take 2 outlets');
    await see(page, '2 new from right.csv');
    expect(await accessibilityProblems(page)).toEqual([]);
    await press(page, 'Undo');
    await see(page, '2 taken back');
    expect((await api<{ total: number }>('outlets')).total).toBe(0);
    await give('outletsCsv', file('right.csv'));
    await press(page, 'Take 2 outlets');
    await see(page, '2 new outlets, 0 changed.');
    await press(page, 'Close');
  });
  test('go out in the shape in which they come in', async () => {
    const { text = '' } = await api('outlets?format=csv');
    expect(text.split(/\r?\n/)[1]).toContain(`${device.site},W-01,Workshop,PP1,01,${device.name},${ports[0] ?? ''}`);
    expect(await api('imports/outlets', 'POST', { csv: text, preview: true })).toMatchObject({
      named: 2,
      added: 0,
      changed: 0,
      mistakes: [],
    });
  });
  test('are entered and changed one by one, and what only one can have is told', async () => {
    expect(
      (await api('outlets', 'POST', { site: device.site, label: 'W-03', device: device.name, port: ports[0] }))
        .errors?.[0]?.message,
    ).toMatch(/that port is patched to W-01 already/);
    expect((await api('outlets', 'POST', { site: device.site, label: 'w-01' })).status).toBe(409);
    expect((await api('outlets', 'POST', { site: device.site, label: 'W-03', position: '3' })).errors?.[0]?.path).toBe(
      'position',
    );
    expect((await api('outlets', 'POST', { site: device.site, label: 'W-03', colour: 'grey' })).errors?.[0]?.path).toBe(
      'colour',
    );
    expect(
      (await api('outlets', 'POST', { site: device.site, label: 'W-03', device: 'nobody', port: '1' })).errors?.[0]
        ?.path,
    ).toBe('device');
    await open(`/ports?device=${device.id}&sel=port:${device.id}:${encodeURIComponent(ports[1] ?? '')}`);
    await press(page, 'Enter its outlet');
    await fill(page, 'input[name="outlet.label"]', 'W-03');
    await fill(page, 'input[name="outlet.room"]', 'Canteen');
    await press(page, 'Enter the outlet');
    await see(page, 'Outlet W-03, Canteen');
    await press(page, 'Change the outlet');
    await fill(page, 'input[name="outlet.room"]', 'Staff room');
    await press(page, 'Save');
    await see(page, 'Outlet W-03, Staff room');
  });
  test('are columns of ports, and words to find them by', async () => {
    const found = await api<{ rows: Record<string, unknown>[] }>(
      'ports?where=room%3D%22Staff%20room%22&columns=device,name,outlet,panel,room',
    );
    expect(found.rows.map(({ device: of, name, outlet, room }) => [of, name, outlet, room])).toEqual([
      [device.name, ports[1], 'W-03', 'Staff room'],
    ]);
    expect(
      (await api<{ rows: Record<string, unknown>[] }>('ports?where=W-01&columns=name,panel')).rows.map(
        ({ name, panel }) => [name, panel],
      ),
    ).toEqual([[ports[0], 'PP1/01']]);
  });
});

describe('a plan', () => {
  let id = 0;
  test('is added from a page of a PDF; what is no picture is told before it is sent', async () => {
    await open('/ports?of=plan');
    await press(page, 'Add a floor plan');
    await fill(page, 'input[name=planSite]', device.site);
    await fill(page, 'input[name=planName]', 'ground floor');
    await give('planPicture', file('nothing.png'));
    await see(page, '“nothing.png” cannot be read');
    await give('planPicture', file('floor.pdf'));
    await page.waitForSelector('.planpreview');
    await page.focus('[role=dialog] [role=combobox]');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() => document.activeElement?.getAttribute('role') === 'option');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await page.waitForSelector('[role=option]', { hidden: true });
    await press(page, 'Add the plan');
    await see(page, 'Drag what is there');
    id = (await api<{ rows: { id: number }[] }>('plans')).rows[0]?.id ?? 0;
    const { width, height } = await planOf(id);
    expect([width, Math.round((10 * width) / height)]).toEqual([2600, 13]);
    expect(await api('plans?site=X&name=Y', 'POST', 'no picture')).toMatchObject({ status: 422, title: 'No picture' });
    expect((await api('plans?site=X', 'POST', '')).errors?.[0]?.path).toBe('name');
  });

  test('is drawn on: things are placed and moved, a room is drawn and named, steps are taken back', async () => {
    await choosePlaced(device.name);
    await clickAt(0.3, 0.4);
    await see(page, `${device.name}: drag it`);
    await choosePlaced('W-01');
    await clickAt(0.2, 0.3);
    await press(page, 'Draw a room');
    for (const [x, y] of [
      [0.1, 0.1],
      [0.5, 0.1],
      [0.5, 0.7],
      [0.1, 0.7],
    ] as const)
      await clickAt(x, y);
    await page.keyboard.press('Enter');
    await fill(page, 'input[name=roomName]', 'Workshop');
    const from = await spot(0.3, 0.4);
    const to = await spot(0.8, 0.5);
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move((from.x + to.x) / 2, from.y, { steps: 4 });
    await page.mouse.move(to.x, to.y, { steps: 4 });
    await page.mouse.up();
    await press(page, 'Undo');
    await press(page, 'Redo');
    expect(await accessibilityProblems(page)).toEqual([]);
    await press(page, 'Save the plan');
    await see(page, 'On the plan');
    const { layout } = await planOf(id);
    expect(layout.rooms.map(({ name, corners }) => [name, corners.length])).toEqual([['Workshop', 4]]);
    expect(
      layout.marks.map(({ kind, at: [x, y] }) => [kind, Math.round(x * 20) / 20, Math.round(y * 20) / 20]).sort(),
    ).toEqual([
      ['device', 0.8, 0.5],
      ['outlet', 0.2, 0.3],
    ]);
  });

  test('says the same as a list by rooms, opens dossiers, and is walked by arrow keys', async () => {
    await see(page, /Workshop[\s\S]*W-01[\s\S]*in no room[\s\S]*/);
    expect(await accessibilityProblems(page)).toEqual([]);
    await click(page, '.planrow');
    await see(page, `Port ${ports[0] ?? ''}`);
    await see(page, 'Outlet W-01, Workshop, panel PP1/01');
    await page.$eval('[data-mark^=outlet]', (mark) => (mark as SVGElement).focus());
    await page.keyboard.press('ArrowRight');
    await page.waitForFunction(
      (wanted) => document.querySelector('.panel h2')?.textContent?.includes(wanted) ?? false,
      {},
      device.name,
    );
    expect(new URL(page.url()).searchParams.get('sel')).toBe(`device:${device.id}`);
    await press(page, 'all that stands on the plan');
    await see(page, 'On the plan');
  });

  test('is found from a port and from a device', async () => {
    await open(`/ports?device=${device.id}&sel=port:${device.id}:${encodeURIComponent(ports[0] ?? '')}`);
    await press(page, `on the plan ground floor of ${device.site}`);
    await page.waitForSelector('.mark.outlet.chosen');
    await open(`/estate?sel=device:${device.id}`);
    await press(page, `on the plan ground floor of ${device.site}`);
    await page.waitForSelector('.mark.device.chosen');
  });

  test('that somebody else saved meanwhile is not written over, and nothing drawn is lost', async () => {
    await open(`/ports?of=plan&plan=${id}`);
    await press(page, 'Draw on it');
    await choosePlaced('W-02');
    await clickAt(0.4, 0.6);
    const { layout, revision } = await planOf(id);
    expect(await api(`plans/${id}`, 'PUT', { site: device.site, name: 'level 0', revision, ...layout })).toEqual({
      status: 200,
      revision: revision + 1,
    });
    await press(page, 'Save the plan');
    await see(page, 'Somebody changed this plan meanwhile');
    expect(await page.$$eval('.mark', (marks) => marks.length)).toBe(3);
    await press(page, 'Leave it as it was');
  });

  test('that cannot be so is refused at its place, and so is a name that is taken', async () => {
    const {
      layout: { rooms, marks },
      revision,
    } = await planOf(id);
    const put = (more: object) =>
      api(`plans/${id}`, 'PUT', { site: device.site, name: 'level 0', revision, rooms, marks, ...more });
    expect(
      (
        await put({
          rooms: [
            {
              name: 'a',
              corners: [
                [0, 0],
                [2, 0],
                [1, 1],
              ],
            },
          ],
        })
      ).errors?.[0]?.path,
    ).toBe('rooms[0].corners');
    expect((await put({ marks: [{ kind: 'device', id: 1, at: [0.5] }] })).errors?.[0]?.path).toBe('marks[0].at');
    expect((await put({ marks: [{ kind: 'shelf', id: 1, at: [0.5, 0.5] }] })).errors?.[0]?.path).toBe('marks[0].kind');
    expect((await put({ name: '' })).errors?.[0]?.path).toBe('name');
    expect((await api('plans/999')).status).toBe(404);
    expect((await planOf(id)).revision).toBe(revision);
  });

  test('gets another name and another picture from its page, under what is drawn', async () => {
    const before = await planOf(id);
    await open(`/ports?of=plan&plan=${id}`);
    await press(page, 'Change');
    await fill(page, 'input[name=planName]', '');
    await press(page, 'Save');
    await see(page, 'Give the plan a name');
    await fill(page, 'input[name=planName]', 'level zero');
    await give('planPicture', file('floor.png'));
    await page.waitForSelector('.planpreview');
    await press(page, 'Save');
    await page.waitForFunction(() => document.querySelector('h1')?.textContent === 'level zero');
    const after = await planOf(id);
    expect([after.revision, after.layout]).toEqual([before.revision + 2, before.layout]);
    expect(after.width / after.height).not.toBeCloseTo(before.width / before.height, 2);
    await see(page, 'Workshop');
  });

  test('is deleted, and brought back with all that is drawn', async () => {
    await open(`/ports?of=plan&plan=${id}`);
    await press(page, 'Delete the plan');
    await see(page, 'No floor plan is there yet');
    await press(page, 'Undo');
    await see(page, 'Workshop');
    expect((await planOf(id)).layout.marks).toHaveLength(2);
  });

  test('is looked at by a viewer, who is offered nothing that writes', async () => {
    await signIn(wenna);
    await open(`/ports?of=plan&plan=${id}`);
    await see(page, 'Workshop');
    expect(
      await page.evaluate(() =>
        [...document.querySelectorAll('main button, aside button')]
          .map((button) => (button as HTMLElement).innerText)
          .filter((words) => /Draw|Delete|Outlets|Add|Enter|Change/.test(words)),
      ),
    ).toEqual([]);
    for (const [where, method] of [
      ['plans/1', 'DELETE'],
      ['outlets', 'POST'],
      ['outlets/1', 'DELETE'],
      ['plans/1', 'PUT'],
    ] as const)
      expect((await api(where, method, method === 'DELETE' ? undefined : {})).status).toBe(403);
  });
  test('no page logged an error', () => {
    expect(errors).toEqual([]);
  });
});
