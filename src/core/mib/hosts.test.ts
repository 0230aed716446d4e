import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseBgpPeers, bgpTables } from './bgp';
import { parseContextNames, entityTables } from './entity';
import { entityStateTables, parseEntityStates } from './entityState';
import { dateAndTime, hostSoftwareTables, parseInstalled, parseRunning } from './hostSoftware';
import { indexedAddress } from './inetAddress';
import { interfaceTables, parseInterfaces } from './interfaces';
import { mauTables, parseMau } from './mau';
import { ospfTables, parseOspfNeighbours } from './ospf';
import { parseRoutes, routeCount, routeTables } from './routes';
import { parseSensors, sensorTables } from './sensor';
import { gauge, integer, octets, oid, rows, text } from './testVarbinds';
import { parseConnections, parseListeners, transportTables } from './transport';
import type { SnmpValue, Varbind } from './varbind';
import { parseHypervisor, uuidText, vmTables } from './virtualMachines';

const address = (value: string): SnmpValue => ({ type: 'ipAddress', value });
const v6 = (tail: number) => [0xfd, ...Array<number>(14).fill(0), tail];

describe('addresses inside an index', () => {
  test('each type has its width; zones follow the octets; unknown and empty is any', () => {
    expect(indexedAddress([1, 4, 10, 72, 4, 1, 99], 0)).toEqual({ address: '10.72.4.1', zone: null, next: 6 });
    expect(indexedAddress([7, 2, 16, ...v6(1)], 1)).toEqual({ address: 'fd00::1', zone: null, next: 19 });
    expect(indexedAddress([4, 20, ...v6(2), 0, 0, 0, 3], 0)).toEqual({ address: 'fd00::2', zone: 3, next: 22 });
    expect(indexedAddress([3, 8, 10, 72, 4, 1, 0, 0, 1, 0], 0)).toEqual({ address: '10.72.4.1', zone: 256, next: 10 });
    expect(indexedAddress([0, 0, 22], 0)).toEqual({ address: '*', zone: null, next: 2 });
  });
  test('what is too short, too long, of no known type or no octet is none', () => {
    for (const index of [
      [],
      [1],
      [1, 4, 10, 72],
      [1, 5, 10, 72, 4, 1, 1],
      [9, 4, 10, 72, 4, 1],
      [0, 1, 5],
      [1, 4, 10, 72, 4, 256],
      [16, 3, 97, 98, 99],
    ])
      expect(indexedAddress(index, 0)).toBeNull();
  });
});

describe('listeners and connections', () => {
  test('TCP listeners and unbound UDP endpoints with their processes; process 0 is none', () => {
    const found = parseListeners([
      ...rows(transportTables.tcpListenerEntry, '1.4.0.0.0.0.22', { 4: gauge(437) }),
      ...rows(transportTables.tcpListenerEntry, `2.16.${Array(16).fill(0).join('.')}.22`, { 4: gauge(0) }),
      ...rows(transportTables.udpEndpointEntry, '1.4.10.72.1.13.7007.1.4.0.0.0.0.0.1', { 8: gauge(548) }),
      ...rows(transportTables.udpEndpointEntry, '0.0.161.0.0.0.1', { 8: gauge(474) }),
      ...rows(transportTables.udpEndpointEntry, '1.4.10.72.1.13.40001.1.4.10.72.1.14.53.1', { 8: gauge(548) }),
    ]);
    expect(found).toEqual([
      { protocol: 'tcp', address: '0.0.0.0', port: 22, process: 437 },
      { protocol: 'tcp', address: '::', port: 22, process: null },
      { protocol: 'udp', address: '10.72.1.13', port: 7007, process: 548 },
      { protocol: 'udp', address: '*', port: 161, process: 474 },
    ]);
  });
  test('only established connections count, of both families', () => {
    const found = parseConnections([
      ...rows(transportTables.tcpConnectionEntry, '1.4.10.72.1.11.41000.1.4.10.72.1.12.5500', {
        7: integer(5),
        8: gauge(511),
      }),
      ...rows(transportTables.tcpConnectionEntry, '1.4.10.72.1.11.41001.1.4.10.72.1.12.5500', {
        7: integer(11),
        8: gauge(0),
      }),
      ...rows(transportTables.tcpConnectionEntry, `2.16.${v6(1).join('.')}.5500.2.16.${v6(2).join('.')}.40000`, {
        7: integer(5),
        8: gauge(9),
      }),
    ]);
    expect(found).toEqual([
      { localAddress: '10.72.1.11', localPort: 41_000, remoteAddress: '10.72.1.12', remotePort: 5500, process: 511 },
      { localAddress: 'fd00::1', localPort: 5500, remoteAddress: 'fd00::2', remotePort: 40_000, process: 9 },
    ]);
  });
});

describe('software', () => {
  test('processes by number, packages with the day they came', () => {
    expect(
      parseRunning(
        rows(hostSoftwareTables.hrSWRunEntry, '548', {
          2: text('tallydb'),
          4: text('/opt/tally/bin/tallydb'),
          5: text('--role writer'),
          6: integer(4),
        }),
      ),
    ).toEqual([{ process: 548, name: 'tallydb', path: '/opt/tally/bin/tallydb', parameters: '--role writer' }]);
    expect(
      parseInstalled([
        ...rows(hostSoftwareTables.hrSWInstalledEntry, '1', {
          2: text('chrony 4.3-2'),
          4: integer(4),
          5: octets(0x07, 0xea, 11, 7, 22, 15, 0, 0),
        }),
        ...rows(hostSoftwareTables.hrSWInstalledEntry, '2', { 2: text(''), 4: integer(4) }),
      ]),
    ).toEqual([{ name: 'chrony 4.3-2', kind: 'application', installedAt: '2026-11-07T22:15:00' }]);
  });
  test('a date that is none is told as none', () => {
    for (const bytes of [
      [],
      [7, 234, 13, 1, 0, 0, 0, 0],
      [0, 0, 0, 0, 0, 0, 0, 0],
      [7, 234, 11, 7, 25, 0, 0, 0],
      [7, 234, 11],
    ])
      expect(dateAndTime(Uint8Array.from(bytes))).toBeNull();
    expect(dateAndTime(Uint8Array.from([7, 234, 2, 3, 4, 5, 6, 0, 0x2b, 1, 0]))).toBe('2026-02-03T04:05:06');
  });
});

describe('routes and routing neighbours', () => {
  test('both route tables give each route once; the mask becomes a length; a local route has no next hop', () => {
    const varbinds = [
      ...rows(routeTables.ipCidrRouteEntry, '0.0.0.0.0.0.0.0.0.10.72.0.5', {
        5: integer(3),
        6: integer(4),
        7: integer(3),
      }),
      ...rows(routeTables.inetCidrRouteEntry, '1.4.0.0.0.0.0.2.0.0.1.4.10.72.0.5', {
        7: integer(3),
        8: integer(4),
        9: integer(3),
      }),
      ...rows(routeTables.inetCidrRouteEntry, '1.4.10.72.4.0.24.2.0.0.1.4.0.0.0.0', {
        7: integer(9),
        8: integer(3),
        9: integer(2),
      }),
      ...rows(routeTables.inetCidrRouteEntry, `2.16.${v6(0).join('.')}.64.3.0.0.7.0.0`, {
        7: integer(9),
        8: integer(4),
        9: integer(13),
      }),
      ...rows(routeTables.inetCidrRouteEntry, '1.4.10.99.0.0.16.2.0.0.1.4.0.0.0.0', {
        7: integer(1),
        8: integer(5),
        9: integer(3),
      }),
      { oid: `${routeTables.inetCidrRouteNumber}.0`, value: gauge(4) },
    ];
    expect(parseRoutes(varbinds)).toEqual([
      { destination: '0.0.0.0/0', nextHop: '10.72.0.5', ifIndex: 3, protocol: 'static' },
      { destination: '10.72.4.0/24', nextHop: null, ifIndex: 9, protocol: 'local' },
      { destination: 'fd00::/64', nextHop: null, ifIndex: 9, protocol: 'ospf' },
    ]);
    expect(routeCount(varbinds)).toBe(4);
    expect(routeCount([])).toBeNull();
  });
  test('BGP and OSPF neighbours with their states', () => {
    expect(
      parseBgpPeers([
        ...rows(bgpTables.bgpPeerEntry, '10.72.250.2', {
          1: address('0.0.0.0'),
          2: integer(3),
          3: integer(2),
          5: address('10.72.0.6'),
          9: integer(64_690),
          16: gauge(77),
        }),
        { oid: `${bgpTables.bgpLocalAs}.0`, value: integer(64_701) },
      ]),
    ).toEqual([
      {
        address: '10.72.250.2',
        identifier: '0.0.0.0',
        localAddress: '10.72.0.6',
        localAs: 64_701,
        remoteAs: 64_690,
        state: 'active',
        enabled: true,
        establishedSeconds: null,
      },
    ]);
    expect(
      parseOspfNeighbours([
        ...rows(ospfTables.ospfNbrEntry, '10.72.0.1.0', { 3: address('10.72.0.1'), 6: integer(8) }),
        ...rows(ospfTables.ospfNbrEntry, '0.0.0.0.14', { 3: address('10.72.0.2'), 6: integer(4) }),
      ]),
    ).toEqual([
      { address: '10.72.0.1', ifIndex: null, routerId: '10.72.0.1', state: 'full' },
      { address: '0.0.0.0', ifIndex: 14, routerId: '10.72.0.2', state: 'twoWay' },
    ]);
  });
});

describe('health', () => {
  test('sensor values in their units: scale and decimals of RFC 3433', () => {
    const sensor = (index: number, type: number, scale: number, precision: number, value: number, state = 1) =>
      rows(sensorTables.entPhySensorEntry, String(index), {
        1: integer(type),
        2: integer(scale),
        3: integer(precision),
        4: integer(value),
        5: integer(state),
      });
    const values = parseSensors([
      ...sensor(1, 8, 8, 0, 24_500),
      ...sensor(2, 3, 9, 1, 2301),
      ...sensor(3, 6, 10, 0, 3),
      ...sensor(4, 10, 9, -2, 6200),
      ...sensor(5, 8, 9, 0, 1_000_000_000),
      ...sensor(6, 8, 9, 0, 0, 3),
      ...sensor(7, 4, 8, 2, 119),
    ]);
    expect(values.map(({ value, unit, state }) => [value, unit, state])).toEqual([
      [24.5, '°C', 'ok'],
      [230.1, 'V', 'ok'],
      [3000, 'W', 'ok'],
      [6200, '/min', 'ok'],
      [null, '°C', 'ok'],
      [null, '°C', 'nonoperational'],
      [0.00119, 'V', 'ok'],
    ]);
  });
  test('states and alarms of parts, high bit first', () => {
    expect(
      parseEntityStates(
        rows(entityStateTables.entStateEntry, '12', {
          1: octets(0x07, 0xea, 11, 21, 3, 12, 0, 0),
          3: integer(2),
          5: octets(0b0010_0100),
          6: integer(2),
        }),
      ),
    ).toEqual([
      {
        entPhysicalIndex: 12,
        admin: 'unknown',
        oper: 'disabled',
        alarms: ['critical', 'warning'],
        standby: 'hotStandby',
        changedAt: '2026-11-21T03:12:00',
      },
    ]);
  });
});

test('attachment units: type, duplex and negotiation; the first of an interface counts', () => {
  const units = parseMau([
    ...rows(mauTables.ifMauEntry, '3.1', { 3: oid('1.3.6.1.2.1.26.4.29') }),
    ...rows(mauTables.ifMauEntry, '3.2', { 3: oid('1.3.6.1.2.1.26.4.30') }),
    ...rows(mauTables.ifMauEntry, '4.1', { 3: oid('0.0') }),
    ...rows(mauTables.ifMauAutoNegEntry, '3.1', { 1: integer(2) }),
  ]);
  expect([...units.values()]).toEqual([
    { ifIndex: 3, media: '1000BASE-T', duplex: 'half', autoNegotiation: false },
    { ifIndex: 4, media: '', duplex: 'unknown', autoNegotiation: null },
  ]);
});

test('where the LAG MIB is absent the members of an aggregate are what lies below it', () => {
  const port = (index: number, type: number) =>
    rows(interfaceTables.ifEntry, String(index), { 2: text(`p${index}`), 3: integer(type) });
  const stack = ['10.1', '10.2', '0.10', '1.0', '2.0', '20.3'].flatMap((index) =>
    rows(interfaceTables.ifStackEntry, index, { 3: integer(1) }),
  );
  expect(
    parseInterfaces([...port(1, 6), ...port(2, 6), ...port(3, 6), ...port(10, 161), ...port(20, 135), ...stack]).map(
      ({ aggregate }) => aggregate,
    ),
  ).toEqual([10, 10, null, null, null]);
});

test('contexts of logical entities, each once, without the default one', () => {
  expect(
    parseContextNames([
      ...rows(entityTables.entLogicalEntry, '1', { 8: text('ticketing') }),
      ...rows(entityTables.entLogicalEntry, '2', { 8: text('') }),
      ...rows(entityTables.entLogicalEntry, '3', { 8: text('ticketing') }),
    ]),
  ).toEqual(['ticketing']);
});

describe('virtual machines', () => {
  test('the hypervisor, its machines with their memory in bytes, and their adapters', () => {
    const found = parseHypervisor([
      { oid: `${vmTables.vmHvSoftware}.0`, value: text('Brannick Host') },
      { oid: `${vmTables.vmHvVersion}.0`, value: text('4.2') },
      ...rows(vmTables.vmEntry, '3', {
        2: text('vm-pis-1'),
        3: octets(...Array.from({ length: 16 }, (_, at) => at)),
        4: text('Ostermere image 12'),
        5: integer(1),
        6: integer(4),
        9: integer(4),
        12: integer(1_048_576),
        13: integer(8192),
      }),
      ...rows(vmTables.vmNetworkEntry, '3.1', { 2: integer(0), 3: integer(2), 5: octets(2, 0x42, 0x52, 0, 0, 1) }),
    ]);
    expect(found).toEqual({
      software: 'Brannick Host',
      version: '4.2',
      machines: [
        {
          vmIndex: 3,
          name: 'vm-pis-1',
          uuid: '00010203-0405-0607-0809-0a0b0c0d0e0f',
          system: 'Ostermere image 12',
          state: 'running',
          processors: 4,
          memoryBytes: 8 * 2 ** 30,
          adapters: [{ mac: '02:42:52:00:00:01', parentIfIndex: 2 }],
        },
      ],
    });
    expect(parseHypervisor([])).toBeNull();
  });
  test.each([
    [1, 'unknown'],
    [4, 'running'],
    [6, 'suspended'],
    [8, 'migrating'],
    [11, 'off'],
    [99, 'unknown'],
  ])('a machine in state %s is %s: what does not run is not all off', (number, state) => {
    expect(parseHypervisor(rows(vmTables.vmEntry, '1', { 2: text('vm'), 6: integer(number) }))?.machines).toMatchObject(
      [{ state }],
    );
  });
  test('a UUID as text or octets, else none', () => {
    expect([
      uuidText(new TextEncoder().encode('5A1D0E00-7200-4000-8000-0242529975D9')),
      uuidText(Uint8Array.from([1, 2])),
      uuidText(undefined),
    ]).toEqual(['5a1d0e00-7200-4000-8000-0242529975d9', '', '']);
  });
});

describe('whatever an agent answers', () => {
  const entries = [
    transportTables.tcpListenerEntry,
    transportTables.tcpConnectionEntry,
    transportTables.udpEndpointEntry,
    hostSoftwareTables.hrSWRunEntry,
    hostSoftwareTables.hrSWInstalledEntry,
    routeTables.inetCidrRouteEntry,
    routeTables.ipCidrRouteEntry,
    bgpTables.bgpPeerEntry,
    ospfTables.ospfNbrEntry,
    sensorTables.entPhySensorEntry,
    entityStateTables.entStateEntry,
    mauTables.ifMauEntry,
    mauTables.ifMauAutoNegEntry,
    vmTables.vmEntry,
    vmTables.vmNetworkEntry,
    entityTables.entLogicalEntry,
  ];
  const value: fc.Arbitrary<SnmpValue> = fc.oneof(
    fc.integer().map((number): SnmpValue => ({ type: 'integer', value: number })),
    fc.uint8Array({ maxLength: 20 }).map((bytes): SnmpValue => ({ type: 'octets', value: bytes })),
    fc.constantFrom('0.0', '1.3.6.1.2.1.26.4.30', '10.72.0.1').map((name): SnmpValue => ({ type: 'oid', value: name })),
    fc.bigInt({ min: 0n, max: 2n ** 64n - 1n }).map((number): SnmpValue => ({ type: 'counter64', value: number })),
  );
  const varbind: fc.Arbitrary<Varbind> = fc
    .record({
      entry: fc.constantFrom(...entries),
      column: fc.integer({ min: 1, max: 17 }),
      index: fc.array(fc.oneof(fc.integer({ min: 0, max: 20 }), fc.integer({ min: 0, max: 2 ** 32 - 1 })), {
        minLength: 1,
        maxLength: 24,
      }),
      value,
    })
    .map(({ entry, column, index, value: answered }) => ({
      oid: [entry, column, ...index].join('.'),
      value: answered,
    }));
  test('the parsers give rows with numbers in their ranges and never throw', () => {
    fc.assert(
      fc.property(fc.array(varbind, { maxLength: 30 }), (varbinds) => {
        for (const { port } of parseListeners(varbinds)) expect([port > 0, port < 65_536]).toEqual([true, true]);
        for (const { destination } of parseRoutes(varbinds)) expect(destination).toMatch(/^[0-9a-f.:*]+\/\d{1,3}$/);
        for (const { value: read } of parseSensors(varbinds)) expect(read === null || Number.isFinite(read)).toBe(true);
        for (const { uuid } of parseHypervisor(varbinds)?.machines ?? [])
          expect(uuid === '' || uuid.length === 36).toBe(true);
        parseConnections(varbinds);
        parseRunning(varbinds);
        parseInstalled(varbinds);
        parseBgpPeers(varbinds);
        parseOspfNeighbours(varbinds);
        parseEntityStates(varbinds);
        parseMau(varbinds);
        parseContextNames(varbinds);
      }),
      { numRuns: 1500 },
    );
  });
});
