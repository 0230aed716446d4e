// covers: src/ui/firmware/doing src/server/firmware src/collect/jobs/upgradeJob src/store/upgrades
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Browser, Page } from 'puppeteer-core';
import { readNewImages } from '../src/collect/images/readImages';
import { releaseIn, sampleImageBytes } from '../src/sim/ostermere/images';
import { sampleNetworkUser } from '../src/sim/ostermere/services';
import type { ImageFlash } from '../src/sim/restconf/imageFlash';
import { listActs } from '../src/store/audit';
import { addRelease, readCatalogue } from '../src/store/catalogue';
import { imagesFolder } from '../src/store/images';
import { lastOfKind } from '../src/store/jobs';
import { addPerson } from '../src/store/people';
import { saveTarget } from '../src/store/targets';
import { startApplication, type Application } from './support/application';
import { accessibilityProblems, fill, launchBrowser, openPage, openWhole, press, see } from './support/browser';
import { bolide, freePort, processOf, stopAll } from './support/program';
import { openSample, type SampleStore } from './support/sampleStore';
import { layImage, leaves, restarts, startLeaf, surveyedToAct } from './support/updatedDevices';

/** An upgrade as people do it: one says from where images are fetched, one looks and asks, another approves, and the engine is killed in the middle. */
let sample: SampleStore;
let app: Application;
let browser: Browser;
let page: Page;
let errors: string[];
let flash: ImageFlash;
let close: () => Promise<void>;
const people = { marla: 'administrator', osric: 'operator', wenna: 'viewer' } as const;
const password = 'signal-house-9';
const port = 21_449;

beforeAll(async () => {
  sample = await openSample();
  const { db } = sample.store;
  const leaf = await startLeaf(0, port, releaseIn, 8_000_000);
  ({ flash } = leaf);
  close = () => leaf.service.close();
  await surveyedToAct(sample, [leaves[0]?.address ?? ''], sampleNetworkUser, 'restconf', port);
  for (const [name, role] of Object.entries(people)) await addPerson(db, name, password, role);
  const { hash } = layImage(sample, 'fen-l-5.2.4.bin', sampleImageBytes);
  const entry = readCatalogue(db).find(({ image }) => image === 'fen-l-5.2.4.bin');
  if (!entry) throw new Error('the catalogue has no such release');
  addRelease(db, { ...entry, imageBytes: sampleImageBytes, imageHash: hash });
  await readNewImages(sample.store, () => Date.now() + 60_000);
  saveTarget(db, {
    ...{ vendor: 'Fenmoor', family: 'Fen L', release: '5.2.4', why: 'mends the uplink' },
    ...{ setBy: 'marla', setAt: new Date().toISOString() },
  });
  process.env.BOLIDE_UPGRADE_PACE = '40';
  app = await startApplication(sample.store.folder);
  browser = await launchBrowser();
  ({ page, errors } = await openPage(browser));
});
afterAll(async () => {
  delete process.env.BOLIDE_UPGRADE_PACE;
  await browser?.close();
  await stopAll();
  await close?.();
  sample?.close();
});

async function signIn(who: keyof typeof people): Promise<void> {
  await page.goto(`${app.address}/login`);
  await page.evaluate(
    async (given) =>
      fetch('/api/v1/session', {
        method: 'POST',
        body: JSON.stringify(given),
        headers: { 'content-type': 'application/json' },
      }),
    { name: who, password },
  );
  await openWhole(page, `${app.address}/firmware?of=doing`);
}
const api = (path: string, body: object) =>
  page.evaluate(
    async (wanted, sent) => {
      const response = await fetch(`/api/v1/${wanted}`, {
        method: 'POST',
        body: sent,
        headers: { 'content-type': 'application/json' },
      });
      return { status: response.status, text: await response.text() };
    },
    path,
    JSON.stringify(body),
  );

test('nobody begins anything before it is said from where images are fetched', async () => {
  await signIn('osric');
  await see(page, 'An administrator says first from where devices fetch their images.');
  expect((await api('upgrades', { name: 'x', where: 'site=SGH' })).status).toBe(409);
  await signIn('marla');
  await press(page, 'Where images are fetched');
  await see(page, 'Devices reach this machine as');
  await fill(page, 'input[name="source.reachedAs"]', '127.0.0.1');
  await fill(page, 'input[name="source.listenOn"]', '127.0.0.1');
  await fill(page, 'input[name="source.port"]', String(await freePort()));
  await page.click('input[name="source.needsApproval"]');
  await press(page, 'Save');
  await see(page, 'Saved.');
  expect(errors).toEqual([]);
});

test('what it would do is shown before, and it waits for another person', async () => {
  await signIn('osric');
  await press(page, 'Begin an upgrade');
  await press(page, 'Look at what it would do');
  await see(page, '1 goes');
  await see(page, 'by RESTCONF');
  expect(flash.taken).toEqual([]);
  await press(page, 'Begin');
  await see(page, 'Give it a name');
  await fill(page, 'input[name="upgrade.name"]', 'Leaves of the centre');
  const toType = await page.$('input[name="upgrade.typed"]');
  if (toType) {
    const label = await page.$eval(
      'input[name="upgrade.typed"]',
      (input) => input.closest('div')?.parentElement?.innerText ?? '',
    );
    await fill(page, 'input[name="upgrade.typed"]', /“(.+)” would be stopped/.exec(label)?.[1] ?? '');
  }
  await press(page, 'Begin');
  await see(page, 'to be approved: 0 of 1 done');
  await see(page, 'Another person approves it.');
  expect((await api('upgrades/1/approve', {})).status).toBe(403);
  // what nobody approved does not begin by being stopped and let go on
  for (const act of ['stop', 'resume']) expect((await api(`upgrades/1/${act}`, {})).status).toBe(200);
  await openWhole(page, `${app.address}/firmware?of=doing`);
  await see(page, 'to be approved: 0 of 1 done');
  expect(await accessibilityProblems(page)).toEqual([]);
  expect(flash.taken).toEqual([]);
});

test('approved by another it is done, though the engine is killed while the image is copied; all of it is on record', async () => {
  flash.ills.slow = 600_000;
  await signIn('marla');
  await press(page, 'Approve and begin');
  await see(page, 'takes its image');
  while (!flash.taken.some((one) => one.startsWith('fetch'))) await new Promise((resolve) => setTimeout(resolve, 50));
  process.kill(processOf(lastOfKind(sample.store.db, 'upgrade')?.worker ?? ''), 'SIGKILL');
  flash.ills.slow = 0;
  await see(page, 'ended: 1 of 1 done');
  expect([flash.release, restarts(flash)]).toEqual(['5.2.4', 1]);
  await press(page, leaves[0]?.name ?? '');
  await see(page, 'All that was there is there.');
  await see(page, 'fenmoor-images:restart');
  expect(await accessibilityProblems(page)).toEqual([]);
  const acts = listActs(sample.store.db, { text: 'upgrade', before: null, most: 20 }).rows.map(({ who, act }) => [
    who,
    act,
  ]);
  expect(acts).toEqual(
    expect.arrayContaining([
      ['osric', 'asked for an upgrade'],
      ['marla', 'approved an upgrade'],
    ]),
  );
  // what runs by now is surveyed
  await openWhole(page, `${app.address}/firmware`);
  await see(page, 'already there');
  expect(errors).toEqual([]);
});

test('what is kept may be brought back by a press, which another approves too', async () => {
  await signIn('osric');
  await press(page, leaves[0]?.name ?? '');
  await press(page, 'Bring it back to 5.2.1');
  await see(page, 'to be approved: 0 of 1 done');
  await signIn('marla');
  await press(page, 'Approve and begin');
  await see(page, 'ended: 1 of 1 done');
  expect([flash.release, restarts(flash)]).toEqual(['5.2.1', 2]);
  expect(errors).toEqual([]);
});

test('whoever only looks sees it all, and can do nothing', async () => {
  await signIn('wenna');
  await see(page, 'ended: 1 of 1 done');
  expect(await page.$$eval('button', (all) => all.map(({ innerText }) => innerText))).not.toContain('Begin an upgrade');
  for (const path of ['upgrades/look', 'upgrades', 'upgrades/1/resume', 'upgrades/1/stop', 'upgrades/1/courses/1/back'])
    expect((await api(path, { name: 'x', where: 'site=SGH' })).status).toBe(403);
});

test('images are held against the catalogue, on the screen and on the command line', async () => {
  await signIn('wenna');
  await openWhole(page, `${app.address}/firmware?of=images`);
  await see(page, 'fen-l-5.2.4.bin');
  expect(await accessibilityProblems(page)).toEqual([]);
  const told = async () => {
    const { code, out } = await bolide(['images', '--data', sample.store.folder, '--json']);
    const { images } = JSON.parse(out) as { images: { name: string; state: string }[] };
    return { code, state: images.find(({ name }) => name === 'fen-l-5.2.4.bin')?.state };
  };
  expect(await told()).toEqual({ code: 0, state: 'right' });
  const file = path.join(imagesFolder(sample.store.folder), 'fen-l-5.2.4.bin');
  writeFileSync(file, Buffer.alloc(sampleImageBytes, 7));
  expect(await told()).toEqual({ code: 1, state: 'wrong hash' });
  await openWhole(page, `${app.address}/firmware?of=images&where=state%3D%22wrong%20hash%22`);
  await see(page, '1 image');
  expect(errors).toEqual([]);
});
