import { expect, test } from '@jest/globals';
import { bgpTables, parseBgpPeers } from './bgp';
import { parseRoutes, routeTables } from './routes';
import { integer, rows } from './testVarbinds';

test('routes that DHCP gave are told as such (IANAipRouteProtocol 19)', () => {
  const route = rows(routeTables.ipCidrRouteEntry, '0.0.0.0.0.0.0.0.0.10.72.4.1', {
    5: integer(7),
    6: integer(4),
    7: integer(19),
  });
  expect(parseRoutes(route)).toEqual([
    { destination: '0.0.0.0/0', nextHop: '10.72.4.1', ifIndex: 7, protocol: 'dhcp' },
  ]);
});

test('a link-local network lies in no zone, its interface stands beside it', () => {
  const index = `4.20.254.128.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.3.64.2.0.0.0.0`;
  const route = rows(routeTables.inetCidrRouteEntry, index, { 7: integer(3), 8: integer(3), 9: integer(2) });
  expect(parseRoutes(route)).toEqual([{ destination: 'fe80::/64', nextHop: null, ifIndex: 3, protocol: 'local' }]);
});

test('AS_TRANS stands for a number that does not fit in, and is nobody’s (RFC 6793)', () => {
  const peer = (remote: number) =>
    parseBgpPeers([
      { oid: `${bgpTables.bgpLocalAs}.0`, value: integer(23_456) },
      ...rows(bgpTables.bgpPeerEntry, '10.72.4.1', { 2: integer(6), 9: integer(remote) }),
    ])[0];
  expect(peer(23_456)).toMatchObject({ localAs: null, remoteAs: null });
  expect(peer(64_512)).toMatchObject({ localAs: null, remoteAs: 64_512 });
});
