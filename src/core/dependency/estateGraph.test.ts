import { expect, test } from '@jest/globals';
import { estateGraph, type EstateFacts } from './estateGraph';

const device = (deviceId: number, name: string, role: EstateFacts['devices'][number]['role']) => ({
  deviceId,
  name,
  role,
  memoryBytes: null,
  routes: role === 'router',
});
const listener = (deviceId: number, process: string, port: number) =>
  ({ deviceId, process, protocol: 'tcp', port, kind: '', isForAll: true }) as const;

/** Two web servers, two databases that copy to each other, and a gateway of which only talk tells. */
const facts: EstateFacts = {
  devices: [
    device(1, 'web-1', 'server'),
    device(3, 'base-1', 'server'),
    device(4, 'base-2', 'server'),
    device(7, 'edge-1', 'router'),
    device(8, 'edge-2', 'router'),
    device(9, 'access', 'switch'),
  ],
  links: [],
  portOf: () => undefined,
  endpoints: [
    {
      mac: '02:00:00:00:00:11',
      name: '',
      deviceId: 9,
      port: '5',
      via: 'wired',
      vlan: 42,
      addresses: ['10.72.42.11'],
      ownDeviceId: null,
    },
  ],
  addresses: [7, 8].flatMap((deviceId) => [
    { deviceId, port: 'lan', address: `10.72.42.${deviceId}`, prefixLength: 24, vrf: '' },
    { deviceId, port: 'wan', address: `10.72.0.${deviceId}`, prefixLength: 24, vrf: '' },
  ]) as EstateFacts['addresses'],
  virtualRouters: [],
  machines: [],
  listeners: [listener(1, 'fareweb', 443), listener(3, 'tallydb', 5500), listener(4, 'tallydb', 5500)],
  talks: [
    {
      client: { deviceId: 1, process: 'fareweb' },
      server: { deviceId: 3, address: '', process: 'tallydb' },
      protocol: 'tcp',
      port: 5500,
      proof: 'heard today',
    },
    {
      client: { deviceId: 3, process: 'tallydb' },
      server: { deviceId: 4, address: '', process: 'tallydb' },
      protocol: 'tcp',
      port: 5501,
      proof: 'heard on Monday',
    },
    {
      client: { deviceId: 1, process: 'fareweb' },
      server: { deviceId: 0, address: '10.72.42.11', process: '' },
      protocol: 'tcp',
      port: 8443,
      proof: 'heard hourly',
    },
  ],
};

const needsOf = (given: EstateFacts) => {
  const { graph, numberOf } = estateGraph(given);
  const web = numberOf({ kind: 'service', id: '1 fareweb' });
  return graph.needs
    .filter(({ of, kind }) => of === web && kind === 'talks to')
    .map(({ from, atLeast, each }) => ({ from: from.map((at) => graph.things[at]?.name), atLeast, each }));
};

test('who asks one of two that copy to each other asks either, and each has its own evidence', () => {
  expect(needsOf(facts)[0]).toEqual({
    from: ['tallydb on base-1', 'tallydb on base-2'],
    atLeast: 1,
    each: [['heard today'], ['stands in: it serves tcp/5500 too']],
  });
});

test('an endpoint that is asked is told of, and gone on without: nobody knows what it is to who asks', () => {
  expect(needsOf(facts)[1]).toEqual({ from: ['10.72.42.11'], atLeast: 0, each: [['heard hourly']] });
  // of an address that nobody knows nothing is known
  expect(needsOf({ ...facts, endpoints: [] })).toHaveLength(1);
});

test('of two that talk a lot the first conversations are told, the rest is counted', () => {
  const many = [1, 2, 3, 4, 5].map((nth) => ({ ...facts.talks[0]!, proof: `heard ${nth} times` }));
  expect(needsOf({ ...facts, talks: many })[0]?.each).toEqual([
    ['heard 1 times', 'heard 2 times', 'heard 3 times', 'and 2 more'],
  ]);
});

test('all that route into a network are its gateways; where a virtual router is told, those that carry it', () => {
  const groupsOf = (given: EstateFacts) => {
    const { graph } = estateGraph(given);
    return graph.gatewayGroups.map(({ gateways, network, isVirtual }) => ({
      network,
      isVirtual,
      gateways: gateways.map((at) => graph.things[at]?.name),
    }));
  };
  expect(groupsOf(facts)).toEqual([{ network: '10.72.42.0/24', isVirtual: false, gateways: ['edge-1', 'edge-2'] }]);
  const virtualRouters = [{ addresses: ['10.72.42.1'], deviceId: 8 }];
  expect(groupsOf({ ...facts, virtualRouters })).toEqual([
    { network: '10.72.42.0/24', isVirtual: true, gateways: ['edge-2'] },
  ]);
});
