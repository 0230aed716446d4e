import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { switchReport } from '../../../bench/generate';
import type { MachineFacts } from '../../core/estate/facts';
import { harvestParts } from '../../core/estate/harvest';
import type { LinkFacts } from '../../core/topology/links';
import { linkKey } from '../../core/topology/links';
import { commitReport } from '../../store/commitReport';
import { Identities } from '../../store/identities';
import { openStore, type Store } from '../../store/base/database';
import { writeFacts } from '../../store/base/facts';
import { survey, visit } from '../../store/base/schema';
import { apiOf } from '../testing/apiOf';

/** A machine that has no UUID, and is called the same on every host. */
const machineOf = (mac: string): MachineFacts => ({
  name: 'web',
  uuid: '',
  system: '',
  state: 'running',
  processors: 1,
  memoryBytes: null,
  adapters: [{ mac, port: '1', network: null }],
  host: '',
  cluster: '',
});

/** Two switches that both call themselves “switch”, and a third that each of them hangs on. */
let folder: string;
let store: Store;
let api: ReturnType<typeof apiOf>;
const ids: number[] = [];

beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-namesakes-'));
  store = openStore(folder);
  const at = '2026-11-23T06:00:00.000Z';
  const surveyId = store.db
    .insert(survey)
    .values({ scopeName: 'x', scope: {}, state: 'sealed', startedAt: at, sealedAt: at, asked: 3, summary: {} })
    .returning({ id: survey.id })
    .get().id;
  const all = new Set(harvestParts);
  for (const [n, name] of [
    [1, 'switch'],
    [2, 'switch'],
    [3, 'middle'],
  ] as const) {
    const report = switchReport(n, n + 2);
    const machines = name === 'switch' ? [machineOf(`02:72:00:00:00:0${n}`)] : [];
    const named = { ...report, device: { ...report.device, name }, machines };
    const answer = { kind: 'snmp' as const, report: named, covered: all, asked: all };
    const { deviceId } = commitReport(store.db, surveyId, new Identities(store.db, 0), answer, () => false);
    ids.push(deviceId);
    const { address } = report.device;
    store.db.insert(visit).values({ surveyId, address, seq: n, state: 'done', outcome: 'answered', deviceId }).run();
  }
  const [one = 0, other = 0, middle = 0] = ids;
  const link = (deviceId: number, port: string): LinkFacts =>
    ({
      a: { deviceId, device: 'switch', port: '1' },
      b: { deviceId: middle, device: 'middle', port },
      kind: 'ethernet',
      confidence: 'confirmed',
      evidence: [],
      speedBps: null,
      blocked: false,
      issues: [],
    }) as unknown as LinkFacts;
  const links = [link(one, '1'), link(other, '2')];
  const facts = links.map((content) => ({ key: linkKey(content.a, content.b), content }));
  writeFacts(store.db, 'link', surveyId, 0, facts, true);
  api = apiOf(store);
});
afterAll(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

interface Dossier {
  here: string;
  links: { a: { deviceId: number }; b: { deviceId: number } }[];
  ports: { deviceId: number }[];
  dependants: { endpoints: { where: string } };
}
const dossierOf = async (id = 0) => (await api.call('viewer', `GET /devices/${id}`)).body as unknown as Dossier;
const rowsOf = async (thing: string, where: string) =>
  (await api.call('viewer', `GET /${thing}?where=${encodeURIComponent(where)}`)).body.rows ?? [];

test('each of two devices of one name shows its own ports and links, and none of the other', async () => {
  for (const id of ids.slice(0, 2)) {
    const { links, ports } = await dossierOf(id);
    expect(links).toHaveLength(1);
    expect(links.map(({ a }) => a.deviceId)).toEqual([id]);
    expect(new Set(ports.map(({ deviceId }) => deviceId))).toEqual(new Set([id]));
  }
  expect((await dossierOf(ids[2])).links).toHaveLength(2);
});

test('what leads from it to tables names it by its number, where its name would mean both', async () => {
  const [one, other, middle] = ids;
  expect((await dossierOf(middle)).here).toBe('device=middle');
  for (const id of [one, other]) {
    const { here } = await dossierOf(id);
    expect(here).toBe(`device.id=${id ?? 0}`);
    expect((await rowsOf('ports', here)).map(({ deviceId }) => deviceId)).toEqual(
      Array.from({ length: id === one ? 3 : 4 }, () => id),
    );
  }
});

test('filters step from devices to the links of just those devices', async () => {
  const [one] = ids;
  const rows = await rowsOf('links', `from.id=${one ?? 0} or to.id=${one ?? 0}`);
  expect(rows.map(({ fromId, toId }) => [fromId, toId].includes(one))).toEqual([true]);
});

test('what is near a port is near that port alone', async () => {
  const [one] = ids;
  const { body } = await api.call('viewer', `GET /ports/${one ?? 0}:1/dossier`);
  const near = body.near as { words: string; where: string; total: number }[];
  const others = near.find(({ words }) => words.startsWith('other ports'));
  expect(others).toMatchObject({ where: expect.stringContaining(`device.id=${one ?? 0}`), total: 2 });
});

test('two hosts of one name have their own machines, though these are called the same too', async () => {
  const rows = await rowsOf('machines', 'name=web');
  expect(rows.map(({ hostId }) => hostId)).toEqual(ids.slice(0, 2));
  for (const id of ids.slice(0, 2)) {
    const { body } = await api.call('viewer', `GET /hosts/${id}`);
    expect(body).toMatchObject({ hostId: id, machines: [{ name: 'web' }] });
  }
  // the name means neither of them
  expect((await api.call('viewer', 'GET /hosts/switch')).status).toBe(404);
});
