import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { openSample, type SampleStore } from '../../../e2e/support/sampleStore';
import { findPort } from './findPort';
import { portReport } from './portReport';
import { queryThing, thingRows } from '../query/query';

let sample: SampleStore;
beforeAll(async () => {
  sample = await openSample({ steps: [1, 3, 4] });
});
afterAll(() => sample.close());

const stays = (wanted: string, survey = 3) =>
  findPort(sample.store, survey, wanted).found.map(({ words, spans }) => [
    words,
    spans.map(({ device, port, holds }) => `${device} ${port ?? '?'}${holds ? '' : ' before'}`),
  ]);

test('a camera that was moved is found by its MAC in any notation and by its address, with where it was', () => {
  const moved = thingRows(sample.store, 'changes', 3, 2).find(
    ({ thing, field }) => thing === 'endpoint' && field === 'port',
  );
  const mac = String(moved?.subject);
  const [camera] = thingRows(sample.store, 'endpoints', 3, null).filter((row) => row.mac === mac);
  const address = (camera?.addresses as string[])[0] ?? '';
  const found = [[address, [`rpw-plat ${String(moved?.after)}`, `rpw-plat ${String(moved?.before)} before`]]];
  for (const wanted of [
    mac,
    mac.toUpperCase().replaceAll(':', '-'),
    mac.replaceAll(':', '').replace(/(....)(....)(....)/, '$1.$2.$3'),
    ` ${address} `,
  ])
    expect([wanted, stays(wanted)]).toEqual([wanted, found]);
  expect(stays(mac, 2)).toEqual([[address, [`rpw-plat ${String(moved?.before)}`]]]);
  const [one] = findPort(sample.store, 3, mac).found;
  expect(one?.evidence).toEqual([
    expect.stringContaining('forwarding table of rpw-plat'),
    expect.stringContaining(`address table of sgh-core-1: ${address}`),
  ]);
  expect([one?.spans[0]?.from, one?.spans[1]?.last]).toEqual(findPort(sample.store, 3, mac).surveys.slice(1).reverse());
});
test('an inventoried device is found by name and serial, with the ports at the other ends of its links', () => {
  const server = thingRows(sample.store, 'devices', 3, null).find(({ name }) => name === 'sgh-srv-01');
  for (const wanted of ['sgh-srv-01', String(server?.serial)])
    expect([wanted, stays(wanted)]).toEqual([wanted, [['sgh-srv-01', ['sgh-acc-1 5']]]]);
});
test('an address in full is no beginning of another, and what was never heard is not found', () => {
  expect([
    stays('10.72.4.9'),
    stays('02:00:00:00:00:01'),
    stays(''),
    stays('nowhere at all'),
    findPort(sample.store, 0, 'x').found,
  ]).toEqual([[], [], [], [], []]);
});

test('the report of a switch counts its sockets, names what is attached and who told of its machines; of a site it is the sum', () => {
  const report = portReport(sample.store, 3, 'name=rpw-plat', 30);
  const [plat] = report.switches;
  const ports = thingRows(sample.store, 'ports', 3, null).filter(
    ({ device, physical }) => device === 'rpw-plat' && physical,
  );
  expect(plat?.summary).toMatchObject({
    sockets: ports.length,
    up: ports.filter(({ oper }) => oper === 'up').length,
    uplinks: 1,
    switchedOff: ports.filter(({ admin }) => admin === 'down').length,
  });
  expect(plat?.attached).toMatchObject([{ port: 'U1', device: 'rpw-ring', role: 'switch', confidence: 'confirmed' }]);
  const endpoints = thingRows(sample.store, 'endpoints', 3, null).filter(({ device }) => device === 'rpw-plat');
  expect(plat?.machines.map(({ mac }) => mac).sort()).toEqual(endpoints.map(({ mac }) => mac).sort());
  const numbers = plat?.machines.map(({ port }) => Number(port)) ?? [];
  expect(numbers).toEqual([...numbers].sort((x, y) => x - y));
  expect(plat?.sources).toEqual(
    expect.arrayContaining([
      { by: 'rpw-plat', told: 'places, from its forwarding table', count: endpoints.length },
      { by: 'sgh-core-1', told: 'addresses, from its address table', count: expect.any(Number) },
    ]),
  );
  expect(plat?.questions.map(({ part }) => part)).toEqual(expect.arrayContaining(['bridge', 'interfaces']));
  const site = portReport(sample.store, 3, 'site=RPW', 30);
  expect(site.switches.map(({ name }) => name)).toEqual(['rpw-plat', 'rpw-ring']);
  expect(site.total.sockets).toBe(site.switches.reduce((sum, { summary }) => sum + summary.sockets, 0));
  expect([
    portReport(sample.store, 3, 'role=camera', 30).switches,
    portReport(sample.store, 0, '', 30).switches,
  ]).toEqual([[], []]);
});

test('a port tells when somebody was last plugged in, also when nobody is any more, and never what came later', () => {
  const moved = thingRows(sample.store, 'changes', 3, 2).find(
    ({ thing, field }) => thing === 'endpoint' && field === 'port',
  );
  const lastSeen = (survey: number, name: unknown) =>
    queryThing(sample.store, 'ports', {
      survey,
      against: null,
      where: `device=rpw-plat name="${String(name)}"`,
      sort: ['lastSeen'],
      page: 1,
      size: 1,
    }).rows[0]?.lastSeen;
  const { surveys } = findPort(sample.store, 3, String(moved?.subject));
  expect([2, 3].map((survey) => lastSeen(survey, moved?.before))).toEqual([surveys[1], surveys[1]]);
  expect([2, 3].map((survey) => lastSeen(survey, moved?.after))).toEqual(['', surveys[2]]);
});

test('a port tells how often its state was another one, up to the survey looked at', () => {
  const changed = (survey: number) =>
    thingRows(sample.store, 'ports', survey, null)
      .filter(({ stateChanges }) => Number(stateChanges) > 0)
      .map(({ device, name, stateChanges }) => `${String(device)} ${String(name)} ${String(stateChanges)}`);
  expect(changed(1)).toEqual([]);
  const moved = thingRows(sample.store, 'changes', 3, 2).find(
    ({ thing, field }) => thing === 'endpoint' && field === 'port',
  );
  expect(changed(3)).toEqual(
    expect.arrayContaining([`rpw-plat ${String(moved?.before)} 1`, `rpw-plat ${String(moved?.after)} 1`]),
  );
  expect(changed(2)).not.toContain(`rpw-plat ${String(moved?.before)} 1`);
  const { rows } = queryThing(sample.store, 'ports', {
    survey: 3,
    against: null,
    where: 'stateChanges>=1',
    sort: ['-stateChanges'],
    page: 1,
    size: 100,
  });
  expect(
    rows.map(({ device, name, stateChanges }) => `${String(device)} ${String(name)} ${String(stateChanges)}`).sort(),
  ).toEqual(changed(3).sort());
});
