import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { openedUp } from './stripPlaces';

describe('ticks of the time strip', () => {
  test('stand at their true places where there is room', () => {
    expect(openedUp([24, 100, 300], 24, 500)).toEqual([24, 100, 300]);
  });
  test('open up around where they belong, and stay on the strip', () => {
    expect(openedUp([100, 100, 100], 0, 500)).toEqual([91, 100, 109]);
    expect(openedUp([499, 500, 500], 0, 500)).toEqual([482, 491, 500]);
    expect(openedUp([0, 1], 0, 500)).toEqual([0, 9]);
  });
  test('keep their order and their distance, however many there are', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 600 }), { minLength: 1, maxLength: 200 }), (given) => {
        const places = openedUp(
          [...given].sort((x, y) => x - y),
          0,
          600,
        );
        const least = Math.min(9, 600 / Math.max(1, given.length - 1));
        expect(places.length).toBe(given.length);
        places.forEach((place, at) => {
          expect(place).toBeGreaterThanOrEqual(-1e-6);
          expect(place).toBeLessThanOrEqual(600 + 1e-6);
          if (at > 0) expect(place - (places[at - 1] ?? 0)).toBeGreaterThanOrEqual(least - 1e-6);
        });
      }),
    );
  });
});
