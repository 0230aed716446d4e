import { expect, test } from '@jest/globals';
import { ipTables, parseInterfaceAddresses, parseNeighbourAddresses } from './ip';
import { indexedAddress } from './inetAddress';
import { integer, octets, oid, rows } from './testVarbinds';

const linkLocal = '254.128.0.0.0.0.0.0.0.0.0.0.0.0.0.1';

test('addresses that are not in use are none: invalid, tentative, duplicate (RFC 4293, ipAddressStatus)', () => {
  const own = (last: number, status: number) =>
    rows(ipTables.ipAddressEntry, `1.4.10.72.4.${last}`, {
      3: integer(7),
      4: integer(1),
      5: oid('0.0'),
      7: integer(status),
    });
  const old = (last: number) =>
    rows(ipTables.ipAddrEntry, `10.72.4.${last}`, { 2: integer(7), 3: { type: 'ipAddress', value: '255.255.252.0' } });
  const answered = [1, 2, 3, 4, 6, 7].flatMap((status) => [...own(status, status), ...old(status)]);
  expect(parseInterfaceAddresses([...answered, ...old(9)]).map(({ address }) => address)).toEqual([
    '10.72.4.1',
    '10.72.4.2',
    '10.72.4.4',
    '10.72.4.9',
  ]);
});

test('a link-local address keeps the zone that was told with it (RFC 4001, RFC 4007)', () => {
  const index = [...`4.20.${linkLocal}.0.0.0.3`.split('.').map(Number)];
  expect(indexedAddress(index, 0)).toEqual({ address: 'fe80::1%3', zone: 3, next: index.length });
  expect(
    parseInterfaceAddresses(rows(ipTables.ipAddressEntry, index.join('.'), { 3: integer(3), 4: integer(1) })),
  ).toEqual([{ address: 'fe80::1%3', ifIndex: 3, prefixLength: null }]);
  // without a zone of its own, and where none is needed
  expect(indexedAddress(`2.16.${linkLocal}`.split('.').map(Number), 0)?.address).toBe('fe80::1');
  expect(indexedAddress('4.20.253.0.0.0.0.0.0.0.0.0.0.0.0.0.0.1.0.0.0.3'.split('.').map(Number), 0)?.address).toBe(
    'fd00::1',
  );
});

test('neighbours that are not, or not yet, there are left out, in the older table too; so are groups and the device’s own', () => {
  const neighbour = (last: number, type: number, state: number, first = 2) =>
    rows(ipTables.ipNetToPhysicalEntry, `5.1.4.10.72.4.${last}`, {
      4: octets(first, 0, 0, 0, 0, last),
      6: integer(type),
      7: integer(state),
    });
  const old = (last: number) =>
    rows(ipTables.ipNetToMediaEntry, `5.10.72.4.${last}`, { 2: octets(2, 0, 0, 0, 0, last), 4: integer(3) });
  const answered = [
    ...neighbour(1, 3, 1),
    ...neighbour(2, 3, 5),
    ...old(2),
    ...neighbour(3, 3, 7),
    ...neighbour(4, 5, 1),
    ...neighbour(5, 2, 1),
    ...neighbour(6, 4, 6),
    ...neighbour(7, 3, 1, 1),
    ...old(8),
  ];
  expect(parseNeighbourAddresses(answered).map(({ address }) => address)).toEqual([
    '10.72.4.8',
    '10.72.4.1',
    '10.72.4.6',
  ]);
});
