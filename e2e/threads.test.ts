import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Credential } from '../src/core/estate/credential';
import type { ThingName } from '../src/core/things/things';
import { queryThing } from '../src/server/query/query';
import { changedCertificates } from '../src/store/certificates';
import { openStore, type Store } from '../src/store/base/database';
import { survey } from '../src/store/base/schema';
import { saveMakers } from '../src/store/makers';
import { writeDemoSites } from '../src/cli/demoSites';
import { sampleNetworkUser } from '../src/sim/ostermere/services';
import { makerList } from '../src/sim/ostermere/makers';
import { bolide, home, sampleCredentials, startAgents, stopAll, temporaryFolder } from './support/program';
import { everywhere, openSample, type SampleStore } from './support/sampleStore';

/** The whole operator read by the program, whose threads read, and conclude beside it, against the same read in one thread. */
let agents: Awaited<ReturnType<typeof startAgents>>;
let sample: SampleStore;
const data = temporaryFolder();
const credentials = path.join(temporaryFolder(), 'credentials.json');
const args = (folder: string) => [
  'survey',
  '--data',
  folder,
  '--range',
  everywhere.join(','),
  '--credentials',
  credentials,
  '--via',
  agents.via,
  '--timeout',
  '1500',
  '--json',
];

beforeAll(async () => {
  writeFileSync(credentials, JSON.stringify(sampleCredentials));
  [agents, sample] = await Promise.all([startAgents(1), openSample()]);
});
afterAll(async () => {
  sample.close();
  await stopAll();
});

/** What differs between two surveys of the same: numbers of devices and the order of evidence that follows them, moments, seconds. */
const beside = new Set([
  'id',
  'deviceId',
  'fromId',
  'toId',
  'hostId',
  'firstSeen',
  'lastSeen',
  'lastAnswered',
  'askedSeconds',
  'releaseAgeSeconds',
  'releasedAt',
  'uptimeSeconds',
  'lastChangeSeconds',
  'a',
  'b',
  'endpoints',
  'evidence',
  'evidenceWords',
  'toldBy',
]);
function rowsOf(store: Store, name: ThingName): string[] {
  const { rows } = queryThing(store, name, { survey: 1, against: null, where: '', sort: [], page: 1, size: 100_000 });
  return rows
    .map((row) => JSON.stringify(Object.fromEntries(Object.entries(row).filter(([field]) => !beside.has(field)))))
    .sort();
}

test('threads find row for row what one thread finds', async () => {
  const store = openStore(data);
  saveMakers(store.db, makerList);
  writeDemoSites(store.db, 'marla');
  const { code, out, err } = await bolide(args(data));
  expect([code, err]).toEqual([0, expect.any(String)]);
  const translations = [agents.via.replace(/^(.*)=(.*):(\d+)$/, '$1 via $2 port $3')];
  const here = await sample.survey(
    { credentials: sampleCredentials as Credential[] },
    { ranges: everywhere, translations, timeoutMs: 1500 },
  );
  const summary = JSON.parse(out) as typeof here;
  expect([summary.addresses, summary.devices]).toEqual([here.addresses, here.devices]);
  try {
    for (const name of [
      'devices',
      'modules',
      'ports',
      'links',
      'endpoints',
      'vlans',
      'addresses',
      'services',
      'faults',
      'machines',
      'routes',
      'peers',
    ] as const) {
      const [byThreads, byOne] = [rowsOf(store, name), rowsOf(sample.store, name)];
      expect([
        name,
        byThreads.filter((row) => !byOne.includes(row)),
        byOne.filter((row) => !byThreads.includes(row)),
        byThreads.length,
      ]).toEqual([name, [], [], byOne.length]);
    }
    expect(rowsOf(store, 'endpoints').length).toBeGreaterThan(500);
  } finally {
    store.close();
  }
});

test('again, nothing has changed: what was packed on its way is what was kept', async () => {
  const { out } = await bolide(args(data));
  expect(JSON.parse(out)).toMatchObject({ devices: { new: 0, changed: 0, replaced: 0, silent: 0 } });
});

test('a device found by its neighbour is followed by threads too, and must show the certificate that is pinned for it', async () => {
  const keys = path.join(temporaryFolder(), 'credentials.json');
  writeFileSync(
    keys,
    JSON.stringify([...sampleCredentials, { name: 'network', kind: 'restconf', ...sampleNetworkUser }]),
  );
  const folder = temporaryFolder();
  // the leaf is not in the ranges: the core names it
  const followed = [
    'survey',
    '--data',
    folder,
    '--range',
    '10.72.0.1-2,10.72.200.1-80',
    '--neighbours',
    '1',
    '--credentials',
    keys,
    '--via',
    agents.via,
    '--https-port',
    '1443',
    '--timeout',
    '300',
    '--json',
  ];
  const store = openStore(folder);
  const leaf = () =>
    queryThing(store, 'devices', {
      survey: surveys(),
      against: null,
      where: 'name=sgh-leaf-1',
      sort: [],
      page: 1,
      size: 10,
    }).rows;
  const surveys = () => (store.raw.prepare('select max(id) as id from survey').get() as { id: number }).id;
  try {
    expect(await bolide(followed)).toMatchObject({ code: 0 });
    expect(leaf()).toMatchObject([{ address: '10.72.0.25', state: 'answering' }]);
    store.raw.prepare("update pinned_certificate set fingerprint = 'AA:BB' where address = '10.72.0.25'").run();
    const { out } = await bolide(followed);
    expect((JSON.parse(out) as { failures: unknown[] }).failures).toContainEqual(
      expect.objectContaining({
        address: '10.72.0.25',
        reason: expect.stringContaining('another certificate than before'),
      }),
    );
    expect(changedCertificates(store.db)).toMatchObject([{ address: '10.72.0.25', fingerprint: 'AA:BB' }]);
    expect(leaf()).toMatchObject([{ state: 'silent' }]);
  } finally {
    store.close();
  }
});

test('a program that is told to stop in the middle seals nothing as whole, and leaves no thread behind', async () => {
  const folder = temporaryFolder();
  const store = openStore(folder);
  const child = spawn(process.execPath, [path.join(home, 'bin/bolide'), ...args(folder)], { stdio: 'ignore' });
  try {
    for (
      let wait = 0;
      wait < 400 &&
      Number(
        (store.raw.prepare("select count(*) as done from visit where state = 'done'").get() as { done: number }).done,
      ) < 20;
      wait++
    )
      await new Promise((resolve) => setTimeout(resolve, 25));
    child.kill('SIGINT');
    await new Promise((resolve) => child.once('exit', resolve));
    expect(
      store.db
        .select()
        .from(survey)
        .all()
        .map(({ state }) => state),
    ).not.toContain('sealed');
  } finally {
    store.close();
  }
});
