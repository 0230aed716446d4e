// covers: src/ui/dependencies src/server/dependencies src/core/dependency src/core/applications src/core/services src/cli/commands/rehearse
import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals';
import type { Browser, Page } from 'puppeteer-core';
import { writeDemoTalk } from '../src/cli/demoTalk';
import { ostermere } from '../src/sim/ostermere/estate';
import { talkTruth } from '../src/sim/ostermere/talk';
import { addPerson } from '../src/store/people';
import { openStore } from '../src/store/base/database';
import { sampleTickets } from '../src/sim/ostermere/tickets';
import { TicketStand } from '../src/sim/tickets/ticketStand';
import { addToken } from '../src/store/tokens';
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
import { bolide, stopAll } from './support/program';
import { openSample, type SampleStore } from './support/sampleStore';

/** What stops if we take this box away, and what do several that are down share: asked in the browser, held against the network as it was simulated. */
let sample: SampleStore;
let app: Application;
let browser: Browser;
let page: Page;
let errors: string[];
let token: string;
const brenna = { name: 'brenna', password: 'glasshouse-lane-3' };

beforeAll(async () => {
  sample = await openSample({ steps: [1, 8] });
  const { db } = sample.store;
  await addPerson(db, brenna.name, brenna.password, 'operator');
  token = addToken(db, { name: 'test', role: 'operator' });
  await writeDemoTalk(sample.store, brenna.name, new Date());
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
beforeEach(async () => {
  await openWhole(page, `${app.address}/dependencies?of=rehearse`);
});

const asked = async <Answer>(what: string, init: RequestInit = {}): Promise<Answer> =>
  (await (
    await fetch(`${app.address}/api/v1/${what}`, {
      ...init,
      headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
    })
  ).json()) as Answer;
interface Told {
  kind: string;
  id: string;
  name: string;
  why: string;
}
interface Rehearsed {
  survey: number;
  lost: Told[];
  degraded: (Told & { spare: string })[];
  untouched: Record<string, number>;
}

/** Devices that reach the rest of their network no more without some, by the cables that are really up between those that were surveyed. */
function cutOffBy(down: readonly string[], known: ReadonlySet<string>): string[] {
  const { devices: answering, cables } = ostermere(8);
  // what is silent is known as it was
  const devices = [
    ...answering,
    ...ostermere(1).devices.filter(({ name }) => !answering.some((one) => one.name === name)),
  ];
  const hostOf = new Map(devices.flatMap(({ name, machines = [] }) => machines.map((one) => [one.name, name])));
  const up = new Set(
    devices.flatMap(({ name, ports }) =>
      ports.filter(({ oper }) => oper === 'up').map((port) => `${name} ${port.name}`),
    ),
  );
  /** who reaches whom, by a device of the network in question */
  const around = (from: string, gone: ReadonlySet<string>) => {
    const reached = new Set([from]);
    for (const at of reached)
      // a server on two switches is no way between them
      for (const { a, b } of /-srv-\d+$/.test(at) ? [] : cables)
        for (const [from, to] of [
          [a, b],
          [b, a],
        ] as const)
          if (
            from.device === at &&
            !gone.has(to.device) &&
            known.has(to.device) &&
            up.has(`${from.device} ${from.port}`) &&
            up.has(`${to.device} ${to.port}`)
          )
            reached.add(to.device);
    for (const [machine, host] of hostOf) if (reached.has(host) && known.has(machine)) reached.add(machine);
    return reached;
  };
  const before = around(down[0] ?? '', new Set());
  // what stays is the largest piece of the network that they stood in
  const pieces = [...before]
    .filter((one) => !down.includes(one) && !hostOf.has(one) && !/-srv-\d+$/.test(one))
    .map((one) => around(one, new Set(down)));
  const after = pieces.reduce((best, piece) => (piece.size > best.size ? piece : best), new Set<string>());
  // machines of a host that is down start again on the other, which has room
  const gone = (name: string) => !after.has(name) && !down.includes(name) && !down.includes(hostOf.get(name) ?? '');
  return [...before].filter((name) => gone(name) && known.has(name)).sort();
}

const name = async (label: string, ...texts: string[]) => {
  for (const text of texts) {
    await click(page, `[role=combobox][id="${await fieldId(label)}"]`);
    await page.keyboard.type(text);
    await page.waitForFunction(
      (wanted) => document.querySelector('[role=option].Mui-focused')?.textContent?.startsWith(wanted),
      {},
      text,
    );
    await page.keyboard.press('Enter');
  }
};
const fieldId = (label: string) =>
  page
    .waitForFunction(
      (wanted) => {
        const found = [...document.querySelectorAll('label')].find((one) => one.textContent?.startsWith(wanted));
        return found?.htmlFor || null;
      },
      {},
      label,
    )
    .then((found) => found.jsonValue() as Promise<string>);
const verdict = () => page.$eval('.verdict', (section) => (section as HTMLElement).innerText.replace(/\s+/g, ' '));

test('what stops if we take this box away: what is lost is what the cables say, and it is told in a sentence', async () => {
  const known = new Set((await asked<{ rows: { name: string }[] }>('devices?size=1000')).rows.map((row) => row.name));
  const lost = cutOffBy(['lqy-ring'], known);
  expect(lost.length).toBeGreaterThan(1);
  const told = await asked<Rehearsed>('rehearsal?down=lqy-ring');
  expect(
    told.lost
      .filter(({ kind }) => kind === 'device')
      .map((one) => one.name)
      .sort(),
  ).toEqual(lost);
  await name('What goes down', 'lqy-ring');
  await see(page, `${lost.length} devices and`);
  await see(page, 'reach the rest of the network only over lqy-ring');
  expect(new URL(page.url()).searchParams.get('down')).toMatch(/^device:\d+$/);
  // the proof is one press away
  await press(page, lost[0] ?? '');
  await page.waitForSelector('.panel');
  expect(await accessibilityProblems(page)).toEqual([]);
});

test('what stands alone is told before anything is named, what costs most first', async () => {
  const { rows } = await asked<{
    rows: { kind: string; name: string; applications: { criticality: string }[]; devices: number }[];
  }>('single-stops');
  // nothing stands in for what tram tracking runs on
  expect(rows[0]).toMatchObject({ kind: 'device', name: 'sgh-srv-03' });
  const known = new Set((await asked<{ rows: { name: string }[] }>('devices?size=1000')).rows.map((row) => row.name));
  for (const { kind, name: one } of rows.filter((row) => row.kind === 'device' && row.devices > 0)) {
    const { lost } = await asked<Rehearsed>(`rehearsal?down=${one}&endpoints=no`);
    // leaves are joined by spines too, which only the controller of the fabric tells of
    const others = (names: string[]) => names.filter((own) => !own.includes('-leaf-')).sort();
    const names = lost.filter((row) => row.kind === 'device').map((row) => row.name);
    expect([kind, one, others(names)]).toEqual([kind, one, others(cutOffBy([one], known))]);
  }
  await see(page, 'What stands alone, what costs most first');
  await press(page, 'Rehearse sgh-srv-03');
  await see(page, 'would be lost');
});

test('the dossier tells what would be lost with a device, and leads to its rehearsal', async () => {
  const { rows } = await asked<{ rows: { id: string }[] }>('devices?where=name%3Dsgh-srv-03');
  await openWhole(page, `${app.address}/estate/${rows[0]?.id}`);
  await see(page, 'Tram Tracking would be lost: its tramtrack is lost on sgh-srv-03');
  await see(page, '3 virtual machines on it; 3 would start again elsewhere');
  await press(page, 'rehearse its loss');
  await see(page, 'Whom to tell');
  expect(new URL(page.url()).searchParams.get('down')).toBe(`device:${rows[0]?.id}`);
});

test('both halves of a pair: an application is lost with the second, by name and with whom to tell', async () => {
  await name('What goes down', 'sgh-srv-01');
  await see(page, 'would lose a spare');
  expect(await verdict()).toContain('Whom to tell');
  await name('What goes down', 'sgh-srv-02');
  await see(page, /applications? and \d+ services would be lost/);
  expect(await verdict()).toMatch(/Ticketing.*its (fareweb|tallydb) is lost on sgh-srv-01 and sgh-srv-02/);
  // another plan beside it: what only one of them costs is marked
  await press(page, 'Compare with another plan');
  await name('Plan 2', 'sgh-srv-03');
  await page.waitForFunction(() => document.querySelectorAll('.verdict').length === 2);
  expect(await page.$$eval('.verdict .mark', (marks) => marks.length)).toBeGreaterThan(0);
});

test('what a lost thing rests on is told beside the work, each edge with its evidence, from one to the next', async () => {
  await name('What goes down', 'sgh-srv-01');
  await see(page, 'would lose a spare');
  await press(page, 'tallydb on sgh-srv-02');
  await see(page, 'Keeps a copy with tallydb on sgh-srv-01, and the other way round');
  await press(page, 'how it is known');
  await see(page, 'the same process, and they talk to each other');
  await see(page, /tcp\/5501, last seen \d{4}-\d\d-\d\d, in \d+ surveys/);
  expect(await accessibilityProblems(page)).toEqual([]);
  // from a service to its host, and what that is attached to
  await page.$eval('.panel', (panel) => {
    const found = [...panel.querySelectorAll('button')].find((one) => one.textContent === 'sgh-srv-02');
    found?.click();
  });
  await see(page, 'Attached to sgh-acc-2');
  interface Rests {
    rests: { kind: string; atLeast: number; on: { name: string; proof: string[]; seen: string }[] }[];
    services: { of: { name: string }; rests: { kind: string }[] }[];
  }
  const host = await asked<Rests>('rests-on?of=sgh-srv-02');
  const [attached] = host.rests.filter(({ kind }) => kind === 'attached to');
  expect(attached?.on[0]?.proof[0]).toMatch(/^sgh-acc-2 .* – sgh-srv-02 eth0, (confirmed|concluded): /);
  expect(attached?.on[0]?.seen).toMatch(/^\d{4}-/);
  expect(host.services.map(({ of }) => of.name)).toContain('tallydb on sgh-srv-02');
  // every edge has its evidence, whatever rests on what
  const { lost } = await asked<Rehearsed>('rehearsal?down=site%3ASGH&endpoints=no');
  const several = lost.filter(({ kind }) => kind !== 'device').slice(0, 20);
  expect(several.length).toBeGreaterThan(10);
  for (const { kind, id } of several) {
    const { rests } = await asked<Rests>(`rests-on?of=${encodeURIComponent(`${kind}:${id}`)}`);
    expect(rests.length).toBeGreaterThan(0);
    expect(rests.flatMap(({ on }) => on.filter(({ proof }) => proof.length === 0))).toEqual([]);
  }
  // a letter wrong: what may be meant is told
  const nearly = await asked<{ errors: { path: string; message: string }[] }>('rehearsal?down=sgh-srv-0z');
  expect(nearly.errors[0]?.message).toContain('nothing is called so at this survey; there is sgh-srv-01, sgh-srv-02');
  const nobody = await asked<{ errors: { path: string }[] }>('rests-on?of=nobody-1');
  expect(nobody.errors.map(({ path }) => path)).toEqual(['of']);
});

test('a planned work is seen from everything that would be lost with it', async () => {
  await name('What goes down', 'lqy-ring');
  await see(page, 'would be lost');
  await press(page, 'Write it down as a planned work or incident');
  await fill(page, 'input[name="work.title"]', 'New supplies at Lantern Quay');
  await press(page, 'Write it down');
  await see(page, 'planned work, now');
  const { rows } = await asked<{ rows: { id: string; name: string }[] }>('devices?where=name%3Dlqy-plat');
  await openWhole(page, `${app.address}/estate?sel=device:${rows[0]?.id}`);
  await see(page, 'New supplies at Lantern Quay');
  await see(page, 'During it it would be lost: reaches the rest of the network only over lqy-ring');
  // what it is on can be rehearsed by its number
  const { rows: works } = await asked<{ rows: { id: number; title: string }[] }>('works');
  const work = works.find(({ title }) => title === 'New supplies at Lantern Quay');
  const [byWork, byName] = await Promise.all([
    asked<Rehearsed>(`rehearsal?down=work%3A${work?.id}`),
    asked<Rehearsed>('rehearsal?down=lqy-ring'),
  ]);
  expect(byWork.lost).toEqual(byName.lost);
  expect(byWork.lost.length).toBeGreaterThan(0);
  const none = await asked<{ errors: { message: string }[] }>('rehearsal?down=work%3A9999');
  expect(JSON.stringify(none)).toContain('there is no planned work or incident of this number');
  const wrong = await asked<{ errors: { path: string }[] }>('works', {
    method: 'POST',
    body: JSON.stringify({
      ...{ kind: 'incident', title: 'x', who: '', note: '', things: ['lqy-ring'] },
      ...{ from: '2026-12-01T10:00:00Z', until: '2026-12-01T09:00:00Z' },
    }),
  });
  expect(wrong.errors.map(({ path }) => path)).toEqual(['until']);
});

test('a link alone can be rehearsed, by the port it is on', async () => {
  const { rows } = await asked<{
    rows: { a: { deviceId: number; port: string }; cutsDevices: number | null; from: string; fromPort: string }[];
  }>('links?where=cutsDevices%3E0&size=200');
  // an access point hangs on its one cable
  const link = rows.find(({ from }) => /^lqy-ap-/.test(from));
  if (!link) throw new Error('no access point of the sample hangs on one cable');
  const byPort = await asked<Rehearsed & { down: string[] }>(
    `rehearsal?down=${encodeURIComponent(`port:${link.a.deviceId}:${link.a.port}`)}`,
  );
  expect(byPort.lost.map(({ name: lost }) => lost)).toContain(link.from);
  expect(byPort.down).toEqual([expect.stringContaining(`${link.from} ${link.fromPort}`)]);
  const byName = await asked<Rehearsed>(`rehearsal?down=${encodeURIComponent(`${link.from} ${link.fromPort}`)}`);
  expect(byName.lost).toEqual(byPort.lost);
  await openWhole(page, `${app.address}/dependencies?of=rehearse&down=port:${link.a.deviceId}:${link.a.port}`);
  await see(page, 'would be lost');
  await page.waitForSelector('.outageplate[aria-label$="would be lost"]');
  expect(await accessibilityProblems(page)).toEqual([]);
});

test('tickets of another system arrive over its line, once each, and go as they are withdrawn', async () => {
  const store = openStore(sample.store.folder);
  const token = addToken(store.db, { name: 'tickets', role: 'operator', areas: ['dependencies'] });
  store.close();
  const stand = new TicketStand(app.address, token, 'tickets of the test');
  const quiet = async () => {
    for (let left = 100; !stand.isQuiet && left > 0; left--) await new Promise((resolve) => setTimeout(resolve, 100));
    expect([stand.isQuiet, stand.refusals]).toEqual([true, []]);
  };
  const [change, , outage] = sampleTickets(Date.now());
  if (!change || !outage) throw new Error('the sample has no tickets');
  stand.write({ ...change, affects: ['lqy-ring', 'nothing so called'] });
  stand.write(outage);
  stand.write({ ...outage, assignee: 'somebody else' });
  await quiet();
  const own = async () =>
    (await asked<{ rows: { source: string; number: string; who: string; title: string }[] }>('works')).rows.filter(
      ({ source }) => source === 'tickets of the test',
    );
  expect((await own()).map(({ number, who }) => [number, who]).sort()).toEqual([
    ['CH-4471', 'network team'],
    ['IN-9032', 'somebody else'],
  ]);
  // told again it is the same ticket, and no other edit
  const edits = async () => (await asked<{ total: number }>('edits?of=works')).total;
  const before = await edits();
  stand.write({ ...change, affects: ['lqy-ring', 'nothing so called'] });
  await quiet();
  expect(await edits()).toBe(before);
  await openWhole(page, `${app.address}/dependencies?of=rehearse`);
  await press(page, change.summary);
  await see(page, 'nothing is called so');
  stand.withdraw('CH-4471');
  await quiet();
  expect((await own()).map(({ number }) => number)).toEqual(['IN-9032']);
  stand.withdraw('IN-9032');
  await quiet();
  stand.close();
});

test('what nobody can see is said by people, and an outage is told by it until somebody says it no more', async () => {
  await openWhole(page, `${app.address}/dependencies?of=rehearse&down=lqy-plat`);
  await press(page, 'Say what it rests on');
  await press(page, 'Say so');
  await see(page, 'Say how you know');
  await fill(page, '[name="need.note"]', 'it is fed from there');
  // a name that means nothing is told at its field, and nothing is saved
  await see(page, 'Name at least one thing that it rests on');
  await page.type(`[id="${await fieldId('What it rests on')}"]`, 'nothing so called\n');
  await press(page, 'Say so');
  await see(page, '“nothing so called”: nothing is called so at this survey');
  await page.keyboard.press('Escape');
  await page.click(`[id="${await fieldId('What it rests on')}"]`);
  await page.keyboard.press('Backspace');
  await name('What it rests on', 'sgh-core-2');
  await press(page, 'Say so');
  await see(page, 'lqy-plat rests on sgh-core-2');
  const told = await asked<Rehearsed>('rehearsal?down=sgh-core-2');
  expect(told.lost.find(({ name }) => name === 'lqy-plat')?.why).toContain('it is fed from there');
  expect(await accessibilityProblems(page)).toEqual([]);
  // a review that is due is answered with a press
  const { rows: said } = await asked<{ rows: { id: number; of: string; from: string[]; reviewOn: string | null }[] }>(
    'dependences',
  );
  const [own] = said;
  if (!own) throw new Error('what was said is not there');
  const body = {
    of: own.of,
    from: own.from,
    atLeast: 1,
    kind: 'stated',
    note: 'it is fed from there',
    reviewOn: '2026-01-01',
  };
  await asked(`dependences/${own.id}`, { method: 'PUT', body: JSON.stringify(body) });
  await openWhole(page, `${app.address}/dependencies?of=rehearse&down=lqy-plat`);
  await press(page, 'It is still so: lqy-plat');
  await page.waitForFunction(() => !document.body.innerText.includes('to be asked again since'));
  const { rows: anew } = await asked<{ rows: { reviewOn: string; isDue: boolean }[] }>('dependences');
  expect(anew).toEqual([expect.objectContaining({ isDue: false })]);
  await press(page, 'Say it no more: lqy-plat');
  await page.waitForFunction(() => !document.body.innerText.includes('lqy-plat rests on sgh-core-2'));
  expect((await asked<Rehearsed>('rehearsal?down=sgh-core-2')).lost.some(({ name }) => name === 'lqy-plat')).toBe(
    false,
  );
});

test('three are down: what they share is suspected first, with what to look at next', async () => {
  await openWhole(page, `${app.address}/dependencies?of=suspects`);
  const lost = cutOffBy(
    ['lqy-plat'],
    new Set((await asked<{ rows: { name: string }[] }>('devices?size=1000')).rows.map((row) => row.name)),
  );
  const seen = lost.length > 1 ? lost.slice(0, 3) : ['lqy-plat', 'rpw-plat'];
  // as they come in a mail
  await click(page, `[role=combobox][id="${await fieldId('What is down')}"]`);
  await page.evaluate((text) => document.execCommand('insertText', false, `${text},`), seen.join(','));
  await see(page, /were down\.|explains most/);
  const first = await page.$eval('.suspects li', (line) => (line as HTMLElement).innerText);
  const [best] = (
    await asked<{ rows: (Told & { explains: string[]; score: number })[] }>(`suspects?down=${seen.join(',')}`)
  ).rows;
  expect(first).toContain(best?.name ?? 'none');
  expect(best?.explains.sort()).toEqual([...seen].sort());
  expect(await accessibilityProblems(page)).toEqual([]);
});

test('what changed on a service is told against it', async () => {
  const down = encodeURIComponent('tallydb on sgh-srv-01');
  const { rows } = await asked<{ rows: { kind: string; name: string; why: string; next: string }[] }>(
    `suspects?down=${down}`,
  );
  // between the surveys the writer became the reader, and the system was renewed
  const own = rows.find(({ kind, name }) => kind === 'service' && name === 'tallydb on sgh-srv-01');
  expect(own?.why).toContain('it changed since the survey before: arguments');
  expect(own?.why).toContain('what is installed with it changed since the survey before: kernel-image');
  expect(own?.next).toBe('Look at what changed on tallydb on sgh-srv-01 since the survey before.');
});

test('what a survey found silent is one press away from what would explain it', async () => {
  await openWhole(page, `${app.address}/dependencies?of=suspects`);
  await press(page, 'One device does not answer: what would explain it?');
  await see(page, 'all that do not answer');
  await see(page, 'ofy-plat');
  const rows = await asked<{ rows: { name: string; explains: string[] }[]; down: string[] }>(
    'suspects?down=state%3Asilent',
  );
  expect(rows.down).toEqual(['ofy-plat']);
  expect(rows.rows.every(({ explains }) => explains.includes('ofy-plat'))).toBe(true);
});

test('who still uses it, and what nobody ordered: a rule is tried and then explains it', async () => {
  await openWhole(page, `${app.address}/dependencies?of=services`);
  await see(page, '1 is explained by no rule');
  await see(page, 'No rule explains it: is it meant to be there?');
  const { port } = talkTruth.unordered;
  await see(page, `tcp/${port}`);
  expect(await accessibilityProblems(page)).toEqual([]);
  await press(page, 'Write a rule that says what it is');
  await fill(page, 'input[name="rule.name"]', 'Test listener');
  await fill(page, 'input[name="rule.id"]', 'test-listener');
  await press(page, 'Try it');
  await see(page, 'Choose a kind');
  await click(page, '[role=combobox][aria-labelledby*="kind"], .MuiSelect-select');
  await press(page, 'management');
  await press(page, 'Try it');
  await see(page, 'It fits 1 listener');
  await press(page, 'Save the rule');
  await page.waitForFunction(() => !document.body.innerText.includes('explained by no rule'));
  const found = await asked<{ rows: { clientAddress: string; lastSeen: string }[] }>(
    `conversations?where=${encodeURIComponent(`serverAddress=${talkTruth.forgotten.server} port=${talkTruth.forgotten.port}`)}`,
  );
  const days = found.rows.map(({ lastSeen }) => Math.round((Date.now() - Date.parse(lastSeen)) / 86_400_000));
  expect(Math.abs((days[0] ?? 0) - talkTruth.forgotten.lastDaysAgo)).toBeLessThanOrEqual(1);
});

test('an application is put together a round at a time, and an outage is told by it', async () => {
  await openWhole(page, `${app.address}/dependencies?of=applications`);
  await press(page, 'Begin an application');
  await fill(page, 'input[name="application.name"]', 'Fares');
  await press(page, 'Begin');
  await see(page, 'What does it begin with?');
  await fill(page, '[aria-label="A word its owner gave"]', 'fareweb');
  await press(page, 'Take in: fareweb on sgh-srv-01');
  await see(page, 'tallydb on sgh-srv-02');
  await press(page, 'Take in: tallydb on sgh-srv-02');
  await see(page, 'At the bottom');
  await see(page, 'any of 2');
  expect(await accessibilityProblems(page)).toEqual([]);
  // drawn as strata, each plate a sentence; the same as a graph
  await page.waitForSelector('.strata .plate[aria-label^="fareweb on sgh-srv-01."]');
  const plates = await page.$$eval('.strata .plate', (all) => all.map((one) => one.getAttribute('aria-label') ?? ''));
  expect(plates.find((words) => words.startsWith('fareweb on sgh-srv-01.'))).toContain('Rests on');
  await page.click('.verdict > details > summary');
  await see(page, 'tallydb taken in');
  await page.select('select[aria-label="How many of tallydb must go on"]', '2');
  await see(page, '2 of tallydb must go on, before 1');
  const rows = await asked<{ rows: { name: string; services: string[] }[] }>('applications');
  expect(rows.rows.find((one) => one.name === 'Fares')?.services).toEqual(['fareweb', 'tallydb']);
  await press(page, 'Rehearse its loss');
  await see(page, 'Rehearse an outage');
  expect(errors).toEqual([]);
});

test('talk: the matrix narrows the table, and what is rare stands out with when it is heard', async () => {
  await openWhole(page, `${app.address}/dependencies`);
  await see(page, 'Rows ask, columns are asked');
  const cells = await page.$$eval('.matrix g[role=button]', (all) => all.map((one) => one.getAttribute('aria-label')));
  expect(cells.some((words) => words?.startsWith('RPW asks SGH: '))).toBe(true);
  await page.$eval('.matrix g[role=button][aria-label^="RPW asks SGH: "]', (one) => (one as SVGGElement).focus());
  await page.keyboard.press('Enter');
  await see(page, 'all talk');
  const wanted = new URL(page.url()).searchParams.get('where') ?? '';
  const { rows, total } = await asked<{ rows: { clientSite: string; serverSite: string }[]; total: number }>(
    `conversations?size=500&where=${encodeURIComponent(wanted)}`,
  );
  expect(total).toBeGreaterThan(0);
  expect(rows.every(({ clientSite, serverSite }) => clientSite === 'RPW' && serverSite === 'SGH')).toBe(true);
  // the same narrowed to one day, by keyboard, and drawn as flows
  await press(page, 'all talk');
  await page.waitForSelector('.daystrip .day[aria-label*="conversation"]');
  await page.$eval('.daystrip .day:last-of-type', (one) => (one as SVGGElement).focus());
  await page.keyboard.press('Enter');
  await see(page, 'every day');
  const day = new URL(page.url()).searchParams.get('past') ?? '';
  const heard = await asked<{ total: number }>(`conversations?size=1&where=heard.day%3D${day}`);
  const { rows: days } = await asked<{ rows: { day: string; conversations: number }[] }>('talk-days');
  expect(heard.total).toBe(days.find((one) => one.day === day)?.conversations);
  await see(page, `${heard.total} conversations`);
  await openWhole(page, `${app.address}/dependencies?pictures=flows&over=kind`);
  await page.waitForSelector('.matrix .band[aria-label*=" asks "]');
  expect(await accessibilityProblems(page)).toEqual([]);
  await press(page, 'not heard for 20 days');
  await see(page, String(talkTruth.forgotten.port));
  await press(page, 'rare talk');
  // what was seen often once and not lately is not rare: the rows are others now
  await page.waitForFunction(
    (port) =>
      ![...document.querySelectorAll('.table .body .row')].some((row) => row.textContent?.includes(port)) &&
      document.querySelector('.table .body .row') !== null,
    {},
    String(talkTruth.forgotten.port),
  );
  await see(page, talkTruth.monthly.server);
  await pressAmong(page, '.table .body .row', '', 0);
  await page.waitForSelector('.panel');
  expect(await accessibilityProblems(page)).toEqual([]);
});

test('circles say who belongs together, and what everybody asks stands apart', async () => {
  await openWhole(page, `${app.address}/dependencies?of=circles`);
  await see(page, 'Asked by everybody');
  await see(page, 'Begin an application from it');
  expect(await accessibilityProblems(page)).toEqual([]);
});

test('the command line tells the same, and says what it does not know', async () => {
  const args = ['--data', sample.store.folder, '--json'];
  const { out } = await bolide(['rehearse', '--down', 'lqy-ring', ...args]);
  const told = await asked<Rehearsed>('rehearsal?down=lqy-ring');
  expect((JSON.parse(out) as Rehearsed).lost).toEqual(told.lost);
  const suspects = await bolide(['suspects', '--down', 'lqy-plat', ...args]);
  expect(JSON.parse(suspects.out)).toEqual(
    expect.arrayContaining([expect.objectContaining({ kind: 'device', name: 'lqy-plat', explains: ['lqy-plat'] })]),
  );
  const wrong = await bolide(['rehearse', '--down', 'lqy-ring,nowhere', ...args]);
  expect([wrong.code, wrong.out, wrong.err]).toEqual([
    2,
    '',
    expect.stringContaining('“nowhere”: nothing is called so'),
  ]);
  for (const thing of ['circles', 'applications', 'services', 'conversations']) {
    const { code, out: rows } = await bolide(['export', thing, '--data', sample.store.folder]);
    expect([thing, code, (JSON.parse(rows) as unknown[]).length > 0]).toEqual([thing, 0, true]);
  }
});
