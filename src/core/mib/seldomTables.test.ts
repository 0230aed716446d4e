import { describe, expect, test } from '@jest/globals';
import { isisTables, parseIsisNeighbours } from './isis';
import { l3vpnTables, parseInterfaceVrfs } from './l3vpn';
import { ospfTables, parseOspfNeighbours } from './ospf';
import { parsePortAccess, portAccessTables } from './portAccess';
import { parseFaultyPowerGroups, powerEthernetTables } from './powerEthernet';
import { parseRoutes, routeTables } from './routes';
import { agentUptime } from './system';
import { integer, octets, rows } from './testVarbinds';
import { parseConnections, parseListeners, transportTables } from './transport';
import type { SnmpValue } from './varbind';

const address = (value: string): SnmpValue => ({ type: 'ipAddress', value });

describe('routing neighbours', () => {
  test('OSPFV3-MIB (RFC 5643): by interface, instance and router id; a link-local address keeps its zone', () => {
    expect(
      parseOspfNeighbours(
        rows(ospfTables.ospfv3NbrEntry, `12.0.${10 * 2 ** 24 + 72 * 2 ** 16 + 1}`, {
          5: octets(0xfe, 0x80, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 9),
          8: integer(8),
        }),
      ),
    ).toEqual([{ address: 'fe80::9%12', ifIndex: 12, routerId: '10.72.0.1', state: 'full' }]);
  });
  test('ISIS-MIB (RFC 4444): who it is, and at which interface its circuit is', () => {
    expect(
      parseIsisNeighbours([
        ...rows(isisTables.isisCircEntry, '3', { 2: integer(12) }),
        ...rows(isisTables.isisISAdjEntry, '3.1', {
          2: integer(3),
          4: octets(2, 0, 0, 0, 0, 9),
          6: octets(0x19, 0x21, 0x68, 0, 0x10, 1),
        }),
        ...rows(isisTables.isisISAdjEntry, '4.1', { 2: integer(1), 6: octets(1, 2) }),
      ]),
    ).toEqual([{ systemId: '1921.6800.1001', mac: '02:00:00:00:00:09', ifIndex: 12, state: 'up' }]);
  });
  test('MPLS-L3VPN-STD-MIB (RFC 4382): the name of the table stands in the index before the interface', () => {
    expect(parseInterfaceVrfs(rows(l3vpnTables.mplsL3VpnIfConfEntry, '4.108.97.98.115.12', { 2: integer(2) }))).toEqual(
      new Map([[12, 'labs']]),
    );
  });
  test('ipRouteTable (RFC 1213) where an agent has nothing newer', () => {
    const route = (index: string, mask: string, nextHop: string, type: number, protocol: number) =>
      rows(routeTables.ipRouteEntry, index, {
        2: integer(1),
        7: address(nextHop),
        8: integer(type),
        9: integer(protocol),
        11: address(mask),
      });
    expect(
      parseRoutes([
        ...route('0.0.0.0', '0.0.0.0', '10.72.0.1', 4, 3),
        ...route('10.72.4.0', '255.255.255.0', '10.72.4.9', 3, 2),
        ...route('10.72.9.0', '255.255.255.0', '10.72.4.7', 2, 3),
      ]),
    ).toEqual([
      { destination: '0.0.0.0/0', nextHop: '10.72.0.1', ifIndex: 1, protocol: 'static' },
      { destination: '10.72.4.0/24', nextHop: null, ifIndex: 1, protocol: 'local' },
    ]);
  });
});

describe('the older tables of who listens (RFC 2012, RFC 2013)', () => {
  const tcp = (index: string, state: number) => rows(transportTables.tcpConnEntry, index, { 1: integer(state) });
  const older = [
    ...tcp('0.0.0.0.22.0.0.0.0.0', 2),
    ...tcp('10.72.2.10.443.10.72.9.5.50000', 5),
    ...tcp('10.72.2.10.443.10.72.9.6.50001', 6),
    ...rows(transportTables.udpEntry, '0.0.0.0.161', { 2: integer(161) }),
  ];
  test('tell of IPv4, without processes', () => {
    expect(parseListeners(older)).toEqual([
      { protocol: 'tcp', address: '*', port: 22, process: null },
      { protocol: 'udp', address: '*', port: 161, process: null },
    ]);
    expect(parseConnections(older)).toEqual([
      { localAddress: '10.72.2.10', localPort: 443, remoteAddress: '10.72.9.5', remotePort: 50000, process: null },
    ]);
  });
  test('count only where the newer say nothing', () => {
    const newer = rows(transportTables.tcpListenerEntry, '1.4.10.72.2.10.443', { 4: integer(77) });
    expect(parseListeners([...older, ...newer])).toEqual([
      { protocol: 'tcp', address: '10.72.2.10', port: 443, process: 77 },
      { protocol: 'udp', address: '*', port: 161, process: null },
    ]);
  });
});

test('who is let in at a port (IEEE 802.1X): forced either way, or as it came out', () => {
  const port = (ifIndex: number, status: number, control: number) =>
    rows(portAccessTables.dot1xAuthConfigEntry, String(ifIndex), { 5: integer(status), 6: integer(control) });
  expect(
    parsePortAccess([...port(1, 1, 3), ...port(2, 2, 2), ...port(3, 1, 2), ...port(4, 2, 1), ...port(5, 9, 9)]),
  ).toEqual(
    new Map([
      [1, 'open'],
      [2, 'unauthorized'],
      [3, 'authorized'],
      [4, 'blocked'],
    ]),
  );
});

test('groups of powering ports whose supply is faulty(3) (RFC 3621)', () => {
  const group = (number: number, status: number) =>
    rows(powerEthernetTables.pethMainPseEntry, String(number), { 2: integer(370), 3: integer(status), 4: integer(0) });
  expect(parseFaultyPowerGroups([...group(1, 1), ...group(2, 3), ...group(3, 2)])).toEqual([2]);
});

describe('for how long an agent runs', () => {
  const wrap = 2 ** 32 / 100;
  test('sysUpTime begins anew after 497 days: snmpEngineTime tells how often', () => {
    expect(agentUptime({ uptimeSeconds: 100, engineSeconds: Math.floor(2 * wrap) + 102 })).toBe(
      Math.floor(100 + 2 * wrap),
    );
  });
  test('an engine time that fits no number of rounds is left aside', () => {
    expect(agentUptime({ uptimeSeconds: 100, engineSeconds: Math.floor(1.5 * wrap) })).toBe(100);
    expect(agentUptime({ uptimeSeconds: 100, engineSeconds: 90 })).toBe(100);
    expect(agentUptime({ uptimeSeconds: 100 })).toBe(100);
    expect(agentUptime({ uptimeSeconds: null, engineSeconds: 90 })).toBeNull();
  });
});
