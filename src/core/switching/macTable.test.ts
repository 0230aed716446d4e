import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { MacTable } from './macTable';

/** near each other as those of one maker, and anywhere */
const mac = fc.oneof(
  fc.nat({ max: 40 }),
  fc.nat({ max: 0xffff }).map((n) => 0x024b_0000_0000 + n),
  fc.maxSafeNat().map((n) => n % 2 ** 48),
);

test('answers as a map does, whatever is put into it and however it grows', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(mac, fc.nat({ max: 2 ** 31 - 1 })), { maxLength: 400 }),
      fc.array(mac, { maxLength: 20 }),
      (entries, others) => {
        const table = new MacTable(1);
        const map = new Map<number, number>();
        for (const [key, value] of entries) {
          table.set(key, value);
          map.set(key, value);
        }
        const held: [number, number][] = [];
        table.forEach((key, value) => held.push([key, value]));
        const ordered = (rows: [number, number][]) => rows.sort((x, y) => x[0] - y[0]);
        expect([table.size, ordered(held)]).toEqual([map.size, ordered([...map])]);
        for (const key of [...others, ...map.keys()])
          expect([table.has(key), table.get(key)]).toEqual([map.has(key), map.get(key) ?? -1]);
      },
    ),
  );
});
