import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { cablingOf, nothingAway, partsOf } from './cabling';
import { devicesBetween, heartOf, onlyWays } from './onlyWays';

const networks = fc.integer({ min: 1, max: 14 }).chain((size) =>
  fc.record({
    size: fc.constant(size),
    cables: fc.array(fc.record({ a: fc.nat({ max: size - 1 }), b: fc.nat({ max: size - 1 }) }), { maxLength: 24 }),
  }),
);

/** Whom a device reaches, by asking one after the other. */
function reached(cables: readonly { a: number; b: number }[], from: number, without = -1, cut = -1): Set<number> {
  const seen = new Set([from]);
  for (let grew = true; grew;) {
    grew = false;
    cables.forEach(({ a, b }, at) => {
      if (at === cut || a === without || b === without || seen.has(a) === seen.has(b)) return;
      seen.add(a).add(b);
      grew = true;
    });
  }
  return seen;
}

test('what a device has only one of is what it does not reach the heart without', () => {
  fc.assert(
    fc.property(networks, ({ size, cables }) => {
      const cabling = cablingOf(size, cables);
      const away = nothingAway(cabling);
      const heart = heartOf(cabling, away, 0);
      const there = reached(cables, heart);
      expect(there.has(0)).toBe(true);
      const ways = onlyWays(cabling, away, heart);
      for (let device = 0; device < size; device++) {
        if (!there.has(device)) {
          expect(ways.depth[device]).toBe(-1);
          continue;
        }
        const singles = [...there].filter(
          (one) => one !== heart && one !== device && !reached(cables, heart, one).has(device),
        );
        const cut = cables.filter((_, at) => !reached(cables, heart, -1, at).has(device));
        expect(devicesBetween(ways, device).sort((x, y) => x - y)).toEqual(singles.sort((x, y) => x - y));
        expect(ways.depth[device]).toBe(singles.length + cut.length);
      }
    }),
  );
});

test('the heart stands in the middle: without it no part is more than half, or it stands in a block that nothing parts', () => {
  fc.assert(
    fc.property(networks, ({ size, cables }) => {
      const cabling = cablingOf(size, cables);
      const away = nothingAway(cabling);
      const heart = heartOf(cabling, away, 0);
      const there = [...reached(cables, heart)];
      for (const one of there) {
        if (one === heart) continue;
        // whatever single device goes, the side of the heart keeps at least half, that device counted with the other
        const kept = reached(cables, heart, one).size;
        expect(2 * kept).toBeGreaterThanOrEqual(there.length);
      }
    }),
  );
});

test('parts stay together, and the largest of them is told, of several the one with the lowest number', () => {
  const cabling = cablingOf(6, [
    { a: 0, b: 1 },
    { a: 2, b: 3 },
    { a: 4, b: 5 },
    { a: 3, b: 4 },
  ]);
  const away = nothingAway(cabling);
  expect([...partsOf(cabling, away).partOf]).toEqual([0, 0, 1, 1, 1, 1]);
  expect(partsOf(cabling, away).largest).toBe(1);
  away.devices[3] = 1;
  expect([...partsOf(cabling, away).partOf]).toEqual([0, 0, 1, -1, 2, 2]);
  expect(partsOf(cabling, away).largest).toBe(0);
});

test('a cable that ends nowhere is refused', () => {
  expect(() => cablingOf(2, [{ a: 0, b: 2 }])).toThrow('which is no device');
});
