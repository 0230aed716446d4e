import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { flowPlaces } from './flowPlaces';

const ages = ['now', 'rare', 'remembered'] as const;

test('every share stands at both sides, bands stay within their ends, and nothing lies over another', () => {
  const cells = fc.uniqueArray(
    fc.record({
      row: fc.nat(24),
      column: fc.nat(24),
      conversations: fc.integer({ min: 1, max: 9 }),
      share: fc.double({ min: 0.0001, max: 1, noNaN: true }),
      age: fc.constantFrom(...ages),
    }),
    { selector: ({ row, column }) => `${row} ${column}`, minLength: 1, maxLength: 80 },
  );
  fc.assert(
    fc.property(cells, (told) => {
      const whole = told.reduce((sum, { share }) => sum + share, 0);
      const all = told.map((cell) => ({ ...cell, share: cell.share / whole }));
      const names = Array.from({ length: 25 }, (_, at) => (at === 24 ? 'all others' : `group ${at}`));
      const { asks, asked, bands, height } = flowPlaces({ names, cells: all });
      for (const side of [asks, asked]) {
        expect(side.length).toBeLessThanOrEqual(14);
        expect(side.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1);
        side.forEach((node, at) =>
          expect(node.y).toBeGreaterThanOrEqual(at === 0 ? 0 : (side[at - 1]?.y ?? 0) + (side[at - 1]?.tall ?? 0)),
        );
        expect(Math.max(...side.map(({ y, tall }) => y + tall))).toBeLessThanOrEqual(height + 1e-9);
      }
      // it fits where names can be read
      expect(height).toBeLessThanOrEqual(296 + 74);
      expect(bands.reduce((sum, { cell }) => sum + cell.conversations, 0)).toBe(
        all.reduce((sum, { conversations }) => sum + conversations, 0),
      );
      for (const { from, to, y0, y1 } of bands) {
        expect(y0).toBeGreaterThanOrEqual(from.y - 1e-9);
        expect(y0).toBeLessThanOrEqual(from.y + from.tall + 1e-9);
        expect(y1).toBeGreaterThanOrEqual(to.y - 1e-9);
        expect(y1).toBeLessThanOrEqual(to.y + to.tall + 1e-9);
      }
    }),
  );
});
