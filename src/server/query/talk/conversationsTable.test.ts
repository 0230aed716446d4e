import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { openSample, type SampleStore } from '../../../../e2e/support/sampleStore';
import { changesBetween } from '../../../store/base/changes';
import { ostermere } from '../../../sim/ostermere/estate';
import { apiOf } from '../../testing/apiOf';

let sample: SampleStore;
let api: ReturnType<typeof apiOf>;
beforeAll(async () => {
  sample = await openSample({ steps: [1, 2, 8] });
  api = apiOf(sample.store);
});
afterAll(() => sample.close());

interface Row extends Record<string, unknown> {
  id: string;
  client: { address: string; device: string; deviceId: number | null; process: string };
  server: { address: string; device: string; deviceId: number | null; process: string; port: number };
  sources: string[];
}
const ask = async (path: string): Promise<Row[]> => {
  const { status, body } = await api.call('viewer', `GET /${path}`);
  expect(status).toBe(200);
  return body.rows as unknown as Row[];
};

/** Who calls whom in the network as it was simulated: what is surveyed must be just that. Of who was not surveyed the other end tells, and knows no process. */
function callsOf(step: number): string[] {
  const { devices } = ostermere(step);
  const read = new Set(
    sample.store.raw
      .prepare("select distinct json_extract(content, '$.name') from device_fact")
      .pluck()
      .all() as string[],
  );
  const named = new Map(devices.filter(({ name }) => read.has(name)).map(({ address, name }) => [address, name]));
  return devices
    .filter(({ processes }) => processes)
    .flatMap(({ name, address, connections = [], processes = [] }) =>
      connections.flatMap(({ local, remote, process }) => {
        // what a machine says to itself is no talk over the network
        const isCall =
          local.address === address &&
          remote.address !== address &&
          !processes.some(({ listens }) => listens.some(({ port }) => port === local.port));
        const called = named.get(remote.address);
        if (!isCall || (!read.has(name) && called === undefined)) return [];
        const caller = read.has(name)
          ? `${name} ${processes.find(({ number }) => number === process)?.name ?? ''}`
          : ' ';
        return [`${caller} > ${called ?? remote.address} ${remote.port}`];
      }),
    )
    .sort();
}

test('conversations are those the network has, with the processes of both ends, each once', async () => {
  const rows = await ask('conversations?size=1000');
  const told = rows.map(
    ({ client, server }) => `${client.device} ${client.process} > ${server.device || server.address} ${server.port}`,
  );
  expect(told.sort()).toEqual(callsOf(8));
  expect(new Set(rows.map(({ id }) => id)).size).toBe(rows.length);
  const fare = rows.find(({ server }) => server.port === 5500);
  expect(fare).toMatchObject({ server: { process: 'tallydb' }, serves: 'its listener' });
  // both ends tell of it
  expect(fare?.sources).toHaveLength(2);
});

test('they are filtered, exported and found like other things', async () => {
  const byPort = await ask('conversations?where=port%3D5500');
  expect(byPort.length).toBeGreaterThan(0);
  expect(new Set(byPort.map(({ server }) => server.port))).toEqual(new Set([5500]));
  const csv = await (await api.send('viewer', 'GET /conversations?format=csv&where=port%3D5500')).text();
  const [head = ''] = csv.split('\r\n');
  expect(head).toContain('client.device');
  const address = byPort[0]?.server.address ?? '';
  const found = (await api.call('viewer', `GET /find?text=${address}&most=50`)).body.rows ?? [];
  expect(found.map(({ thing }) => thing)).toContain('conversations');
});

test('each end tells of it in its dossier, and what came and went is a change, told once', async () => {
  const [row] = await ask('conversations?where=port%3D5500');
  for (const end of [row?.client, row?.server]) {
    const { body } = await api.call('viewer', `GET /devices/${end?.deviceId ?? 0}`);
    expect((body.conversations as Row[]).map(({ id }) => id)).toContain(row?.id);
  }
  const dossier = await api.call('viewer', `GET /conversations/${encodeURIComponent(row?.id ?? '')}/dossier`);
  expect(dossier.body).toMatchObject({ row: { id: row?.id }, near: expect.any(Array) });
  const changes = changesBetween(sample.store.db, 1, 3).filter(({ thing }) => thing === 'conversation');
  const ids = changes.map(({ thingId }) => thingId);
  expect(new Set(ids).size).toBe(ids.length);
  const [then, now] = [new Set(callsOf(1)), new Set(callsOf(8))];
  const come = [...now].filter((call) => !then.has(call)).length;
  expect(changes.filter(({ kind }) => kind === 'added')).toHaveLength(come);
});

test('a conversation is as old as the first survey that saw it', async () => {
  const rows = await ask('conversations');
  expect(rows.every(({ lastSeen }) => lastSeen === '2026-10-19T06:00:00.000Z')).toBe(true);
  expect(rows.some(({ firstSeen }) => firstSeen === '2026-10-05T06:00:00.000Z')).toBe(true);
});
