import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Strata } from '@/core/applications/strata';
import { aroundPlate, plateTall, strataPlaces } from './strataPlaces';

const anyStrata: fc.Arbitrary<Strata> = fc
  .record({
    sizes: fc.array(fc.array(fc.integer({ min: 1, max: 3 }), { minLength: 1, maxLength: 9 }), {
      minLength: 1,
      maxLength: 6,
    }),
    joins: fc.array(fc.tuple(fc.nat(200), fc.nat(200)), { maxLength: 60 }),
  })
  .map(({ sizes, joins }) => {
    const keys: string[] = [];
    const strata = sizes.map((brackets, at) => ({
      title: `stratum ${at}`,
      brackets: brackets.map((count, nth) => ({
        words: count > 1 ? `any of ${count}` : '',
        plates: Array.from({ length: count }, (_, one) => {
          const key = `${at} ${nth} ${one}`;
          keys.push(key);
          return {
            key,
            kind: 'device' as const,
            id: key,
            name: `device-${key}`,
            note: nth % 2 ? 'SGH' : '',
            isAlone: one === 0,
          };
        }),
      })),
    }));
    const lines = joins.map(([one, other]) => ({
      from: keys[one % keys.length] ?? '',
      to: keys[other % keys.length] ?? '',
      proof: 'seen',
    }));
    return { strata, lines };
  });

test('no plate lies on another or outside its band, and what stands in for each other stands side by side', () => {
  fc.assert(
    fc.property(anyStrata, (told) => {
      const { width, height, strata, plates, brackets, lines } = strataPlaces(told);
      const count = told.strata.reduce(
        (sum, one) => sum + one.brackets.reduce((all, { plates: own }) => all + own.length, 0),
        0,
      );
      expect(plates).toHaveLength(count);
      plates.forEach((one, at) => {
        expect(one.x).toBeGreaterThan(0);
        expect(one.x + one.width).toBeLessThanOrEqual(width);
        const band = strata[Number(one.key.split(' ')[0])];
        expect(one.y).toBeGreaterThanOrEqual(band?.y ?? Infinity);
        expect(one.y + plateTall).toBeLessThanOrEqual((band?.y ?? 0) + (band?.tall ?? 0));
        for (const other of plates.slice(at + 1))
          expect(
            one.y !== other.y
              ? Math.abs(one.y - other.y) >= plateTall
              : one.x + one.width <= other.x || other.x + other.width <= one.x,
          ).toBe(true);
      });
      for (const { x, y, width: wide } of brackets) {
        const own = plates.filter((plate) => plate.y === y + 6 && plate.x >= x && plate.x + plate.width <= x + wide);
        expect(own.length).toBeGreaterThan(1);
        expect(new Set(own.map(({ key }) => key.split(' ').slice(0, 2).join(' '))).size).toBe(1);
      }
      expect(height).toBe(strata.reduce((sum, { tall }) => sum + tall, 0));
      for (const { from } of lines) expect(aroundPlate({ lines }, from.key).has(from.key)).toBe(true);
    }),
  );
});
