import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import type { Json } from './json';
import { interpretFabric } from './fabricController';
import { interpretHypervisors } from './hypervisorManager';
import type { ResourceAnswer } from './resourceAnswer';
import { harvestFromRestconf } from './restconf';
import { interpretWireless } from './wirelessController';

/** What each private interface answered once, kept beside its adapter: read as it is, and with anything in it replaced. */
const context = { address: '10.72.1.30', credential: 'controllers' };
type Example = Record<string, Json>;
const example = (folder: string) =>
  JSON.parse(
    readFileSync(path.join(process.env.BOLIDE_HOME ?? process.cwd(), 'src/collect', folder, 'example.json'), 'utf8'),
  ) as Example;
const at = (given: Example, name: string): Json => given[name] ?? null;
const body = (given: Example, name: string) => ({ body: at(given, name) });

const wireless = (given: Example) =>
  interpretWireless(
    { controller: at(given, 'controller'), accessPoints: body(given, 'accessPoints'), wlans: body(given, 'wlans') },
    context,
  );
const fabric = (given: Example) =>
  interpretFabric(
    {
      controller: at(given, 'controller'),
      nodes: body(given, 'nodes'),
      tenants: body(given, 'tenants'),
      endpoints: body(given, 'endpoints'),
      links: body(given, 'links'),
    },
    context,
  );
const hypervisors = (given: Example) =>
  interpretHypervisors(
    {
      manager: at(given, 'manager'),
      clusters: body(given, 'clusters'),
      hosts: body(given, 'hosts'),
      machines: body(given, 'machines'),
      datastores: body(given, 'datastores'),
    },
    context,
  );
const restconf = (given: Example) =>
  harvestFromRestconf(Object.fromEntries(Object.keys(given).map((name) => [name, body(given, name)])), context);
const told = (answer: ResourceAnswer | { drift: string }): ResourceAnswer => {
  if ('drift' in answer) throw new Error(answer.drift);
  return answer;
};

describe('what was recorded of', () => {
  test('the wireless controller', () => {
    const { report, others, parts } = told(wireless(example('adapters/wireless')));
    expect(report).toMatchObject({
      device: { name: 'sgh-wlc', role: 'wireless-controller', vendor: 'Tessaly' },
      wlans: [{ name: 'OLR-Staff' }, { name: 'OLR-Guest' }],
    });
    expect(others?.map(({ report: { device } }) => device.role)).toEqual([
      'access-point',
      'access-point',
      'access-point',
    ]);
    expect(report.toldLinks?.[0]).toEqual({
      a: { device: 'lqy-plat', port: '20' },
      b: { device: 'lqy-ap-01', port: '' },
      kind: 'ethernet',
      up: true,
    });
    expect(Object.values(parts).map((part) => part?.state)).toEqual(['whole', 'whole', 'whole']);
    expect(JSON.stringify([report, others])).not.toContain('removed before');
  });
  test('the fabric controller', () => {
    const { report, others } = told(fabric(example('adapters/fabric')));
    expect(report).toMatchObject({ device: { name: 'sgh-fabric', serial: 'FF3-00218', release: '5.2.4' } });
    expect(report.fabric?.map((part) => (part.kind === 'node' ? part.node : part.tenant))).toEqual([
      'sgh-leaf-1',
      'sgh-leaf-2',
      'sgh-leaf-3',
      'operations',
      'ticketing',
    ]);
    expect([report.toldLinks?.[0], report.fabricEndpoints?.[0]]).toEqual([
      { a: { device: 'sgh-leaf-1', port: 'e1/51' }, b: { device: 'sgh-spine-1', port: 'e1/1' }, kind: 'l3', up: true },
      {
        mac: '02:42:52:04:bf:d2',
        addresses: ['10.72.40.11'],
        tenant: 'operations',
        group: 'tracking',
        node: 'sgh-leaf-1',
        port: 'e1/1',
        vlan: 410,
      },
    ]);
    expect(report.addresses.every(({ vrf }) => /^\w+:\w+$/.test(vrf ?? ''))).toBe(true);
    expect(others?.map(({ report: { device, sightings } }) => [device.name, sightings.forwarding.length])).toEqual([
      ['sgh-leaf-1', expect.any(Number)],
      ['sgh-leaf-2', expect.any(Number)],
      ['sgh-leaf-3', expect.any(Number)],
    ]);
  });
  test('the hypervisor manager', () => {
    expect(told(hypervisors(example('adapters/hypervisors'))).report.machines[0]).toEqual({
      name: 'vm-pis-1',
      uuid: '5a1d0e00-7200-4000-8000-024252812257',
      system: 'Ostermere image 12',
      state: 'running',
      processors: 4,
      memoryBytes: 8 * 2 ** 30,
      host: 'sgh-srv-03',
      cluster: 'signal-house',
      adapters: [{ mac: '02:42:52:81:22:57', network: 'OPS', virtualSwitch: 'vswitch0', port: 'eth0 + eth1' }],
    });
    expect(told(hypervisors(example('adapters/hypervisors'))).report.hostNetworks?.[0]).toEqual({
      host: 'sgh-srv-03',
      adapters: [
        { name: 'eth0', mac: '02:42:52:10:00:03', speedBps: 1e10, up: true },
        { name: 'eth2', mac: '02:42:52:10:02:03', speedBps: null, up: false },
      ],
      switches: [
        {
          name: 'vswitch0',
          uplinks: ['eth0', 'eth1'],
          teaming: 'active-standby',
          groups: [
            { name: 'OPS', vlan: 10 },
            { name: 'TICKET', vlan: 20 },
          ],
        },
      ],
    });
  });
  test('a leaf over RESTCONF', () => {
    const harvest = restconf(example('restconf'));
    expect(harvest).toMatchObject({
      system: { name: 'sgh-leaf-1', location: 'Signal House, rack 6', description: 'FenOS, release 5.2.1, Fen L32' },
    });
    expect(harvest?.interfaces[0]).toMatchObject({ name: 'e1/1', alias: 'fab-track', admin: 'up' });
  });
});

const odd: fc.Arbitrary<Json> = fc.oneof(
  fc.constant(null),
  fc.boolean(),
  fc.integer(),
  fc.string({ maxLength: 6 }),
  fc.constantFrom<Json>([], {}, [null], [[]], { items: null }, [{ name: 3 }]),
);

/** The example with a few of its values, wherever they stand, replaced or gone. */
function changed(value: Json, choose: () => boolean, other: () => Json): Json {
  if (choose()) return other();
  if (Array.isArray(value)) return value.map((item) => changed(item, choose, other));
  if (value !== null && typeof value === 'object')
    return Object.fromEntries(
      Object.entries(value).flatMap(([name, item]) => (choose() ? [] : [[name, changed(item, choose, other)]])),
    );
  return value;
}

describe('an interface that changed without notice', () => {
  const readers: [string, string, (given: Example) => unknown][] = [
    ['wireless', 'adapters/wireless', wireless],
    ['fabric', 'adapters/fabric', fabric],
    ['hypervisors', 'adapters/hypervisors', hypervisors],
    ['RESTCONF', 'restconf', restconf],
  ];
  test.each(readers)('%s: is a finding or is read, never a crash', (_, folder, read) => {
    const whole = example(folder);
    fc.assert(
      fc.property(
        fc.array(fc.nat({ max: 60 }), { minLength: 1, maxLength: 5 }),
        fc.array(odd, { minLength: 1, maxLength: 5 }),
        (places, others) => {
          let count = 0;
          let used = 0;
          const given = changed(
            whole,
            () => places.includes(count++),
            () => others[used++ % others.length] ?? null,
          );
          const answer = read(given !== null && typeof given === 'object' && !Array.isArray(given) ? given : {});
          if (answer !== null && typeof answer === 'object' && 'drift' in answer)
            expect(answer.drift).toMatch(/^this interface changed: /);
        },
      ),
      { numRuns: 600 },
    );
  });
  test.each([
    ['accessPoints', 'serial', 'field “serial” of access-points items[] is missing'],
    ['wlans', 'ssid', 'field “ssid” of wlans items[] is missing'],
  ])('%s without %s: told by its name', (list, field, words) => {
    const given = example('adapters/wireless');
    const { items } = given[list] as { items: Record<string, Json>[] };
    delete items[1]?.[field];
    const { parts } = told(wireless(given));
    expect(Object.values(parts).flatMap((part) => (part?.state === 'failed' ? [part.reason] : []))).toEqual([
      `this interface changed: ${words}`,
    ]);
  });
});
