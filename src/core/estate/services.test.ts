import { describe, expect, test } from '@jest/globals';
import type { PhysicalRow } from '../mib/entity';
import { faultsOf } from './interpretFaults';
import { peersOf, routeCountsOf, routesOf } from './interpretRouting';
import { conversationsOf, servicesOf } from './interpretServices';
import { softwareName } from './softwareName';
import { harvestOf } from './testHarvest';

const process = (number: number, name: string) => ({ process: number, name, path: `/opt/${name}`, parameters: '' });

describe('services', () => {
  test('a listener has its process; several sockets of one process on one port and address are one service; passing UDP sockets are none', () => {
    const services = servicesOf(
      harvestOf({
        running: [process(511, 'tallydb'), process(512, 'tallydb')],
        listeners: [
          { protocol: 'tcp', address: '*', port: 5500, process: 511 },
          { protocol: 'tcp', address: '*', port: 5500, process: 512 },
          { protocol: 'tcp', address: '127.0.0.1', port: 80, process: null },
          { protocol: 'udp', address: '*', port: 40_123, process: 511 },
          { protocol: 'udp', address: '*', port: 161, process: 99 },
        ],
      }),
    );
    expect(
      services.map(({ protocol, port, process: name, address }) => `${protocol} ${address} ${port} ${name}`),
    ).toEqual(['tcp 127.0.0.1 80 ', 'udp * 161 ', 'tcp * 5500 tallydb']);
  });
  const connection = (local: string, remote: string, process = 511) => {
    const [localAddress = '', localPort] = local.split(' ');
    const [remoteAddress = '', remotePort] = remote.split(' ');
    return { localAddress, localPort: Number(localPort), remoteAddress, remotePort: Number(remotePort), process };
  };
  const listener = (port: number) => ({ protocol: 'tcp' as const, address: '*', port, process: null });
  const talk = (connections: ReturnType<typeof connection>[], listens: number[] = []) =>
    conversationsOf(
      harvestOf({ running: [process(511, 'fareweb')], connections, listeners: listens.map(listener) }),
    ).map(({ role, process: name, peer, port, basis }) => `${role} ${name} ${peer} ${port} ${basis}`);
  test('connections within the machine are left out, the others name the process at this end', () => {
    const found = talk([
      connection('10.72.1.11 40000', '10.72.1.12 5500'),
      connection('127.0.0.1 40000', '127.0.0.1 5500'),
      connection('10.72.1.11 40000', '10.72.1.11 5500'),
      connection('::1 40000', '::1 5500'),
    ]);
    expect(found).toEqual(['client fareweb 10.72.1.12 5500 port']);
  });
  test('connections of one process to the same port are one conversation, of another process another', () => {
    const found = talk([
      connection('10.72.1.11 40000', '10.72.1.12 5500'),
      connection('10.72.1.11 40001', '10.72.1.12 5500'),
      connection('10.72.1.11 40002', '10.72.1.12 5500', 77),
    ]);
    expect(found).toEqual(['client fareweb 10.72.1.12 5500 port', 'client  10.72.1.12 5500 port']);
  });
  test('whoever listens serves; where nobody is known to, whoever has the port that is not handed out', () => {
    expect(talk([connection('10.72.1.11 60000', '10.72.1.12 41000')], [60_000])).toEqual([
      'server fareweb 10.72.1.12 60000 listener',
    ]);
    expect(talk([connection('10.72.1.11 443', '10.72.1.12 5500')], [80])).toEqual([
      'client fareweb 10.72.1.12 5500 listener',
    ]);
    expect(talk([connection('10.72.1.11 5500', '10.72.1.12 50000')])).toEqual(['server fareweb 10.72.1.12 5500 port']);
    expect(talk([connection('10.72.1.11 50001', '10.72.1.12 50000')])).toEqual([
      'client fareweb 10.72.1.12 50000 port',
    ]);
  });
});

test('routes that somebody configured are facts, learned ones are counted', () => {
  const route = (destination: string, nextHop: string | null, protocol: 'local' | 'static' | 'bgp') => ({
    destination,
    nextHop,
    ifIndex: 3,
    protocol,
  });
  const harvest = harvestOf({
    routes: [
      route('0.0.0.0/0', '10.72.0.5', 'static'),
      route('10.72.4.0/24', null, 'local'),
      route('10.72.4.1/32', null, 'local'),
      route('127.0.0.0/8', null, 'local'),
      route('10.99.0.0/16', '10.72.0.9', 'bgp'),
    ],
    contexts: [
      {
        context: 'ticketing',
        addresses: [],
        neighbourAddresses: [],
        forwarding: [],
        ifIndexByBridgePort: new Map(),
        routes: [route('10.72.90.0/30', null, 'local')],
      },
    ],
  });
  expect(
    routesOf(harvest, new Map([[3, 'wan1']])).map(({ destination, port, vrf }) => [destination, port, vrf]),
  ).toEqual([
    ['0.0.0.0/0', 'wan1', ''],
    ['10.72.4.0/24', 'wan1', ''],
    ['10.72.90.0/30', 'wan1', 'ticketing'],
  ]);
  expect(routeCountsOf(harvest)).toEqual({ static: 1, local: 3, bgp: 1 });
});

test('a peer talks when it is established or adjacent; one that was switched off says so', () => {
  const bgp = {
    address: '10.72.250.2',
    identifier: '',
    localAddress: '10.72.0.6',
    localAs: 64_701,
    remoteAs: 64_690,
    establishedSeconds: null,
  };
  const peers = peersOf(
    harvestOf({
      bgpPeers: [
        { ...bgp, state: 'established', enabled: true },
        { ...bgp, state: 'idle', enabled: false },
      ],
      ospfNeighbours: [
        { address: '10.72.0.1', ifIndex: null, routerId: '10.72.0.1', state: 'twoWay' },
        { address: '10.72.0.2', ifIndex: null, routerId: '10.72.0.2', state: 'init' },
      ],
    }),
  );
  expect(peers.map(({ state, up }) => [state, up])).toEqual([
    ['established', true],
    ['switched off', false],
    ['twoWay', true],
    ['init', false],
  ]);
});

test('faults: what is disabled or raises an alarm, with what to do; an empty slot is none', () => {
  const row = (entPhysicalIndex: number, kind: PhysicalRow['class']): [number, PhysicalRow] => [
    entPhysicalIndex,
    {
      entPhysicalIndex,
      description: '',
      containedIn: 0,
      class: kind,
      position: 0,
      name: '',
      hardwareRevision: '',
      firmwareRevision: '',
      softwareRevision: '',
      serial: '',
      vendor: '',
      model: '',
      assetId: '',
      replaceable: true,
    },
  ];
  const state = {
    admin: 'unlocked' as const,
    oper: 'enabled' as const,
    alarms: [],
    standby: 'unknown' as const,
    changedAt: null,
  };
  const faults = faultsOf(
    {
      clockAheadSeconds: -10_900,
      moduleStates: [
        { ...state, entPhysicalIndex: 1, oper: 'disabled', changedAt: '2026-11-21T03:12:00' },
        { ...state, entPhysicalIndex: 2, alarms: ['minor', 'underRepair'] },
        { ...state, entPhysicalIndex: 3, oper: 'disabled' },
        { ...state, entPhysicalIndex: 4, alarms: ['unknown'] },
      ],
      sensors: [{ entPhysicalIndex: 5, type: 'celsius', unit: '°C', value: null, state: 'nonoperational' }],
      readings: [
        { name: 'Processor load', value: 93, unit: '%', above: 80 },
        { name: 'Battery', value: 40, unit: '%', below: 50 },
        { name: 'Clients', value: 3, unit: '' },
      ],
    },
    new Map([row(1, 'powerSupply'), row(2, 'fan'), row(3, 'container'), row(4, 'module'), row(5, 'sensor')]),
    new Map([[1, 'box / Supply 1']]),
  );
  expect(
    faults.map(({ subsystem, part, severity, message, since }) => [subsystem, part, severity, message, since]),
  ).toEqual([
    ['power', 'box / Supply 1', 'critical', 'does not work', '2026-11-21T03:12:00'],
    ['cooling', 'entity 2', 'warning', 'alarm: minor, under repair', null],
    ['sensors', 'entity 5', 'warning', 'the sensor is broken', null],
    ['readings', 'Processor load', 'warning', 'is above 80 %', null],
    ['readings', 'Battery', 'warning', 'is below 50 %', null],
    ['clock', 'clock', 'warning', 'is about 3 h behind', null],
  ]);
});

test.each([
  ['openssh-server_9.2p1-2_amd64', 'openssh-server', '9.2p1-2'],
  ['bash-5.1.8-6.x86_64', 'bash', '5.1.8-6'],
  ['chrony 4.3-2', 'chrony', '4.3-2'],
  ['Tally Studio, version 2.1', 'Tally Studio', '2.1'],
  ['busd', 'busd', ''],
  ['', '', ''],
])('“%s” is %s in version “%s”', (text, name, version) => {
  expect(softwareName(text)).toEqual({ name, version });
});
