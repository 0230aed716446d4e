import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { cutByLink } from './cutByLink';
import { dependantsOf } from './dependants';
import type { Joint } from './joints';

const joint = (a: number, b: number): Joint => ({ a, b });
// a ring of 1 to 4, with a spur 3–5–6 and a leaf 7 at 6
const network = [joint(1, 2), joint(2, 3), joint(3, 4), joint(4, 1), joint(3, 5), joint(5, 6), joint(6, 7)];

test('a link of a ring cuts nobody off', () => {
  expect(cutByLink(1, 2, network)).toEqual([]);
});
test.each([
  [3, 5, [5, 6, 7]],
  [5, 3, [5, 6, 7]],
  [6, 7, [7]],
  [5, 6, [6, 7]],
])('the link %i–%i cuts off what lies behind it, whichever end is named first', (a, b, expected) => {
  expect(cutByLink(a, b, network)).toEqual(expected);
});
test('a second link between the two keeps the way', () => {
  expect(cutByLink(3, 5, network, 1)).toEqual([]);
});
test('of two sides as large, the far one is cut off; two alone are cut from each other', () => {
  expect(cutByLink(1, 2, [joint(1, 2), joint(1, 3), joint(2, 4)])).toEqual([2, 4]);
  expect(cutByLink(2, 1, [joint(1, 2)])).toEqual([1]);
});
test('what a leaf’s only link cuts off is what its neighbour’s loss would, of these two', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.nat(12), fc.nat(12)), { minLength: 3, maxLength: 30 }), (pairs) => {
      const joints = pairs.filter(([a, b]) => a !== b).map(([a, b]) => joint(a, b));
      for (const { a, b } of joints) {
        const leaf = joints
          .filter((other) => other.a === b || other.b === b)
          .every((other) => other.a === a || other.b === a);
        if (leaf && joints.some((other) => (other.a === a || other.b === a) && other.a !== b && other.b !== b)) {
          expect(cutByLink(a, b, joints)).toEqual([b]);
          expect(dependantsOf(a, joints).cutOff).toContain(b);
        }
      }
    }),
  );
});
