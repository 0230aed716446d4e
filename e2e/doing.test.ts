// covers: src/collect/doing src/core/firmware/doing src/store/upgrades src/sim/firmware
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { openForUpdate } from '../src/collect/doing/openForUpdate';
import { ImageServer } from '../src/collect/doing/imageServer';
import { runUpgrade } from '../src/collect/doing/runUpgrade';
import type { Patience, WantedCourse } from '../src/core/firmware/doing/course';
import { queryThing } from '../src/server/query/query';
import { imageContent } from '../src/sim/firmware/imageContent';
import { sha256 } from '../src/sim/firmware/imageFetch';
import { controllerOf, sampleHardwareUser } from '../src/sim/ostermere/controllers';
import { ostermere } from '../src/sim/ostermere/estate';
import { sampleNetworkUser } from '../src/sim/ostermere/services';
import { ManagementController } from '../src/sim/redfish/controller';
import { serverTree } from '../src/sim/redfish/serverTree';
import { UpdateBay } from '../src/sim/redfish/updateBay';
import { imagesFolder } from '../src/store/images';
import {
  addUpgrade,
  approveUpgrade,
  coursesOf,
  fileOfWord,
  pauseUpgrade,
  readUpgrade,
  requestsOf,
  resumeUpgrade,
  UpgradeBusyError,
} from '../src/store/upgrades';
import { openSample, type SampleStore } from './support/sampleStore';
import { layImage, leaves, outside, restarts, startLeaf, surveyedToAct } from './support/updatedDevices';

let sample: SampleStore;
let images: ImageServer;
let imagesAt: string;
const closing: (() => Promise<void>)[] = [];
const port = 21_447;
const estate = ostermere(8);
const quick: Patience = {
  ...{ answer: 1500, effect: 1500, copy: 20_000, back: 3000, settle: 600 },
  ...{ copyTries: 3, restartTries: 2 },
};
const pause = (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds));

beforeEach(async () => {
  sample = await openSample();
  mkdirSync(imagesFolder(sample.store.folder), { recursive: true });
  images = new ImageServer(imagesFolder(sample.store.folder), (word) => fileOfWord(sample.store.db, word));
  imagesAt = `http://127.0.0.1:${await images.listen('127.0.0.1', 0)}`;
});
afterEach(async () => {
  for (const close of closing.splice(0)) await close();
  await images.close();
  sample.close();
});

/** Surveys addresses, and keeps a user that may act there. */
const surveyed = (ranges: string[], user: { user: string; password: string }, kind: 'redfish' | 'restconf') =>
  surveyedToAct(sample, ranges, user, kind, port);
const imageOf = (file: string, bytes?: number) => layImage(sample, file, bytes);
const idOf = (name: string) =>
  Number(
    queryThing(sample.store, 'devices', {
      ...{ survey: 1, against: null, where: `name=${name}`, sort: [], page: 1, size: 1 },
    }).rows[0]?.id,
  );

const newRelease = '9.9.1';
/** By what is in it: another image is none. */
const releaseOf = (file: string, content: Buffer): string =>
  sha256(content) === sha256(imageContent(file, content.length)) ? newRelease : '';

async function startOwnLeaf(nth: number) {
  const { service, ...leaf } = await startLeaf(nth, port, releaseOf);
  closing.push(() => service.close());
  const wanted = (): WantedCourse => ({
    ...{ from: leaf.release, to: newRelease, image: imageOf('fen-9.9.1.bin') },
    imageBefore: { file: '', bytes: null, hash: '' },
    ...{ start: 'now', window: null, rollsBack: false },
  });
  return { ...leaf, service, wanted };
}

const upgradeOf = (
  devices: { name: string; component?: string; part?: string; wanted: WantedCourse }[],
  more: Partial<Parameters<typeof addUpgrade>[1]> = {},
) =>
  addUpgrade(sample.store.db, {
    ...{ name: 'leaves', who: 'duty engineer', atOnce: 1, stopAfter: 1, needsApproval: false },
    ...more,
    devices: devices.map(({ name, component = 'system', part = '', wanted }) => ({
      ...{ deviceId: idOf(name), device: name, component, name: part, wanted },
    })),
  });

const run = (id: number, more: Partial<Parameters<typeof runUpgrade>[3]> = {}) =>
  runUpgrade(sample.store, id, new AbortController().signal, {
    open: (kept, url) => openForUpdate(sample.store, kept, url),
    ...{ imagesAt, pause, lookMs: 25, patience: quick },
    ...more,
  });

describe('a switch over RESTCONF', () => {
  let leaf: Awaited<ReturnType<typeof startOwnLeaf>>;
  beforeEach(async () => {
    leaf = await startOwnLeaf(0);
    await surveyed([leaves[0]?.address ?? ''], sampleNetworkUser, 'restconf');
  });

  test('gets its image, is restarted with it, and is as it was; every request is kept, without its secret', async () => {
    const id = upgradeOf([{ name: leaf.name, wanted: leaf.wanted() }]);
    expect(() => upgradeOf([{ name: leaf.name, wanted: leaf.wanted() }])).toThrow(UpgradeBusyError);
    await run(id);
    expect(readUpgrade(sample.store.db, id)).toMatchObject({ state: 'ended', reason: '' });
    const [kept] = coursesOf(sample.store.db, id);
    expect(kept?.course).toMatchObject({ ending: 'done', reason: '' });
    expect(kept?.before?.portsUp.length).toBeGreaterThan(1);
    expect([kept?.after, kept?.lost]).toEqual([kept?.before, []]);
    expect(leaf.flash.release).toBe(newRelease);
    expect(leaf.flash.taken).toEqual(['fetch fen-9.9.1.bin', 'start-with fen-9.9.1.bin', 'restart']);
    const requests = requestsOf(sample.store.db, kept?.id ?? 0);
    expect(requests.map(({ path: asked, answer }) => [asked.split(':').at(-1), answer])).toEqual([
      ['fetch', 'taken'],
      ['start-with', 'taken'],
      ['restart', 'taken'],
    ]);
    expect(JSON.stringify(requests)).not.toContain(kept?.word);
    // once it is over nobody gets the image by that word
    expect((await fetch(`${imagesAt}/images/${kept?.word ?? ''}/x`)).status).toBe(404);
  });

  test('whoever does it may die at every step: it is restarted once, and runs what it should', async () => {
    let died = 0;
    for (let at = 1; ; at++) {
      const { flash } = leaf;
      Object.assign(flash, { running: 'fen-now.bin', next: 'fen-now.bin' });
      flash.forget('fen-9.9.1.bin');
      const id = upgradeOf([{ name: leaf.name, wanted: leaf.wanted() }]);
      let left = at;
      const dying = () => {
        if (--left === 0) throw new Error('died');
      };
      const first = await run(id, { step: dying }).then(
        () => 'lived',
        (error: unknown) => (error as Error).message,
      );
      if (first === 'died') await run(id);
      else if (first !== 'lived') throw new Error(first);
      const [kept] = coursesOf(sample.store.db, id);
      expect([at, kept?.course.ending, kept?.course.reason]).toEqual([at, 'done', '']);
      expect([at, restarts(flash), flash.release]).toEqual([at, 1, newRelease]);
      flash.taken.length = 0;
      if (first === 'lived') break;
      died++;
    }
    expect(died).toBeGreaterThan(10);
  });

  test('a copy that breaks off goes on where it was, and one that arrives as something else is fetched again', async () => {
    leaf.flash.ills.breaksOff = 1;
    leaf.flash.ills.spoils = 1;
    const id = upgradeOf([{ name: leaf.name, wanted: leaf.wanted() }]);
    await run(id);
    expect(coursesOf(sample.store.db, id)[0]?.course.ending).toBe('done');
    expect(leaf.flash.taken.filter((one) => one.startsWith('fetch'))).toHaveLength(3);
  });

  test('one that comes back with the old image has failed, and one that does not come back is lost', async () => {
    leaf.flash.ills.startsOld = true;
    const old = upgradeOf([{ name: leaf.name, wanted: leaf.wanted() }]);
    await run(old);
    expect(coursesOf(sample.store.db, old)[0]?.course).toMatchObject({ ending: 'failed' });
    expect(restarts(leaf.flash)).toBe(1);
    leaf.flash.ills.startsOld = false;
    leaf.flash.ills.neverBack = true;
    const lost = upgradeOf([{ name: leaf.name, wanted: leaf.wanted() }]);
    await run(lost);
    expect(coursesOf(sample.store.db, lost)[0]?.course).toMatchObject({ ending: 'lost' });
  });

  test('without room, or where another box answers, nothing is sent', async () => {
    const large = { ...leaf.wanted(), image: imageOf('fen-large.bin', 1_200_000) };
    const full = upgradeOf([{ name: leaf.name, wanted: large }]);
    await run(full);
    expect(coursesOf(sample.store.db, full)[0]?.course).toMatchObject({
      ending: 'untouched',
      reason: 'fen-large.bin has 1,200,000 bytes, and 999,000 are free',
    });
    const hardware = leaf.service.data['ietf-hardware:hardware'] as { component: Record<string, unknown>[] };
    const chassis = hardware.component.find((part) => part.class === 'iana-hardware:chassis');
    if (chassis) chassis['serial-num'] = 'FM-ANOTHER';
    const another = upgradeOf([{ name: leaf.name, wanted: leaf.wanted() }]);
    await run(another);
    expect(coursesOf(sample.store.db, another)[0]?.course.reason).toContain('another box answers there');
    expect(leaf.flash.taken).toEqual([]);
  });

  test('where a neighbour is gone afterwards it goes back to what it ran, if that was chosen', async () => {
    const lldp = leaf.service.data['ieee802-dot1ab-lldp:lldp'] as { port: { 'remote-systems-data': object[] }[] };
    const heard = lldp.port.find((one) => one['remote-systems-data'].length > 0);
    if (!heard) throw new Error('nobody is heard there');
    const neighbours = heard['remote-systems-data'];
    leaf.flash.restarted = (release) => (heard['remote-systems-data'] = release === newRelease ? [] : neighbours);
    const id = upgradeOf([{ name: leaf.name, wanted: { ...leaf.wanted(), rollsBack: true } }]);
    await run(id);
    const [kept] = coursesOf(sample.store.db, id);
    expect(kept?.course).toMatchObject({ ending: 'rolled back' });
    expect(kept?.course.reason).toContain('is not heard any more');
    expect([leaf.flash.release, restarts(leaf.flash)]).toEqual([leaves[0]?.release, 2]);
  });
});

test('after one that did not end well no more are begun; it may be paused and resumed, and another person approves it', async () => {
  const all = [await startOwnLeaf(0), await startOwnLeaf(1)];
  await surveyed(
    leaves.slice(0, 2).map(({ address }) => address),
    sampleNetworkUser,
    'restconf',
  );
  const { db } = sample.store;
  const [first, second] = all;
  if (!first || !second) throw new Error('two leaves are wanted');
  first.flash.ills.startsOld = true;
  const id = upgradeOf(
    all.map(({ name, wanted }) => ({ name, wanted: wanted() })),
    { needsApproval: true },
  );
  await run(id);
  expect(coursesOf(db, id).map(({ course }) => course.phase)).toEqual(['checking', 'checking']);
  expect([approveUpgrade(db, id, 'duty engineer'), approveUpgrade(db, id, 'night engineer')]).toEqual([false, true]);
  await run(id);
  expect(readUpgrade(db, id)).toMatchObject({ state: 'stopped', approvedBy: 'night engineer' });
  expect(readUpgrade(db, id)?.reason).toContain(`1 of 2 did not end well (${first.name}`);
  expect([second.flash.taken, coursesOf(db, id)[1]?.begunAt]).toEqual([[], null]);
  // whoever looked at it lets the rest go on
  expect(resumeUpgrade(db, id, { stopAfter: 2 })).toBe(true);
  expect(pauseUpgrade(db, id)).toBe(true);
  await run(id);
  expect(second.flash.taken).toEqual([]);
  expect(resumeUpgrade(db, id)).toBe(true);
  await run(id);
  expect(second.flash.release).toBe(newRelease);
  expect(coursesOf(db, id).map(({ course }) => course.ending)).toEqual(['failed', 'done']);
});

test('while one that is back is not as it was, no other is begun', async () => {
  const all = [await startOwnLeaf(0), await startOwnLeaf(1)];
  await surveyed(
    leaves.slice(0, 2).map(({ address }) => address),
    sampleNetworkUser,
    'restconf',
  );
  const [first, second] = all;
  if (!first || !second) throw new Error('two leaves are wanted');
  first.flash.losesNeighboursWith = newRelease;
  const id = upgradeOf(all.map(({ name, wanted }) => ({ name, wanted: wanted() })));
  await run(id);
  expect(coursesOf(sample.store.db, id).map(({ course }) => course.ending)).toEqual(['kept', null]);
  expect(second.flash.taken).toEqual([]);
  expect(readUpgrade(sample.store.db, id)?.state).toBe('stopped');
});

describe('a management controller', () => {
  const server = estate.devices.find(({ name }) => name === 'sgh-srv-04');
  const box = server && controllerOf(server, 8);
  if (!server || !box) throw new Error('the sample has no such server');
  let bay: UpdateBay;
  beforeEach(async () => {
    bay = new UpdateBay(
      box.firmware.map((one) => ({ ...one })),
      releaseOf,
      150,
    );
    const place = { address: outside(box.controller.address), port };
    const controller = new ManagementController({ ...place, ...sampleHardwareUser, pageSize: 5 }, serverTree(box), bay);
    await controller.listen();
    closing.push(() => controller.close());
    await surveyed([box.controller.address], sampleHardwareUser, 'redfish');
  });
  const item = box.firmware[0] ?? { name: '', version: '' };
  const wanted = (more: Partial<WantedCourse> = {}): WantedCourse => ({
    ...{ from: item.version, to: newRelease, image: imageOf('board-9.9.1.bin') },
    imageBefore: { file: '', bytes: null, hash: '' },
    ...{ start: 'now', window: null, rollsBack: false },
    ...more,
  });
  const name = server.name;

  test('fetches its image and applies it at once, and is told once whoever dies', async () => {
    let died = 0;
    for (let at = 1; ; at++) {
      const own = bay.items.find((one) => one.name === item.name);
      if (own) own.version = item.version;
      bay.applied.length = 0;
      const id = upgradeOf([{ name, component: item.name, part: item.name, wanted: wanted() }]);
      let left = at;
      const dying = () => {
        if (--left === 0) throw new Error('died');
      };
      const first = await run(id, { step: dying }).then(
        () => 'lived',
        (error: unknown) => (error as Error).message,
      );
      if (first === 'died') await run(id);
      else if (first !== 'lived') throw new Error(first);
      expect([at, coursesOf(sample.store.db, id)[0]?.course.ending]).toEqual([at, 'done']);
      expect([at, bay.applied]).toEqual([at, [`${item.name} ${newRelease}`]]);
      if (first === 'lived') break;
      died++;
    }
    expect(died).toBeGreaterThan(6);
  });

  test('its parts go one after the other, however many may go at the same time', async () => {
    const other = box.firmware[1] ?? item;
    const image = imageOf('board-9.9.1.bin');
    const id = upgradeOf(
      [item, other].map((part) => ({
        ...{ name, component: part.name, part: part.name },
        wanted: { ...wanted(), from: part.version, image },
      })),
      { atOnce: 2 },
    );
    await run(id);
    expect(coursesOf(sample.store.db, id).map(({ course }) => course.ending)).toEqual(['done', 'done']);
    expect([bay.mostAtOnce, bay.applied]).toEqual([1, [item, other].map((part) => `${part.name} ${newRelease}`)]);
  });

  test('says why it does not take an image', async () => {
    const spoiled = { ...wanted(), image: imageOf('board-9.9.1.bin') };
    writeFileSync(path.join(imagesFolder(sample.store.folder), 'board-9.9.1.bin'), 'no image at all');
    const id = upgradeOf([{ name, component: item.name, part: item.name, wanted: spoiled }]);
    await run(id);
    expect(coursesOf(sample.store.db, id)[0]?.course).toMatchObject({
      ending: 'untouched',
      reason: 'The image is not signed by its maker.',
    });
  });

  test('in a window it applies it by itself then, and at the next restart not before that', async () => {
    const from = Date.now() + 1500;
    const id = upgradeOf([
      {
        name,
        component: item.name,
        part: item.name,
        wanted: wanted({ start: 'window', window: { from, until: from + 60_000 } }),
      },
    ]);
    await run(id);
    expect(coursesOf(sample.store.db, id)[0]?.course.ending).toBe('done');
    expect(bay.resetAt.getTime()).toBeGreaterThanOrEqual(from);
    const own = bay.items.find((one) => one.name === item.name);
    if (own) own.version = item.version;
    const later = upgradeOf([{ name, component: item.name, part: item.name, wanted: wanted({ start: 'restart' }) }]);
    const running = run(later);
    await pause(1200);
    expect([coursesOf(sample.store.db, later)[0]?.course.phase, own?.version]).toEqual(['copied', item.version]);
    bay.reset();
    await running;
    expect([coursesOf(sample.store.db, later)[0]?.course.ending, own?.version]).toEqual(['done', newRelease]);
  });
});
