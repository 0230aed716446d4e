// covers: src/ui/firmware src/server/firmware src/core/firmware
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Browser, Page } from 'puppeteer-core';
import { ostermere } from '../src/sim/ostermere/estate';
import { addPerson } from '../src/store/people';
import { addToken } from '../src/store/tokens';
import { startApplication, type Application } from './support/application';
import { accessibilityProblems, fill, launchBrowser, openPage, openWhole, press, see } from './support/browser';
import { bolide, stopAll } from './support/program';
import { openSample, type SampleStore } from './support/sampleStore';

/** What runs where: asked in the browser, held against the devices as they were simulated. */
let sample: SampleStore;
let app: Application;
let browser: Browser;
let page: Page;
let errors: string[];
let token: string;
const brenna = { name: 'brenna', password: 'glasshouse-lane-3' };

beforeAll(async () => {
  sample = await openSample({ steps: [1, 8] });
  await addPerson(sample.store.db, brenna.name, brenna.password, 'operator');
  const schemes = path.join(sample.store.folder, 'schemes');
  mkdirSync(schemes);
  writeFileSync(path.join(schemes, 'winters.json'), JSON.stringify({ id: 'winter', name: 'Winters', form: 'w<year' }));
  token = addToken(sample.store.db, { name: 'test', role: 'operator' });
  [app, browser] = await Promise.all([startApplication(sample.store.folder), launchBrowser()]);
  ({ page, errors } = await openPage(browser));
  await openWhole(page, `${app.address}/login`);
  await fill(page, 'input[name=name]', brenna.name);
  await fill(page, 'input[name=password]', brenna.password);
  await page.keyboard.press('Enter');
  await see(page, 'viewing the latest');
});
afterAll(async () => {
  await browser?.close();
  await stopAll();
  sample.close();
});

const asked = async <Answer>(what: string): Promise<Answer> =>
  (await (
    await fetch(`${app.address}/api/v1/${what}`, { headers: { authorization: `Bearer ${token}` } })
  ).json()) as Answer;

/** By release: how many devices of a family say so of themselves, of those that were surveyed. */
async function saying(family: string, step: number, survey?: number): Promise<Record<string, number>> {
  const at = survey === undefined ? '' : `&survey=${survey}`;
  const { rows } = await asked<{ rows: { name: string; state: string }[] }>(`devices?size=1000${at}`);
  // of what does not answer any more is known what it said at the first
  const said = (nth: number) => new Map(ostermere(nth).devices.map(({ name, description }) => [name, description]));
  const [first, now] = [said(1), said(step)];
  const counts: Record<string, number> = {};
  for (const { name, state } of rows) {
    const description = (state === 'silent' ? undefined : now.get(name)) ?? first.get(name) ?? '';
    const release = description.includes(family) ? /release ([^,\s]+)/.exec(description)?.[1] : undefined;
    if (release) counts[release] = (counts[release] ?? 0) + 1;
  }
  return counts;
}

interface Ladders {
  ladders: {
    product: string;
    component: string;
    scheme: string | null;
    spread: number;
    rungs: { release: string; count: number; before: number | null; targetOf: string[] }[];
  }[];
}

test('what runs is what the devices say of themselves, at either end of the story', async () => {
  const surveys = await asked<{ rows: { id: number }[] }>('surveys');
  const first = Math.min(...surveys.rows.map(({ id }) => id));
  const { ladders } = await asked<Ladders>(`release-ladders?against=${first}`);
  for (const family of ['K-Access', 'K-Ring', 'K-Core']) {
    const own = ladders.find(({ product, component }) => product === family && component === 'system');
    const running = (field: 'count' | 'before') =>
      Object.fromEntries((own?.rungs ?? []).flatMap((rung) => (rung[field] ? [[rung.release, rung[field]]] : [])));
    const now = await saying(family, 8);
    expect(Object.keys(now).length).toBeGreaterThan(0);
    expect([family, running('count')]).toEqual([family, now]);
    expect([family, running('before')]).toEqual([family, await saying(family, 1, first)]);
    expect(own?.spread).toBe(Object.keys(now).length);
  }
  const servers = ladders.filter(({ component }) => component === 'management controller');
  expect(servers.map(({ rungs }) => rungs.map(({ release }) => release))).toEqual([['3.08', '3.11']]);
  const access = ladders.find(({ product, component }) => product === 'K-Access' && component === 'system');
  expect(access?.scheme).toBe('Numbers, and a letter for what was mended');
});

test('each family stands on a line of its releases; a press shows who runs one', async () => {
  await openWhole(page, `${app.address}/firmware`);
  await press(page, 'What runs');
  await see(page, 'lines of releases');
  const [release = '', count = 0] = Object.entries(await saying('K-Access', 8))[0] ?? [];
  const rung = `.releaselines [role=button][aria-label^="K-Access system ${release}: ${count} run"]`;
  await page.waitForSelector(rung);
  expect(await accessibilityProblems(page)).toEqual([]);
  await page.$eval(rung, (one) => (one as SVGGElement).focus());
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => new URL(window.location.href).searchParams.has('where'));
  const where = new URL(page.url()).searchParams.get('where') ?? '';
  const { total } = await asked<{ total: number }>(`components?where=${encodeURIComponent(where)}`);
  expect(total).toBe(count);
  expect(errors).toEqual([]);
});

test('what is looked for is found, and what is not is said', async () => {
  await openWhole(page, `${app.address}/firmware?of=runs`);
  await see(page, 'lines of releases');
  await fill(page, '.titleline input', 'k-ring');
  await see(page, 'K-Ring');
  expect(await page.$$eval('.releaseline', (all) => all.length)).toBe(
    (await asked<Ladders>('release-ladders')).ladders.filter(({ product }) => product === 'K-Ring').length,
  );
  await fill(page, '.titleline input', 'nothing of the kind');
  await see(page, 'No family, component or release has “nothing of the kind” in it.');
});

test('a scheme that cannot be read is told where releases stand, and the others hold', async () => {
  await openWhole(page, `${app.address}/firmware?of=runs`);
  await see(page, 'A scheme of releases beside the data is not used: winters.json: winter: ');
  await see(page, 'numbers, and a letter for what was mended');
});

test('the command line tells the same', async () => {
  const { total } = await asked<{ total: number }>('components?size=1');
  const told = await bolide(['export', 'components', '--data', sample.store.folder]);
  const rows = JSON.parse(told.out) as { device: string; component: string; release: string }[];
  expect(rows).toHaveLength(total);
  expect(rows.every(({ device, component, release }) => device && component && release)).toBe(true);
});
