import { describe, expect, test } from '@jest/globals';
import { bridgeTables, parseBridge } from './bridge';
import { ieeeBridgeTables } from './ieeeBridge';
import { spanningTreeRoleTables } from './spanningTreeRoles';
import { integer, octets, rows, text } from './testVarbinds';

const bridgeId = (last: number) => octets(0x80, 0, 2, 0, 0, 0, 0, last);

/** A bridge that speaks the MIBs of IEEE 802.1 alone: two ports, VLAN 10 untagged at port 1 and tagged at port 2. */
const modern = [
  ...rows(ieeeBridgeTables.ieee8021BridgeBaseEntry, '1', { 2: octets(2, 0, 0, 0, 0, 1) }),
  ...rows(ieeeBridgeTables.ieee8021BridgeBasePortEntry, '1.1', { 3: integer(101) }),
  ...rows(ieeeBridgeTables.ieee8021BridgeBasePortEntry, '1.2', { 3: integer(102) }),
  ...rows(ieeeBridgeTables.ieee8021QBridgeVlanCurrentEntry, '0.1.10', {
    4: integer(7),
    5: octets(0b1100_0000),
    6: octets(0b1000_0000),
  }),
  ...rows(ieeeBridgeTables.ieee8021QBridgeVlanStaticEntry, '1.10', { 3: text('voice'), 7: integer(1) }),
  ...rows(ieeeBridgeTables.ieee8021QBridgePortVlanEntry, '1.1', { 1: integer(10) }),
  ...rows(ieeeBridgeTables.ieee8021QBridgeTpFdbEntry, '1.7.2.0.0.0.9.1', { 2: integer(2), 3: integer(3) }),
  ...rows(ieeeBridgeTables.ieee8021SpanningTreeEntry, '1', { 6: bridgeId(5), 8: integer(2) }),
  ...rows(ieeeBridgeTables.ieee8021SpanningTreePortEntry, '1.2', {
    4: integer(5),
    9: bridgeId(5),
    10: octets(0x80, 4),
  }),
];

describe('the bridge MIBs of IEEE 802.1', () => {
  test('tell what those of the RFCs would', () => {
    expect(parseBridge(modern)).toEqual({
      address: '02:00:00:00:00:01',
      ifIndexByBridgePort: new Map([
        [1, 101],
        [2, 102],
      ]),
      forwarding: [{ mac: '02:00:00:00:09:01', bridgePort: 2, vlan: 10 }],
      vlans: [{ vlan: 10, name: 'voice', egressBridgePorts: [1, 2], untaggedBridgePorts: [1] }],
      pvid: new Map([[1, 10]]),
      stp: {
        root: '02:00:00:00:00:05',
        rootBridgePort: 2,
        ports: [{ bridgePort: 2, state: 'forwarding', designatedBridge: '02:00:00:00:00:05', designatedPort: 4 }],
      },
    });
  });
  test('of several components the lowest that has ports', () => {
    const second = [
      ...rows(ieeeBridgeTables.ieee8021BridgeBasePortEntry, '2.1', { 3: integer(999) }),
      ...rows(ieeeBridgeTables.ieee8021QBridgeTpFdbEntry, '2.7.2.0.0.0.9.2', { 2: integer(1), 3: integer(3) }),
      ...rows(ieeeBridgeTables.ieee8021QBridgePortVlanEntry, '2.1', { 1: integer(99) }),
    ];
    expect(parseBridge([...second, ...modern])).toEqual(parseBridge(modern));
  });
  test('where both are there, those of the RFCs count', () => {
    const older = rows(bridgeTables.dot1dBasePortEntry, '1', { 2: integer(1) });
    expect(parseBridge([...modern, ...older])?.ifIndexByBridgePort).toEqual(new Map([[1, 1]]));
  });
});

describe('roles in the spanning tree', () => {
  const roles = (answered: typeof modern) =>
    parseBridge(answered)?.stp.ports.map(({ bridgePort, role, edge }) => ({ bridgePort, role, edge }));
  const state = (port: number) => rows(bridgeTables.dot1dStpPortEntry, String(port), { 3: integer(5) });
  const address = rows(bridgeTables.dot1dBasePortEntry, '1', { 2: integer(1) });
  test('RSTP-MIB (RFC 4318) tells what is an edge', () => {
    const edge = (port: number, value: number) =>
      rows(spanningTreeRoleTables.dot1dStpExtPortEntry, String(port), { 3: integer(value) });
    expect(roles([...address, ...state(1), ...state(2), ...state(3), ...edge(1, 1), ...edge(2, 2)])).toEqual([
      { bridgePort: 1, edge: true },
      { bridgePort: 2, edge: false },
      { bridgePort: 3 },
    ]);
  });
  test('IEEE8021-MSTP-MIB tells roles', () => {
    const told = (port: number, role: number, edge: number) =>
      rows(spanningTreeRoleTables.ieee8021MstpCistPortEntry, `1.${port}`, { 9: integer(edge), 14: integer(role) });
    expect(
      roles([
        ...address,
        ...[1, 2, 3, 4].flatMap(state),
        ...told(1, 1, 2),
        ...told(2, 2, 2),
        ...told(3, 3, 1),
        ...told(4, 4, 2),
      ]),
    ).toEqual([
      { bridgePort: 1, role: 'root', edge: false },
      { bridgePort: 2, role: 'alternate', edge: false },
      { bridgePort: 3, role: 'designated', edge: true },
      { bridgePort: 4, role: 'backup', edge: false },
    ]);
  });
});
