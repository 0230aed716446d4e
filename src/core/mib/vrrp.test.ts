import { expect, test } from '@jest/globals';
import { integer, octets, rows } from './testVarbinds';
import { parseVirtualRouters, vrrpTables } from './vrrp';

const mac = octets(0, 0, 0x5e, 0, 1, 10);

test('VRRP-MIB (RFC 2787): by interface and VRID, its addresses in the index of another table', () => {
  expect(
    parseVirtualRouters([
      ...rows(vrrpTables.vrrpOperEntry, '7.10', { 2: mac, 3: integer(3), 4: integer(1), 5: integer(200) }),
      ...rows(vrrpTables.vrrpAssoIpAddrEntry, '7.10.10.72.4.1', { 2: integer(1) }),
      ...rows(vrrpTables.vrrpAssoIpAddrEntry, '7.10.10.72.4.2', { 2: integer(2) }),
      ...rows(vrrpTables.vrrpOperEntry, '7.0', { 3: integer(3) }),
    ]),
  ).toEqual([
    {
      ifIndex: 7,
      group: 10,
      family: 'IPv4',
      state: 'master',
      priority: 200,
      mac: '00:00:5e:00:01:0a',
      addresses: ['10.72.4.1'],
    },
  ]);
});

test('VRRPV3-MIB (RFC 6527): both families of one VRID are two routers', () => {
  const six = '254.128.0.0.0.0.0.0.0.0.0.0.0.0.0.1';
  expect(
    parseVirtualRouters([
      ...rows(vrrpTables.vrrpv3OperationsEntry, '7.10.1', { 5: mac, 6: integer(2), 7: integer(100) }),
      ...rows(vrrpTables.vrrpv3OperationsEntry, '7.10.2', {
        5: octets(0, 0, 0x5e, 0, 2, 10),
        6: integer(3),
        7: integer(150),
      }),
      ...rows(vrrpTables.vrrpv3AssociatedIpAddrEntry, '7.10.1.4.10.72.4.1', { 2: integer(1) }),
      ...rows(vrrpTables.vrrpv3AssociatedIpAddrEntry, `7.10.2.16.${six}`, { 2: integer(1) }),
    ]),
  ).toEqual([
    {
      ifIndex: 7,
      group: 10,
      family: 'IPv4',
      state: 'backup',
      priority: 100,
      mac: '00:00:5e:00:01:0a',
      addresses: ['10.72.4.1'],
    },
    {
      ifIndex: 7,
      group: 10,
      family: 'IPv6',
      state: 'master',
      priority: 150,
      mac: '00:00:5e:00:02:0a',
      addresses: ['fe80::1'],
    },
  ]);
});

test('what both MIBs tell is told once, as the newer has it', () => {
  const told = parseVirtualRouters([
    ...rows(vrrpTables.vrrpOperEntry, '7.10', { 2: mac, 3: integer(1) }),
    ...rows(vrrpTables.vrrpv3OperationsEntry, '7.10.1', { 5: mac, 6: integer(3) }),
  ]);
  expect(told.map(({ state }) => state)).toEqual(['master']);
});
