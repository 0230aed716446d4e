import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { fieldDifferences, reversed, sameValue, type EditChange } from './edit';

test('values are told apart field by field, whatever the order of their names', () => {
  expect(fieldDifferences({ name: 'KS-1', serials: ['A'] }, { serials: ['A', 'B'], name: 'KS-1', note: 'x' })).toEqual([
    { field: 'serials', before: ['A'], after: ['A', 'B'] },
    { field: 'note', before: null, after: 'x' },
  ]);
  expect(fieldDifferences('Osric', 'Marla')).toEqual([{ field: '', before: 'Osric', after: 'Marla' }]);
  expect(fieldDifferences(null, null)).toEqual([]);
  expect(sameValue({ a: 1, b: [2] }, { b: [2], a: 1 })).toBe(true);
});

test('what is taken back twice is as it was written, and a value differs from another exactly where it is not the same', () => {
  const value = fc.oneof(
    fc.constant(null),
    fc.string(),
    fc.dictionary(fc.stringMatching(/^[a-z]{1,3}$/), fc.array(fc.string()), { noNullPrototype: true }),
  );
  const change = fc.record({ key: fc.string(), before: value, after: value });
  fc.assert(
    fc.property(fc.array(change), (changes: EditChange[]) => {
      expect(reversed(reversed(changes))).toEqual(changes);
      for (const { before, after } of changes) {
        expect(fieldDifferences(before, after).length === 0).toBe(sameValue(before, after));
      }
    }),
  );
});
