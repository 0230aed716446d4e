import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { naturalKey } from './naturalKey';
import { compareNaturally } from './naturalOrder';

test('keys order as the texts do', () => {
  const text = fc
    .array(fc.constantFrom(...'abzABZ0129 _-.,:/#()', 'é'), { maxLength: 8 })
    .map((letters) => letters.join(''));
  fc.assert(
    fc.property(text, text, (left, right) => {
      const [a, b] = [naturalKey(left), naturalKey(right)];
      expect([left, right, Math.sign(compareNaturally(left, right))]).toEqual([
        left,
        right,
        a < b ? -1 : a > b ? 1 : 0,
      ]);
    }),
    { numRuns: 3000 },
  );
});
