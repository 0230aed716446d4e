// covers: src/ui/firmware src/server/firmware src/core/firmware
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Browser, Page } from 'puppeteer-core';
import { ostermere } from '../src/sim/ostermere/estate';
import { addPerson } from '../src/store/people';
import { addToken } from '../src/store/tokens';
import { startApplication, type Application } from './support/application';
import { accessibilityProblems, click, fill, launchBrowser, openPage, openWhole, press, see } from './support/browser';
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

const put = async (what: string, method: string, body?: unknown) => {
  const response = await fetch(`${app.address}/api/v1/${what}`, {
    method,
    headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  return { status: response.status, body: (await response.json()) as Record<string, unknown> & { rows?: never[] } };
};

test('a target is set with why, for a filter, in stages; a wrong filter is told at its field', async () => {
  await openWhole(page, `${app.address}/firmware?of=targets`);
  await see(page, 'No target is set yet');
  await press(page, 'Set a target');
  const choose = async (field: string, choice: string) => {
    await click(page, `:has(> input[name="target.${field}"]) > [role=combobox]`);
    await press(page, choice);
    await page.waitForSelector('[role=option]', { hidden: true });
  };
  await choose('line', 'Kestrane K-Access, system');
  await choose('release', '7.4.12b, 2026-06-16');
  await fill(page, 'input[name="target.why"]', 'mends the frame that restarts a switch');
  await press(page, 'Who goes first: all at once');
  await fill(page, '.panel input[name="target.tryOutDays"]', 'some');
  await press(page, 'Set the target');
  await see(page, 'A number of days, up to 365');
  await fill(page, '.panel input[name="target.tryOutDays"]', '7');
  await press(page, 'Set the target');
  await see(page, 'The target is set.');
  await see(page, 'mends the frame that restarts a switch');
  expect(await accessibilityProblems(page)).toEqual([]);
  const target = { vendor: 'Kestrane', family: 'K-Access', release: '7.4.12b' };
  const judged = async () =>
    (
      await asked<{ rows: { device: string; stage: string; verdict: string; why: string }[] }>(
        'readiness?size=200&where=family%3DK-Access',
      )
    ).rows.filter(({ verdict }) => verdict !== 'already there');
  const [first, ...rest] = await judged();
  expect(rest.length).toBeGreaterThan(0);
  const stages = [{ name: 'try-out', where: `name=${first?.device}`, days: 7 }];
  const wrong = await put('targets', 'PUT', { ...target, stages: [{ ...stages[0], where: 'flashFreeBytes>1' }] });
  expect(wrong.body).toMatchObject({ errors: [{ path: 'stages[0].where' }] });
  expect((await put('targets', 'PUT', { ...target, stages })).status).toBe(200);
  for (const { device, stage, why } of await judged())
    if (device === first?.device) expect([stage, why]).toEqual(['try-out', expect.not.stringContaining('waits for')]);
    else expect([stage, why]).toEqual(['rest', expect.stringMatching(/waits for the try-out: 0 of 1 run 7\.4\.12b/)]);
});

test('a target that was withdrawn does not look well: it is told on its own page and where one begins the day', async () => {
  const target = { vendor: 'Kestrane', family: 'K-Access', release: '7.4.11' };
  expect((await put('targets', 'PUT', target)).status).toBe(200);
  const { attention } = await asked<{ attention: { kind: string; words: string }[] }>('today');
  const words = attention.filter(({ kind }) => kind === 'target').map((one) => one.words);
  expect(words).toEqual([
    expect.stringMatching(/^The target 7\.4\.11 of K-Access is to be looked at, for \d+ .*withdrawn/),
  ]);
  await openWhole(page, `${app.address}/firmware?of=targets`);
  await see(page, 'withdrawn or ended');
  expect((await put('targets', 'PUT', { ...target, release: '7.4.12b' })).status).toBe(200);
});

test('what if: what holds devices back is done away with, and it is told how many become ready', async () => {
  interface Outlook {
    verdicts: { verdict: string; now: number; then: number }[];
    obstacles: { kind: string; held: number }[];
    becoming: number;
  }
  const { obstacles } = await asked<Outlook>('readiness-outlook');
  const kinds = obstacles.map(({ kind }) => kind);
  expect(kinds.length).toBeGreaterThan(0);
  const all = await asked<Outlook>(`readiness-outlook?done=${kinds.join(',')}`);
  expect(
    all.verdicts.filter(({ verdict, then }) => verdict !== 'ready' && verdict !== 'already there' && then > 0),
  ).toEqual([]);
  expect(all.becoming).toBeGreaterThan(0);
  expect((await put('readiness-outlook?done=luck', 'GET')).body).toMatchObject({ errors: [{ path: 'done' }] });
  await openWhole(page, `${app.address}/firmware`);
  await press(page, 'As one picture');
  const blocked = await asked<{ total: number }>('readiness?where=verdict%3Dblocked');
  await page.waitForSelector(`.standingchart [role=button][aria-label="blocked: ${blocked.total}"]`);
  expect(await accessibilityProblems(page)).toEqual([]);
  await press(page, 'As bars');
  await press(page, 'What if');
  await see(page, 'If there were');
  expect(await accessibilityProblems(page)).toEqual([]);
  // what comes with each answer moves those that are below
  for (const box of await page.$$('section[aria-label="What would be done"] input[type=checkbox]'))
    await box.evaluate((input) => (input as HTMLInputElement).click());
  await see(page, all.becoming === 1 ? 'One becomes ready' : `${all.becoming} become ready`);
});

test('a draft shows what it would change before it is in force, and is taken back as one', async () => {
  const draft = { vendor: 'Kestrane', family: 'K-Access', release: '7.6.1', draft: 'spring', why: 'voice' };
  expect((await put('targets', 'PUT', draft)).status).toBe(200);
  const before = await asked<{ rows: { release: string }[] }>('targets');
  await openWhole(page, `${app.address}/firmware?of=targets`);
  await page.waitForSelector('select[aria-label="Which targets"] option[value=spring]');
  await page.select('select[aria-label="Which targets"]', 'spring');
  await see(page, 'It would change');
  await see(page, 'memory is 512 MB, 7.6.1 needs 1 GB');
  expect(await accessibilityProblems(page)).toEqual([]);
  // nothing is otherwise yet
  expect(await asked('targets')).toMatchObject({ rows: before.rows });
  await press(page, 'Put it in force');
  await see(page, 'spring is in force.');
  expect((await asked<{ rows: { release: string }[] }>('targets')).rows.map(({ release }) => release)).toEqual([
    '7.6.1',
  ]);
  await press(page, 'Undo');
  await see(page, 'taken back');
  expect((await asked<{ rows: { release: string }[] }>('targets')).rows.map(({ release }) => release)).toEqual([
    '7.4.12b',
  ]);
  expect((await asked<{ rows: { name: string }[] }>('target-drafts')).rows).toMatchObject([{ name: 'spring' }]);
});

test('advisories come in as their makers publish them, and whoever runs an affected release is told', async () => {
  const entry = (fixed: string) => ({
    ...{ id: 'KS-2026-04', modified: '2026-06-16T08:00:00Z', summary: 'A frame that restarts a switch' },
    affected: [
      {
        package: { ecosystem: 'Kestrane', name: 'K-Access' },
        ranges: [{ type: 'ECOSYSTEM', events: [{ introduced: '0' }, { fixed }] }],
      },
    ],
  });
  const wrong = await put('imports/advisories', 'POST', { csv: JSON.stringify([{ id: 'x', modified: 'yesterday' }]) });
  expect(wrong.body).toMatchObject({ errors: [{ path: 'line 1', message: 'modified is no moment' }] });
  const file = path.join(sample.store.folder, 'advisory.json');
  writeFileSync(file, JSON.stringify(entry('7.4.12b')));
  expect((await bolide(['import', 'advisories', file, '--data', sample.store.folder])).err).toContain('1 new');
  const runs = await saying('K-Access', 8);
  const affected = Object.entries(runs).reduce((sum, [release, count]) => sum + (release === '7.4.12b' ? 0 : count), 0);
  const { rows } = await asked<{ rows: { number: string; exposed: number }[] }>('advisories');
  expect(rows).toMatchObject([{ number: 'KS-2026-04', exposed: affected }]);
  const told = await bolide(['export', 'advisories', '--data', sample.store.folder]);
  expect(JSON.parse(told.out)).toMatchObject([{ number: 'KS-2026-04', exposed: affected }]);
  await openWhole(page, `${app.address}/firmware?of=advisories`);
  await see(page, 'A frame that restarts a switch');
  expect(await accessibilityProblems(page)).toEqual([]);
  const { total } = await asked<{ total: number }>('exposures?where=number%3DKS-2026-04');
  expect(total).toBe(affected);
});

test('the catalogue goes out and comes in again, as YAML too', async () => {
  const out = await bolide(['export', 'releases', '--format', 'yaml', '--data', sample.store.folder]);
  const file = path.join(sample.store.folder, 'releases.yaml');
  writeFileSync(file, out.out.replace('published: 2026-06-16', 'published: 2026-06-17'));
  const dry = await bolide(['import', 'catalogue', file, '--data', sample.store.folder, '--dry-run']);
  const { total } = await asked<{ total: number }>('catalogue');
  expect(dry.err).toMatch(new RegExp(`${total} releases: 0 new, 1 changed`));
});

test('waves are worked out, by the page, the command line and the API alike; a wave that is moved is looked at again', async () => {
  const windows = [1, 8].map((days) => {
    const start = new Date(Date.now() + days * 86_400_000);
    return { start: start.toISOString(), end: new Date(start.getTime() + 6 * 3_600_000).toISOString() };
  });
  const where = 'name=sgh-core-1 or name=sgh-core-2 or family=K-Ring';
  interface Told {
    waves: { start: string; end: string; devices: string[] }[];
    unplaced: { device: string; why: string }[];
  }
  const { body } = await put('waves', 'POST', { where, windows, crew: 4 });
  const { waves, unplaced } = body as unknown as Told;
  expect(unplaced).toEqual([]);
  for (const { devices } of waves) {
    expect(devices.length).toBeLessThanOrEqual(4);
    expect(devices.filter((name) => name.startsWith('sgh-core')).length).toBeLessThan(2);
    const told = await bolide(['rehearse', '--json', '--data', sample.store.folder, '--down', devices.join(',')]);
    const { lost } = JSON.parse(told.out) as { lost: { kind: string }[] };
    expect(lost.filter(({ kind }) => kind === 'application')).toEqual([]);
  }
  const file = path.join(sample.store.folder, 'windows.json');
  writeFileSync(file, JSON.stringify(windows));
  const asCommand = [
    'waves',
    '--json',
    '--data',
    sample.store.folder,
    '--where',
    where,
    '--windows',
    file,
    '--crew',
    '4',
  ];
  const told = JSON.parse((await bolide(asCommand)).out) as Told;
  expect(told.waves.map(({ devices }) => devices)).toEqual(waves.map(({ devices }) => devices));
  const wrong = await put('waves', 'POST', { windows: [{ start: 'soon', end: 'later' }] });
  expect(wrong.body).toMatchObject({ errors: [{ path: 'windows' }] });
  const calendar = await fetch(`${app.address}/api/v1/waves`, {
    method: 'POST',
    headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
    body: JSON.stringify({ where, windows, crew: 4, format: 'ics' }),
  });
  expect((await calendar.text()).match(/BEGIN:VEVENT/g)).toHaveLength(waves.length);

  await openWhole(page, `${app.address}/firmware?of=waves`);
  await see(page, 'Which devices may be away at the same time?');
  await fill(page, '.panel [role=combobox]', 'name=sgh-core-1 or name=sgh-core-2');
  await press(page, 'Work the waves out');
  await see(page, '2 devices in 2 waves');
  expect(await accessibilityProblems(page)).toEqual([]);
  await press(page, 'Write them down as works');
  await see(page, '2 planned works written down');
  const works = (await asked<{ rows: { id: number; title: string; things: string[] }[] }>('works')).rows;
  const wave = works.find(({ title }) => title.endsWith('wave 1'));
  expect(wave?.things).toHaveLength(1);
  const rehearsed = await bolide(['rehearse', '--json', '--data', sample.store.folder, '--down', `wave:${wave?.id}`]);
  expect((JSON.parse(rehearsed.out) as { down: string[] }).down).toEqual([expect.stringContaining('sgh-core-')]);
  await press(page, 'Undo');
  await see(page, 'taken back');
  expect(
    (await asked<{ rows: { title: string }[] }>('works')).rows.filter(({ title }) => title.includes('wave')),
  ).toEqual([]);
  const [first = ''] = await page.$$eval('.waves section td:first-child', (cells) =>
    cells.map((cell) => cell.textContent),
  );
  await page.select(`select[aria-label="Wave of ${first}"]`, '1');
  await see(page, 'hangs directly on');
  await see(page, '2 devices in 1 wave,');
  expect(errors).toEqual([]);
});

test('the command line tells the same', async () => {
  const { total } = await asked<{ total: number }>('components?size=1');
  const told = await bolide(['export', 'components', '--data', sample.store.folder]);
  const rows = JSON.parse(told.out) as { device: string; component: string; release: string }[];
  expect(rows).toHaveLength(total);
  expect(rows.every(({ device, component, release }) => device && component && release)).toBe(true);
});
