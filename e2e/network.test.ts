// covers: src/ui/map src/server/map src/core/map src/core/layout
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { XMLValidator } from 'fast-xml-parser';
import { PNG } from 'pngjs';
import type { Browser, Page } from 'puppeteer-core';
import { addPerson } from '../src/store/people';
import { groupEdits } from '../src/store/edits/groups';
import { place } from '../src/store/edits/place';
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
import { openSample, wholeStory, wholeStoryMs, type SampleStore } from './support/sampleStore';

/** How it all hangs together: what is traced, moved, taken away, and how hosts and the fabric are told. */
let sample: SampleStore;
let app: Application;
let browser: Browser;
let page: Page;
let errors: string[];
const downloads = temporaryFolder();
const marla = { name: 'marla', password: 'ostermere-lights' };
const open = (where: string) => openWhole(page, `${app.address}${where}`);
const api = <Answer>(where: string) =>
  page.evaluate(async (wanted) => {
    const response = await fetch(`/api/v1/${wanted}`);
    return { status: response.status, ...((await response.json()) as object) };
  }, where) as Promise<Answer & { status: number; errors?: { path: string; message: string }[] }>;

beforeAll(async () => {
  sample = await openSample(wholeStory);
  await addPerson(sample.store.db, marla.name, marla.password, 'operator');
  const cores = { where: 'family=K-Core', members: [], within: null, note: '' };
  place(sample.store.db, groupEdits, { name: 'Cores', thing: 'devices', kind: 'filter', ...cores });
  [app, browser] = await Promise.all([startApplication(sample.store.folder), launchBrowser()]);
  ({ page, errors } = await openPage(browser));
  await (
    await browser.target().createCDPSession()
  ).send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: downloads });
  await page.goto(`${app.address}/login`);
  await page.evaluate(
    async (given) =>
      fetch('/api/v1/session', {
        method: 'POST',
        body: JSON.stringify(given),
        headers: { 'content-type': 'application/json' },
      }),
    marla,
  );
}, wholeStoryMs);
afterAll(async () => {
  await browser.close();
  await stopAll();
  sample.close();
});

/** The map is drawn. */
const drawn = async () => {
  await page.waitForSelector('canvas[data-scale]');
  await page.waitForFunction(() => !document.querySelector('.map[aria-busy=true]'));
};

describe('a trace', () => {
  test('goes from a camera over its gateway and two centres to a lathe, port by port, in words and on the plan', async () => {
    await open('/map');
    await drawn();
    await press(page, 'Trace');
    await see(page, 'Say where it begins');
    const fields = await page.$$('.traceends input');
    await fields[0]?.type('10.72.4.73');
    await page.keyboard.press('Enter');
    await fields[1]?.type('10.72.48.77');
    await page.keyboard.press('Enter');
    await see(page, /It arrives over 7 devices/);
    const hops = await page.$$eval('.tracelist ol li', (rows) =>
      rows.map((row) => (row as HTMLElement).innerText.replace(/\s+/g, ' ')),
    );
    expect(hops.map((hop) => hop.split(' ')[1])).toEqual([
      'rpw-plat',
      'rpw-ring',
      'lqy-ring',
      'sgh-core-1',
      'qdp-core-1',
      'hdp-dist-1',
      'hdp-acc-5',
    ]);
    expect(hops[0]).toContain('in 15 out U1 VLAN 30');
    expect(hops[3]).toContain('10.72.48.0/24 to 10.72.254.11 (ospf)');
    await see(page, 'any of them may be the gateway');
    await see(page, 'the way');
    expect(new URL(page.url()).searchParams.get('to')).toBe('10.72.48.77');
    await press(page, 'The way back');
    await see(page, /begins at 10\.72\.48\.77/);
    expect(await accessibilityProblems(page)).toEqual([]);
  });
  test('says where knowledge ends, and what is no end, at its field', async () => {
    await open('/map?of=trace&from=10.72.4.73&to=192.0.2.9');
    await see(page, /Here knowledge ends: the next hop 10\.72\.250\.1 is no device that is known/);
    await open('/map?of=trace&from=nobody-at-all&to=10.72.4.73');
    await see(page, '“nobody-at-all”: no device or host is called so at this survey.');
    expect((await api('trace?from=&to=sgh-core-1')).errors).toEqual([
      { path: 'from', message: 'Say what it is: a name, an address or a MAC.' },
    ]);
    expect((await api('trace?from=a&to=b&what=c')).status).toBe(422);
  });
});

describe('the plan', () => {
  const pins = () => new URL(page.url()).searchParams.get('pins');
  const idOf = async (name: string) =>
    (await api<{ rows: { id: string }[] }>(`devices?where=name=${name}&columns=name`)).rows[0]?.id ?? '';
  test('what is chosen is moved by keys and by hand, stays moved, and goes back with one key', async () => {
    const id = await idOf('rpw-plat');
    await open(`/map?sel=device:${id}`);
    await drawn();
    await page.focus('canvas');
    await page.keyboard.down('Shift');
    await page.keyboard.press('ArrowRight');
    await page.keyboard.up('Shift');
    await see(page, '1 moved by hand');
    const first = pins();
    expect(first).toMatch(new RegExp(`^d${id}:-?\\d+:-?\\d+$`));
    await open('/map');
    await see(page, '1 moved by hand');
    const other = await idOf('kln-ring');
    await open(`/map?sel=device:${other}`);
    await drawn();
    // a map that is opened on something has it in its middle
    await page.waitForFunction(() => Number(document.querySelector<HTMLElement>('canvas')?.dataset.scale) >= 0.8);
    const at = await page.$eval(
      'canvas',
      (canvas) => canvas.getBoundingClientRect().toJSON() as { x: number; y: number; width: number; height: number },
    );
    const middle = { x: at.x + at.width / 2, y: at.y + at.height / 2 };
    await page.mouse.move(middle.x, middle.y);
    await page.mouse.down();
    await page.mouse.move(middle.x + 60, middle.y + 30, { steps: 4 });
    await page.mouse.up();
    await see(page, '2 moved by hand');
    expect(pins()).toContain(`d${other}:`);
    await open('/map?sel=site:OBS');
    await drawn();
    await page.focus('canvas');
    await page.keyboard.down('Shift');
    await page.keyboard.press('ArrowUp');
    await page.keyboard.up('Shift');
    await see(page, '3 moved by hand');
    expect(pins()).toContain('sOBS:');
    await page.focus('canvas');
    await page.keyboard.press('a');
    await see(page, 'everything is where it was placed');
    expect(pins()).toBeNull();
    await press(page, 'Undo the last move');
    await see(page, '3 moved by hand');
    await page.focus('canvas');
    await page.keyboard.press('a');
    await see(page, 'everything is where it was placed');
  });
  test('from near has all ports on the plates, walked by keys and told by the pointer', async () => {
    const id = await idOf('rpw-plat');
    const lines = () =>
      page.$$eval('.mapline', (found) => found.map((line) => (line as HTMLElement).innerText.replaceAll('\n', ' ')));
    await open(`/map?sel=device:${id}`);
    await drawn();
    await page.focus('canvas');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() => Number(document.querySelector<HTMLElement>('canvas')?.dataset.scale) >= 2);
    await see(page, 'port with a link');
    await see(page, 'port that is down');
    await page.keyboard.press('p');
    await see(page, 'port of rpw-plat');
    const first = new URL(page.url()).searchParams.get('sel');
    await page.keyboard.press('ArrowRight');
    await page.waitForFunction((before) => new URL(location.href).searchParams.get('sel') !== before, {}, first);
    expect(new URL(page.url()).searchParams.get('sel')).toMatch(new RegExp(`^port:${id}:`));
    expect((await lines()).filter((line) => /^\d+( →|\sdown)/.test(line)).length).toBeGreaterThan(5);
    await page.keyboard.press('p');
    await page.waitForFunction((sel) => new URL(location.href).searchParams.get('sel') === sel, {}, `device:${id}`);
    // the device stands in the middle: its sockets right of its tab, below its name
    const { x, y, width, height } = await page.$eval(
      'canvas',
      (canvas) => canvas.getBoundingClientRect().toJSON() as { x: number; y: number; width: number; height: number },
    );
    await page.mouse.move(x + width / 2 - 20, y + height / 2);
    await page.mouse.move(x + width / 2 - 36 * 2, y + height / 2 + 4 * 2, { steps: 3 });
    const card = await page.waitForSelector('[role=tooltip]');
    expect(await card?.evaluate((element) => (element as HTMLElement).innerText)).toMatch(/^rpw-plat U?\d+\b/);
    // from farther away too, once they are there
    await open(`/map?sel=device:${id}`);
    await drawn();
    await page.focus('canvas');
    await page.keyboard.press('p');
    await see(page, 'port of rpw-plat');
    const sheet = await api<{ rows: { device: number; ports: { name: string }[] }[] }>(`map/ports?devices=${id}`);
    expect(sheet.rows[0]?.ports.map(({ name }) => name)).toContain('U1');
    for (const [path, at] of [
      ['map/ports', 'devices'],
      ['map/ports?devices=1,x', 'devices'],
      ['map/ports?devices=1&vlan=0', 'vlan'],
      ['map/ports?devices=1&port=2', 'port'],
    ])
      expect((await api(path ?? '')).errors?.[0]?.path).toBe(at);
  });
  test('tells what has no spare, with what it went, and outlines a group', async () => {
    await open('/map?over=spare+ways&outline=Cores');
    await drawn();
    await see(page, 'has lost its spare');
    const { rows } = await api<{ rows: { id: string; spareLostBy: string; cutsDevices: number }[] }>(
      'links?where=from=lqy-ring to=sgh-core-1&columns=spareLostBy,cutsDevices',
    );
    expect(rows[0]).toMatchObject({ spareLostBy: 'chd-ring 1 – rpw-ring 2 is gone', cutsDevices: 12 });
    await open(`/map?sel=link:${encodeURIComponent(rows[0]?.id ?? '')}`);
    await see(page, /without it 12 devices with \d+ endpoints are cut off/);
    await see(page, /It had one until .*: chd-ring 1 – rpw-ring 2 is gone\./);
    expect(
      await page.$$eval('select[aria-label="The group to outline"] option', (options) =>
        options.map((option) => option.textContent),
      ),
    ).toEqual(['no group', 'Cores']);
  });
  test('a network is looked for among those that are known', async () => {
    await open('/map');
    await drawn();
    await page.select('select[aria-label="The map is coloured by"]', 'network');
    await page.waitForSelector('select[aria-label="Which network"] option:nth-child(3)');
    await page.select('select[aria-label="Which network"]', '10.72.4.0/24');
    await see(page, 'coloured by');
    expect(new URL(page.url()).searchParams.get('over')).toBe('net:10.72.4.0/24');
    const { devices } = await api<{ devices: { name: string; network?: { routes: boolean; machines: number } }[] }>(
      'map?network=10.72.4.0/24',
    );
    expect(devices.filter(({ network }) => network?.routes).map(({ name }) => name)).toEqual([
      'sgh-core-1',
      'sgh-core-2',
    ]);
    expect(devices.find(({ name }) => name === 'rpw-plat')?.network?.machines).toBeGreaterThan(10);
    expect((await api('map?network=everything')).errors?.[0]?.path).toBe('network');
  });
  test('is taken away as drawing, picture, page and graph', async () => {
    const taken = async (kind: string, ending: string): Promise<Buffer> => {
      await press(page, 'Take away');
      await pressAmong(page, '.kinds label', kind);
      if (kind === 'PNG') {
        await fill(page, '[role=dialog] input[type=number]', '90');
        await see(page, 'a whole number from 320 to 16000');
        await fill(page, '[role=dialog] input[type=number]', '1000');
      }
      await press(page, 'Save');
      await page.waitForSelector('[role=dialog]', { hidden: true });
      for (;;) {
        const name = readdirSync(downloads).find((file) => file.endsWith(`.${ending}`));
        if (name) return readFileSync(path.join(downloads, name));
        await new Promise((resolve) => setTimeout(resolve, 50));
      }
    };
    await open('/map');
    await drawn();
    const svg = (await taken('SVG', 'svg')).toString();
    expect(XMLValidator.validate(svg)).toBe(true);
    for (const words of ['>rpw-plat</text>', '>Network map</text>', 'survey 8, ', '>both ends say so</text>'])
      expect(svg).toContain(words);
    expect(PNG.sync.read(await taken('PNG', 'png')).width).toBe(1000);
    const pdf = (await taken('PDF', 'pdf')).toString('latin1');
    expect([pdf.slice(0, 5), pdf.match(/\/Type\s*\/Page\b(?!s)/g)?.length, pdf.includes('Archivo')]).toEqual([
      '%PDF-',
      1,
      true,
    ]);
    const graphMl = (await taken('GraphML', 'graphml')).toString();
    expect([XMLValidator.validate(graphMl), graphMl.match(/<node /g)?.length]).toEqual([
      true,
      (await api<{ devices: unknown[] }>('map')).devices.length,
    ]);
    expect((await taken('graph text', 'dot')).toString()).toMatch(/^graph "survey 8" \{\n/);
    expect((JSON.parse((await taken('JSON', 'json')).toString()) as { links: unknown[] }).links.length).toBeGreaterThan(
      100,
    );
    expect(
      await page.evaluate(async () => (await fetch('/api/v1/map?format=graphml')).headers.get('content-type')),
    ).toMatch(/graphml\+xml/);
  });
  test('is printed with title, date and survey', async () => {
    await open('/print/map?over=spare+ways');
    await see(page, /As of .*, survey 8, coloured by spare ways\. \d+ devices, \d+ links\./);
    await page.waitForSelector('.printedmap svg');
    await see(page, 'What is wrong on it');
    expect(await accessibilityProblems(page)).toEqual([]);
    expect(
      Buffer.from(await page.pdf({ landscape: true, format: 'A3' }))
        .toString('latin1')
        .slice(0, 5),
    ).toBe('%PDF-');
  });
});

describe('hosts', () => {
  test('are told from their machines down to the ports of switches, with what is wrong on the way', async () => {
    await open('/map?of=hosts');
    await see(page, 'sgh-acc-2 15 does not carry VLAN 20 (TICKET): vm-depot-1 is cut off when eth1 is the way');
    await see(page, 'one works, one waits');
    const wrong = () => page.$$eval('.ladderdrawing .line.wrong', (lines) => lines.length);
    expect(await wrong()).toBe(2);
    await page.focus('.hostlist button[aria-current]');
    await page.keyboard.press('ArrowDown');
    await see(page, 'both uplinks of vswitch0 end on sgh-acc-2 (eth0 on 8 and eth1 on 16)');
    const { rows } = (await page.evaluate(async () => (await fetch('/api/v1/hosts')).json())) as {
      rows: { id: string; host: string }[];
    };
    const chosen = rows.find(({ host }) => host === 'sgh-srv-04')?.id;
    expect([await wrong(), new URL(page.url()).searchParams.get('host')]).toEqual([4, chosen]);
    expect(await accessibilityProblems(page)).toEqual([]);
    await click(page, '.ladderdrawing [role=button]');
    await page.waitForSelector('[aria-label="Port"]');
    await see(page, 'sgh-acc-2');
    await open('/map?of=hosts&host=nobody');
    await see(page, 'No host called “nobody” has machines or bundles at this survey.');
  });
});

describe('the fabric', () => {
  test('is told from spines to tenants, and from an address to its group and port', async () => {
    await open('/map?of=fabric');
    await see(page, '13 endpoints');
    for (const words of ['sgh-spine-1', 'leaf, 3 endpoints', 'bd-cards', '10.72.42.1/24', 'payment'])
      await see(page, words);
    expect(await accessibilityProblems(page)).toEqual([]);
    await press(page, 'payment');
    await see(page, '3 endpoints of payment of tenant ticketing');
    await press(page, 'all of the fabric');
    await fill(page, 'input[aria-label="Find in the fabric"]', '10.72.41.12');
    await see(
      page,
      /10\.72\.41\.1\/24 is the gateway of bd-cctv in virtual router main of tenant operations, with group recorders/,
    );
    await page.waitForFunction(() => document.querySelectorAll('.fabric table.plain tbody tr').length === 1);
    await fill(page, 'input[aria-label="Find in the fabric"]', 'nothing-of-that');
    await see(page, 'Nothing in the fabric is, holds or is called “nothing-of-that”.');
    const { rows } = await api<{ rows: { tenant: string; fabricGroup: string; endpointGroup: string }[] }>(
      'endpoints?where=addresses=10.72.42.11&columns=tenant,fabricGroup,endpointGroup',
    );
    expect(rows[0]).toMatchObject({ tenant: 'ticketing', fabricGroup: 'payment', endpointGroup: 'payment' });
  });
});

test('no page of it logged an error', () => expect(errors).toEqual([]));
