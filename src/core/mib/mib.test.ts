import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { bridgeTables, parseBridge } from './bridge';
import { cleanSerial, entityTables, parseAliasMapping, parsePhysical } from './entity';
import { hostTables, parseHost } from './host';
import { interfaceTables, parseInterfaces } from './interfaces';
import { ipTables, parseInterfaceAddresses, parseNeighbourAddresses } from './ip';
import { lldpTables, parseLldp } from './lldp';
import { parsePowerGroups, parsePoweringPorts, powerEthernetTables } from './powerEthernet';
import { parseSystem, systemObjects } from './system';
import { portsOfBitmap } from './table';
import { counter, gauge, integer, octets, oid, rows, text } from './testVarbinds';
import { textOf, type SnmpValue, type Varbind } from './varbind';
import { parseWalk, WalkError } from './walkFile';

test('text is UTF-8, else Latin-1, without the padding agents add', () => {
  expect(textOf(octets(0x4b, 0xc3, 0xa4, 0))).toBe('Kä');
  expect(textOf(octets(0x4b, 0xe4))).toBe('Kä');
  expect(textOf(text('two\r\nlines'))).toBe('two lines');
});

test('the system group, with the engine id as hex', () => {
  const system = parseSystem([
    { oid: `${systemObjects.sysDescr}.0`, value: text('Kestrane K-Ring 12') },
    { oid: `${systemObjects.sysUpTime}.0`, value: { type: 'timeticks', value: 12_345 } },
    { oid: `${systemObjects.snmpEngineID}.0`, value: octets(0x80, 0, 0xe6) },
  ]);
  expect(system).toMatchObject({ description: 'Kestrane K-Ring 12', uptimeSeconds: 123, engineId: '8000e6', name: '' });
  expect(parseSystem([])).toBeNull();
});

describe('interfaces', () => {
  test('high speeds come from ifHighSpeed, names from ifXTable, duplex and aggregate from their own tables', () => {
    const [port] = parseInterfaces([
      ...rows(interfaceTables.ifEntry, '7', {
        2: text('port seven'),
        3: integer(6),
        4: integer(9216),
        5: gauge(4_294_967_295),
        6: octets(2, 0x4b, 0x45, 0, 0, 7),
        7: integer(1),
        8: integer(2),
        9: { type: 'timeticks', value: 500 },
      }),
      ...rows(interfaceTables.ifXEntry, '7', {
        1: text('U1'),
        15: gauge(100_000),
        17: integer(1),
        18: text('to core'),
      }),
      ...rows(interfaceTables.dot3StatsEntry, '7', { 19: integer(3) }),
      ...rows(interfaceTables.dot3adAggPortEntry, '7', { 13: integer(1001) }),
    ]);
    expect(port).toEqual({
      ifIndex: 7,
      name: 'U1',
      alias: 'to core',
      description: 'port seven',
      ifType: 6,
      mtu: 9216,
      speedBps: 1e11,
      mac: '02:4b:45:00:00:07',
      admin: 'up',
      oper: 'down',
      lastChangeUptimeSeconds: 5,
      connectorPresent: true,
      duplex: 'full',
      aggregate: 1001,
      media: '',
      autoNegotiation: null,
      lost: null,
      countedSinceUptimeSeconds: null,
    });
  });
  test('frames lost are told in one order: errors in and out, discards in and out; what is not counted is nought beside what is', () => {
    const [port, other] = parseInterfaces([
      ...rows(interfaceTables.ifEntry, '1', {
        2: text('a'),
        13: counter(3),
        14: counter(1),
        19: counter(4),
        20: counter(2),
      }),
      ...rows(interfaceTables.ifEntry, '2', { 2: text('b'), 14: counter(4_294_967_295) }),
    ]);
    expect([port?.lost, other?.lost]).toEqual([
      [1, 2, 3, 4],
      [4_294_967_295, 0, 0, 0],
    ]);
  });
  test('a low speed is not rounded away, a port that is its own aggregate has none', () => {
    const [port] = parseInterfaces([
      ...rows(interfaceTables.ifEntry, '1', { 2: text('a'), 5: gauge(64_000) }),
      ...rows(interfaceTables.ifXEntry, '1', { 15: gauge(0) }),
      ...rows(interfaceTables.dot3adAggPortEntry, '1', { 13: integer(1) }),
    ]);
    expect(port).toMatchObject({ speedBps: 64_000, aggregate: null, name: 'a' });
  });
});

describe('modules', () => {
  test('placeholders are no serials', () => {
    const none = [
      'n/a',
      'None',
      '0000',
      '',
      'Not Available',
      'NULL',
      'Unspecified',
      '123456789',
      '0123456789',
      'XXXX',
      '........',
      'To be filled by O.E.M.',
    ];
    expect(none.map((serial) => cleanSerial(serial))).toEqual(none.map(() => ''));
    expect(cleanSerial('Kestrane', 'kestrane')).toBe('');
    const real = ['KA48-1', '1234', 'AAB', '100200300', 'Kestrane 7'];
    expect(real.map((serial) => cleanSerial(serial, 'Kestrane'))).toEqual(real);
  });
  test('rows and the mapping to ports', () => {
    const [row] = parsePhysical(
      rows(entityTables.entPhysicalEntry, '3', {
        2: text('Supply'),
        4: integer(1),
        5: integer(6),
        6: integer(2),
        7: text('Supply 2'),
        11: text('KP-2'),
        16: integer(1),
      }),
    );
    expect(row).toMatchObject({
      entPhysicalIndex: 3,
      containedIn: 1,
      class: 'powerSupply',
      position: 2,
      serial: 'KP-2',
      replaceable: true,
    });
    expect(
      parseAliasMapping(rows(entityTables.entAliasMappingEntry, '9.0', { 2: oid('1.3.6.1.2.1.2.2.1.1.14') })),
    ).toEqual(new Map([[9, 14]]));
  });
});

describe('addresses', () => {
  test('the old and the new table give each address once; IPv6 only from the new', () => {
    const found = parseInterfaceAddresses([
      ...rows(ipTables.ipAddrEntry, '10.72.4.1', { 2: integer(5), 3: { type: 'ipAddress', value: '255.255.255.0' } }),
      ...rows(ipTables.ipAddressEntry, '1.4.10.72.4.1', { 3: integer(5), 4: integer(1), 5: oid('0.0') }),
      ...rows(ipTables.ipAddressEntry, `2.16.${[0xfd, ...Array<number>(14).fill(0), 1].join('.')}`, {
        3: integer(5),
        4: integer(1),
        5: oid('1.3.6.1.2.1.4.32.1.5.5.2.16.253.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.64'),
      }),
    ]);
    expect(found).toEqual([
      { address: '10.72.4.1', ifIndex: 5, prefixLength: 24 },
      { address: 'fd00::1', ifIndex: 5, prefixLength: 64 },
    ]);
  });
  test('neighbours of both tables; invalid and empty rows are left out; an index too short is passed over', () => {
    const found = parseNeighbourAddresses([
      ...rows(ipTables.ipNetToMediaEntry, '5.10.72.4.50', { 2: octets(2, 0x43, 0x41, 0, 0, 1), 4: integer(3) }),
      ...rows(ipTables.ipNetToMediaEntry, '5.10.72.4.51', { 2: octets(2, 0x43, 0x41, 0, 0, 2), 4: integer(2) }),
      ...rows(ipTables.ipNetToMediaEntry, '5.10.72.4.52', { 2: octets(0, 0, 0, 0, 0, 0), 4: integer(3) }),
      ...rows(ipTables.ipNetToPhysicalEntry, '5.2.16.253', { 4: octets(2, 0, 0, 0, 0, 1), 6: integer(3) }),
    ]);
    expect(found).toEqual([{ address: '10.72.4.50', mac: '02:43:41:00:00:01', ifIndex: 5 }]);
  });
});

describe('bridges', () => {
  const base = [
    { oid: `${bridgeTables.dot1dBaseBridgeAddress}.0`, value: octets(2, 0x4b, 0x45, 0, 0, 1) },
    ...rows(bridgeTables.dot1dBasePortEntry, '3', { 2: integer(103) }),
  ];
  test('a filtering database is not a VLAN', () => {
    const bridge = parseBridge([
      ...base,
      ...rows(bridgeTables.dot1qVlanCurrentEntry, '0.30', { 3: gauge(1030), 4: octets(0x20), 5: octets(0) }),
      ...rows(bridgeTables.dot1qTpFdbEntry, '1030.2.67.65.0.0.9', { 2: integer(3), 3: integer(3) }),
      ...rows(bridgeTables.dot1qTpFdbEntry, '1030.2.67.65.0.0.8', { 2: integer(3), 3: integer(4) }),
    ]);
    expect(bridge?.forwarding).toEqual([{ mac: '02:43:41:00:00:09', bridgePort: 3, vlan: 30 }]);
    expect(bridge?.vlans).toEqual([{ vlan: 30, name: '', egressBridgePorts: [3], untaggedBridgePorts: [] }]);
    expect(bridge?.ifIndexByBridgePort.get(3)).toBe(103);
  });
  test('the plain table serves where there is no Q-BRIDGE; group addresses are nobody', () => {
    const bridge = parseBridge([
      ...base,
      ...rows(bridgeTables.dot1dTpFdbEntry, '2.67.65.0.0.9', { 2: integer(3), 3: integer(3) }),
      ...rows(bridgeTables.dot1dTpFdbEntry, '1.0.94.0.0.1', { 2: integer(3), 3: integer(3) }),
    ]);
    expect(bridge?.forwarding).toEqual([{ mac: '02:43:41:00:00:09', bridgePort: 3, vlan: null }]);
    expect(parseBridge([])).toBeNull();
  });
  test('a port list begins with the highest bit', () => {
    expect(portsOfBitmap(Uint8Array.from([0b1000_0001, 0b0100_0000]))).toEqual([1, 8, 10]);
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 1, max: 96 })), (ports) => {
        const bits = new Uint8Array(12);
        for (const port of ports) bits[(port - 1) >> 3] = (bits[(port - 1) >> 3] ?? 0) | (0x80 >> ((port - 1) % 8));
        expect(portsOfBitmap(bits)).toEqual([...ports].sort((x, y) => x - y));
      }),
    );
  });
  test('spanning tree: bridge ids lose their priority, port ids too', () => {
    const bridge = parseBridge([
      ...base,
      ...rows(bridgeTables.dot1dStpPortEntry, '3', {
        3: integer(2),
        8: octets(0x80, 0, 2, 0x4b, 0x45, 0, 0, 9),
        9: octets(0x80, 7),
      }),
    ]);
    expect(bridge?.stp.ports).toEqual([
      { bridgePort: 3, state: 'blocking', designatedBridge: '02:4b:45:00:00:09', designatedPort: 7 },
    ]);
  });
});

test('LLDP: subtypes decide what octets mean; capabilities are counted from the high bit', () => {
  const lldp = parseLldp([
    { oid: `${lldpTables.lldpLocChassisIdSubtype}.0`, value: integer(4) },
    { oid: `${lldpTables.lldpLocChassisId}.0`, value: octets(2, 0x4b, 0x45, 0, 0, 1) },
    ...rows(lldpTables.lldpLocPortEntry, '12', { 2: integer(5), 3: text('U1'), 4: text('uplink') }),
    ...rows(lldpTables.lldpRemEntry, '0.12.1', {
      4: integer(5),
      5: octets(1, 10, 72, 0, 1),
      6: integer(3),
      7: octets(2, 0x4b, 0x45, 0, 0, 2),
      9: text('sgh-core-1'),
      12: octets(0x28),
    }),
    ...rows(lldpTables.lldpRemManAddrEntry, '0.12.1.1.4.10.72.0.1', { 3: integer(2) }),
  ]);
  expect(lldp?.chassisId).toBe('02:4b:45:00:00:01');
  expect(lldp?.neighbours[0]).toMatchObject({
    localPortNumber: 12,
    chassisIdSubtype: 'networkAddress',
    chassisId: '10.72.0.1',
    portId: '02:4b:45:00:00:02',
    capabilities: ['bridge', 'router'],
    managementAddresses: ['10.72.0.1'],
  });
});
test('the VLAN for phones is that of the voice policy; one that is not known or out of range is none', () => {
  const policy = (index: string, vlan: number, unknown = 2) =>
    rows(lldpTables.lldpXMedLocMediaPolicyEntry, index, { 2: integer(vlan), 5: integer(unknown) });
  const found = parseLldp([
    ...rows(lldpTables.lldpLocPortEntry, '1', { 2: integer(5), 3: text('1') }),
    ...policy('1.1', 50),
    ...policy('1.2', 60),
    ...policy('2.1', 50, 1),
    ...policy('3.1', 0),
    ...policy('4.1', 4095),
  ]);
  expect([...(found?.voiceVlans ?? [])]).toEqual([[1, 50]]);
});

test('host resources: units multiply, large volumes come back from negative numbers', () => {
  const host = parseHost([
    { oid: `${hostTables.hrMemorySize}.0`, value: integer(1024) },
    ...rows(hostTables.hrStorageEntry, '31', {
      2: oid('1.3.6.1.2.1.25.2.1.4'),
      3: text('/srv'),
      4: integer(4096),
      5: integer(-1),
      6: integer(10),
    }),
    ...rows(hostTables.hrDeviceEntry, '768', { 2: oid('1.3.6.1.2.1.25.3.1.3'), 3: text('16-core') }),
  ]);
  expect(host).toEqual({
    memoryBytes: 1024 * 1024,
    storage: [{ index: 31, kind: 'fixedDisk', name: '/srv', sizeBytes: 4_294_967_295 * 4096, usedBytes: 40_960 }],
    processors: ['16-core'],
  });
});

describe('power over Ethernet', () => {
  const port = (group: number, at: number, enabled: number, status: number, powerClass: number): Varbind[] =>
    [
      [3, enabled],
      [6, status],
      [10, powerClass],
    ].map(([column, value]) => ({
      oid: `1.3.6.1.2.1.105.1.1.1.${column}.${group}.${at}`,
      value: { type: 'integer', value: value ?? 0 },
    }));
  test('groups tell what they may give and what they give; one that tells half of it tells nothing', () => {
    const main = powerEthernetTables.pethMainPseEntry;
    expect(
      parsePowerGroups([
        ...rows(main, '1', { 2: gauge(370), 4: gauge(198) }),
        ...rows(main, '2', { 2: gauge(370) }),
        ...rows(main, '3', { 2: gauge(0), 4: gauge(0) }),
      ]),
    ).toEqual([{ group: 1, budgetWatts: 370, drawnWatts: 198 }]);
  });
  test('states and classes by their numbers; a class counts only while power flows', () => {
    expect(
      parsePoweringPorts([
        ...port(1, 1, 1, 3, 5),
        ...port(1, 2, 1, 2, 3),
        ...port(1, 3, 2, 1, 1),
        ...port(1, 4, 1, 99, 9),
      ]),
    ).toEqual([
      { group: 1, port: 1, enabled: true, state: 'delivering', class: 4 },
      { group: 1, port: 2, enabled: true, state: 'searching', class: null },
      { group: 1, port: 3, enabled: false, state: 'disabled', class: null },
      { group: 1, port: 4, enabled: true, state: 'unknown', class: null },
    ]);
  });
});

describe('walk files', () => {
  test('a word before a number is no part of it', () => {
    const walk = parseWalk(
      '.1.3.6.1.2.1.2.2.1.3.1001 = INTEGER: ieee8023adLag(161)\n.1.3.6.1.2.1.2.2.1.8.1 = INTEGER: up(1)',
    );
    expect(walk.map(({ value }) => value)).toEqual([integer(161), integer(1)]);
  });
  test('a MAC that is written as text is one', () => {
    const [row] = parseInterfaces(
      parseWalk('.1.3.6.1.2.1.2.2.1.2.1 = STRING: "x1"\n.1.3.6.1.2.1.2.2.1.6.1 = STRING: 2:4b:45:0:0:7'),
    );
    expect(row?.mac).toBe('02:4b:45:00:00:07');
  });
  test('every type the tools print', () => {
    const walk = parseWalk(
      [
        '.1.3.6.1.2.1.1.1.0 = STRING: "two\nlines"',
        '.1.3.6.1.2.1.1.2.0 = OID: .1.3.6.1.4.1.59101.1.48',
        '.1.3.6.1.2.1.1.3.0 = Timeticks: (12345) 0:02:03.45',
        '.1.3.6.1.2.1.2.2.1.6.1 = Hex-STRING: 02 4B 45 00 00 01 ',
        '.1.3.6.1.2.1.4.20.1.1.10.72.4.1 = IpAddress: 10.72.4.1',
        '.1.3.6.1.2.1.31.1.1.1.6.1 = Counter64: 18446744073709551615',
        '.1.3.6.1.2.1.1.5.0 = ""',
        '.1.3.6.1.2.1.9.9.0 = No Such Object available on this agent at this OID',
        '.1.3.6.1.2.1.2.1.0 = INTEGER: up(1)',
      ].join('\n'),
    );
    const value = (wanted: string) => walk.find((varbind) => varbind.oid === wanted)?.value;
    expect(textOf(value('1.3.6.1.2.1.1.1.0'))).toBe('two lines');
    expect(value('1.3.6.1.2.1.1.2.0')).toEqual({ type: 'oid', value: '1.3.6.1.4.1.59101.1.48' });
    expect(value('1.3.6.1.2.1.1.3.0')).toEqual({ type: 'timeticks', value: 12_345 });
    expect(value('1.3.6.1.2.1.2.2.1.6.1')).toEqual(octets(2, 0x4b, 0x45, 0, 0, 1));
    expect(value('1.3.6.1.2.1.31.1.1.1.6.1')).toEqual({ type: 'counter64', value: 18_446_744_073_709_551_615n });
    expect(value('1.3.6.1.2.1.2.1.0')).toEqual(integer(1));
    expect(value('1.3.6.1.2.1.9.9.0')).toBeUndefined();
  });
  test('a line that is none is told with its number', () => {
    expect(() => parseWalk('.1.3.6.1.2.1.1.1.0 = STRING: "a"\nTimeout: No Response')).toThrow('line 2');
    expect(() => parseWalk('.1.3 = Unheard: 4')).toThrow(WalkError);
    expect(() => parseWalk('.1.3 = INTEGER: none')).toThrow('no number');
  });
  test('garbage throws a WalkError or nothing, never anything else', () => {
    fc.assert(
      fc.property(
        fc.string({ maxLength: 200 }),
        fc.constantFrom('', '.1.3.6.1 = ', '.1.3 = STRING: "', '.1.3 = Hex-STRING: '),
        (garbage, head) => {
          try {
            parseWalk(head + garbage);
          } catch (error) {
            expect(error).toBeInstanceOf(WalkError);
          }
        },
      ),
    );
  });
});

test('no parser breaks on tables that hold anything at all', () => {
  const roots = [
    ...Object.values(interfaceTables),
    ...Object.values(entityTables),
    ...Object.values(ipTables),
    ...Object.values(bridgeTables),
    ...Object.values(lldpTables),
    ...Object.values(hostTables),
    ...Object.values(powerEthernetTables),
  ];
  const value = fc.oneof(
    fc.integer().map(integer),
    fc.uint8Array({ maxLength: 20 }).map((raw): SnmpValue => ({ type: 'octets', value: raw })),
    fc.constant(oid('1.3')),
    fc.constant<SnmpValue>({ type: 'counter64', value: 5n }),
  );
  const varbind = fc
    .tuple(fc.constantFrom(...roots), fc.array(fc.integer({ min: 0, max: 300 }), { maxLength: 14 }), value)
    .map(([root, index, content]) => ({ oid: [root, ...index].join('.'), value: content }));
  fc.assert(
    fc.property(fc.array(varbind, { maxLength: 30 }), (varbinds) => {
      for (const parse of [
        parseSystem,
        parseInterfaces,
        parsePhysical,
        parseAliasMapping,
        parseInterfaceAddresses,
        parseNeighbourAddresses,
        parseBridge,
        parseLldp,
        parseHost,
        parsePoweringPorts,
        parsePowerGroups,
      ])
        parse(varbinds);
    }),
  );
});
