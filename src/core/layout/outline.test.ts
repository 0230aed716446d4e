import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { outlineOf, type Rectangle } from './outline';

const rectangle: fc.Arbitrary<Rectangle> = fc.record({
  x: fc.integer({ min: -500, max: 500 }),
  y: fc.integer({ min: -500, max: 500 }),
  width: fc.integer({ min: 1, max: 200 }),
  height: fc.integer({ min: 1, max: 60 }),
});

test('an outline of one is its box, of none nothing', () => {
  expect(outlineOf([{ x: 0, y: 0, width: 10, height: 4 }], 2)).toEqual([
    { x: -2, y: -2 },
    { x: 12, y: -2 },
    { x: 12, y: 6 },
    { x: -2, y: 6 },
  ]);
  expect(outlineOf([], 5)).toEqual([]);
});

test('everything lies within its outline, which turns one way only', () => {
  fc.assert(
    fc.property(fc.array(rectangle, { minLength: 1, maxLength: 20 }), (rectangles) => {
      const corners = outlineOf(rectangles, 3);
      const sides = corners.map((corner, at) => [corner, corners[(at + 1) % corners.length] ?? corner] as const);
      for (const { x, y, width, height } of rectangles) {
        for (const point of [
          { x, y },
          { x: x + width, y: y + height },
          { x: x + width, y },
          { x, y: y + height },
        ]) {
          for (const [a, b] of sides)
            expect((b.x - a.x) * (point.y - a.y) - (b.y - a.y) * (point.x - a.x)).toBeGreaterThan(0);
        }
      }
    }),
  );
});
