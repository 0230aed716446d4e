import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { cablingOf, mainPieces, nothingAway, partsOf, type Cabling } from './cabling';
import { devicesBetween, heartsOf, onlyWays } from './onlyWays';

const networks = fc.integer({ min: 1, max: 14 }).chain((size) =>
  fc.record({
    size: fc.constant(size),
    cables: fc.array(fc.record({ a: fc.nat({ max: size - 1 }), b: fc.nat({ max: size - 1 }) }), { maxLength: 24 }),
    forwards: fc.array(fc.constantFrom(1, 1, 0), { minLength: size, maxLength: size }),
  }),
);

/** Whom a device reaches, by asking one after the other; what passes nothing on is gone to, and on from it only to what hangs further out. */
function reached(cabling: Cabling, from: number, without = -1, cut = -1): Set<number> {
  const seen = new Set([from]);
  for (const at of seen)
    for (let cable = 0; cable < cabling.a.length; cable++) {
      const [a, b] = [cabling.a[cable] ?? 0, cabling.b[cable] ?? 0];
      if (cable === cut || (a !== at && b !== at)) continue;
      const to = a === at ? b : a;
      const passes =
        cabling.level[to] === 0 ? cabling.level[at] === 0 : (cabling.level[to] ?? 0) > (cabling.level[at] ?? 0);
      if (to !== without && passes) seen.add(to);
    }
  return seen;
}

test('what a device has only one of is what it does not reach the heart without', () => {
  fc.assert(
    fc.property(networks, ({ size, cables, forwards }) => {
      const cabling = cablingOf(size, cables, Uint8Array.from(forwards));
      const away = nothingAway(cabling);
      const first = cabling.level.indexOf(0);
      const [heart = -1] = heartsOf(cabling, away, [first]);
      const there = reached(cabling, heart);
      expect(there.has(first)).toBe(true);
      const ways = onlyWays(cabling, away, [heart]);
      for (let device = 0; device < size; device++) {
        if (!there.has(device)) {
          expect(ways.depth[device]).toBe(-1);
          continue;
        }
        const singles = [...there].filter(
          (one) => one !== heart && one !== device && !reached(cabling, heart, one).has(device),
        );
        const cut = cables.filter((_, at) => !reached(cabling, heart, -1, at).has(device));
        expect(devicesBetween(ways, device).sort((x, y) => x - y)).toEqual(singles.sort((x, y) => x - y));
        expect(ways.depth[device]).toBe(singles.length + cut.length);
      }
    }),
  );
});

test('the heart stands in the middle: without it no part is more than half, or it stands in a block that nothing parts', () => {
  fc.assert(
    fc.property(networks, ({ size, cables, forwards }) => {
      const cabling = cablingOf(size, cables, Uint8Array.from(forwards));
      const away = nothingAway(cabling);
      const first = cabling.level.indexOf(0);
      const [heart = -1] = heartsOf(cabling, away, [first]);
      const there = [...reached(cabling, heart)].filter((one) => cabling.level[one] === 0);
      for (const one of there) {
        if (one === heart) continue;
        // whatever single device goes, the side of the heart keeps at least half, that device counted with the other
        const kept = [...reached(cabling, heart, one)].filter((other) => cabling.level[other] === 0).length;
        expect(2 * kept).toBeGreaterThanOrEqual(there.length);
      }
    }),
  );
});

test('parts stay together, and of each the largest piece is told that is left of it', () => {
  const cabling = cablingOf(6, [
    { a: 0, b: 1 },
    { a: 2, b: 3 },
    { a: 4, b: 5 },
    { a: 3, b: 4 },
  ]);
  const away = nothingAway(cabling);
  expect([...partsOf(cabling, away).partOf]).toEqual([0, 0, 1, 1, 1, 1]);
  const before = partsOf(cabling, away);
  expect(before.sizes).toEqual([2, 4]);
  away.devices[3] = 1;
  expect([...partsOf(cabling, away).partOf]).toEqual([0, 0, 1, -1, 2, 2]);
  // of two pieces as large the first is what is left of the second part
  expect([...mainPieces(cabling, before, partsOf(cabling, away))]).toEqual([0, 2]);
});

test('a server on two switches is no way between them, and goes on while it reaches the larger part by one', () => {
  // core 0, switches 1 and 2, a server on both, a machine on the server
  const cables = [
    { a: 0, b: 1 },
    { a: 0, b: 2 },
    { a: 1, b: 3 },
    { a: 2, b: 3 },
    { a: 3, b: 4 },
  ];
  const cabling = cablingOf(5, cables, Uint8Array.from([1, 1, 1, 0, 0]));
  const away = nothingAway(cabling);
  expect(devicesBetween(onlyWays(cabling, away, [0]), 3)).toEqual([]);
  expect(devicesBetween(onlyWays(cabling, away, [0]), 4)).toEqual([3]);
  away.cables[1] = 1;
  expect([...partsOf(cabling, away).partOf]).toEqual([0, 0, 1, 0, 0]);
  expect(devicesBetween(onlyWays(cabling, away, [0]), 3)).toEqual([1]);
  expect(onlyWays(cabling, away, [0]).depth[2]).toBe(-1);
});

test('a cable that ends nowhere is refused', () => {
  expect(() => cablingOf(2, [{ a: 0, b: 2 }])).toThrow('which is no device');
});
