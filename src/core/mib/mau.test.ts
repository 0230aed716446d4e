import { expect, test } from '@jest/globals';
import { mauTables, parseMau } from './mau';
import { integer, oid, rows } from './testVarbinds';
import type { SnmpValue } from './varbind';

const unit = (index: string, type: number, status?: number) => {
  const cells: Record<number, SnmpValue> = { 3: oid(`1.3.6.1.2.1.26.4.${type}`) };
  if (status !== undefined) cells[4] = integer(status);
  return rows(mauTables.ifMauEntry, index, cells);
};
const mediaOf = (answered: ReturnType<typeof rows>) =>
  Object.fromEntries([...parseMau(answered)].map(([ifIndex, { media }]) => [ifIndex, media]));

test('a unit that is shut down (5) or stands by (4) does not hide the one that works (3) (RFC 4836, ifMauStatus)', () => {
  expect(mediaOf([...unit('1.1', 30, 5), ...unit('1.2', 26, 3), ...unit('2.1', 26, 3), ...unit('2.2', 30, 4)])).toEqual(
    { 1: '1000BASE-SX', 2: '1000BASE-SX' },
  );
});

test('of units none of which works, or that say nothing of it, the first', () => {
  expect(mediaOf([...unit('1.1', 30), ...unit('1.2', 26), ...unit('2.1', 16, 5), ...unit('2.2', 18, 4)])).toEqual({
    1: '1000BASE-T',
    2: '100BASE-TX',
  });
});

test.each([
  [37, '10GBASE-W'],
  [40, '10GBASE-SW'],
  [50, '1000BASE-PX10-D'],
  [53, '1000BASE-PX20-U'],
  [58, '10GBASE-KR'],
  [71, '40GBASE-CR4'],
  [77, '100GBASE-LR4'],
  [9999, ''],
])('type %s of IANA-MAU-MIB is %s', (type, media) => {
  expect(mediaOf(unit('1.1', type, 3))).toEqual({ 1: media });
});
