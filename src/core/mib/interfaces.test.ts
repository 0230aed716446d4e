import { describe, expect, test } from '@jest/globals';
import { interfaceTables, lacksMembers, parseInterfaces } from './interfaces';
import { gauge, integer, octets, rows, text } from './testVarbinds';
import type { SnmpValue } from './varbind';

const port = (ifIndex: number, cells: Record<number, SnmpValue> = {}) =>
  rows(interfaceTables.ifEntry, `${ifIndex}`, { 2: text(`port ${ifIndex}`), 3: integer(6), ...cells });
const aggregate = (ifIndex: number) => port(ifIndex, { 3: integer(161) });
const member = (ifIndex: number, selected: number, attached: number) =>
  rows(interfaceTables.dot3adAggPortEntry, `${ifIndex}`, { 12: integer(selected), 13: integer(attached) });
const below = (higher: number, lower: number, status = 1) =>
  rows(interfaceTables.ifStackEntry, `${higher}.${lower}`, { 3: integer(status) });

describe('members of aggregates (IEEE 802.1AX, RFC 2863)', () => {
  const membersOf = (...answered: ReturnType<typeof rows>[]) =>
    Object.fromEntries(
      parseInterfaces(answered.flat()).flatMap((row) => (row.aggregate ? [[row.ifIndex, row.aggregate]] : [])),
    );
  test('each aggregate for itself: one by LACP does not hide another that was made by hand', () => {
    const answered = [
      ...[1, 2, 3, 4].flatMap((ifIndex) => port(ifIndex)),
      ...aggregate(101),
      ...aggregate(102),
      ...member(1, 101, 101),
      ...member(2, 0, 0),
      ...below(101, 1),
      ...below(102, 3),
      ...below(102, 4),
    ];
    expect(membersOf(answered)).toEqual({ 1: 101, 3: 102, 4: 102 });
    expect(lacksMembers(answered)).toBe(true);
  });
  test('a member whose other end is gone, chosen but not attached, stays a member', () => {
    const answered = [...port(1), ...port(2), ...aggregate(101), ...member(1, 101, 101), ...member(2, 101, 0)];
    expect(membersOf(answered)).toEqual({ 1: 101, 2: 101 });
    expect(lacksMembers(answered)).toBe(false);
  });
  test('a port that is chosen for no aggregate, or is its own, stands alone', () => {
    expect(membersOf(port(1), port(2), aggregate(101), member(1, 1, 0), member(2, 900, 0))).toEqual({});
  });
  test('a layer that is not in service (2) is none', () => {
    expect(membersOf(port(1), port(2), aggregate(101), below(101, 1), below(101, 2, 2))).toEqual({ 1: 101 });
  });
});

test.each([
  ['to the bit, where it is not saturated', gauge(1_544_000), gauge(2), 1_544_000],
  ['of the newer object beyond the end of the older one', gauge(4_294_967_295), gauge(25_000), 25e9],
  ['of the newer object, where the older one ran over', gauge(1_410_065_408), gauge(10_000), 10e9],
  ['unknown, where the older one is saturated and there is no newer', gauge(4_294_967_295), undefined, null],
  ['unknown, where it is below nought', integer(-1), undefined, null],
  ['of the older one, where the newer is in bits', gauge(1_000_000_000), gauge(1_000_000_000), 1e9],
  ['unknown, where the newer is in bits and the older saturated', gauge(4_294_967_295), gauge(4_000_000_000), null],
  ['of the older one, where the newer has no notion of it', gauge(64_000), gauge(0), 64_000],
])('speed %s', (_, ifSpeed, ifHighSpeed, expected) => {
  const [row] = parseInterfaces([
    ...port(1, { 5: ifSpeed }),
    ...rows(interfaceTables.ifXEntry, '1', ifHighSpeed ? { 15: ifHighSpeed } : {}),
  ]);
  expect(row?.speedBps).toBe(expected);
});

test('a MAC of noughts, or of another length than six octets, is none', () => {
  const macs = [octets(0, 0, 0, 0, 0, 0), octets(2, 0, 0, 1), octets(), octets(2, 0, 0, 0, 0, 1)];
  expect(parseInterfaces(macs.flatMap((mac, at) => port(at + 1, { 6: mac }))).map(({ mac }) => mac)).toEqual([
    null,
    null,
    null,
    '02:00:00:00:00:01',
  ]);
});

test('since when a port counts is told in seconds of uptime (ifCounterDiscontinuityTime)', () => {
  const [row] = parseInterfaces([
    ...port(1),
    ...rows(interfaceTables.ifXEntry, '1', { 19: { type: 'timeticks', value: 360_050 } }),
  ]);
  expect(row?.countedSinceUptimeSeconds).toBe(3600);
});
