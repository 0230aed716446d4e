import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { spoken } from './spoken';
import { wildcard } from './wildcard';

test.each([
  ['acc*', 'acc-1', true],
  ['acc*', 'my acc', false],
  ['*acc', 'my ACC', true],
  ['a*a', 'a', false],
  ['a*a', 'aa', true],
  ['a**b', 'axb', true],
  ['a*b*c', 'a b b c', true],
  ['a*b*c', 'acb', false],
  ['*', '', true],
  ['abc', 'abc', true],
  ['abc', 'abcd', false],
])('%s and %s', (pattern, text, fits) => expect(wildcard(pattern)(text)).toBe(fits));

test('loosely it may stand anywhere', () => {
  expect([wildcard('b*d', true)('abcde'), wildcard('d*b', true)('abcde')]).toEqual([true, false]);
});

test('as a regular expression of it would tell', () => {
  const letters = fc.string({ unit: fc.constantFrom('a', 'b', '*'), maxLength: 7 });
  const text = fc.string({ unit: fc.constantFrom('a', 'b'), maxLength: 9 });
  fc.assert(
    fc.property(letters, text, fc.boolean(), (pattern, given, loose) => {
      const source = pattern.replaceAll(/\*+/g, '.*');
      expect(wildcard(pattern, loose)(given)).toBe(new RegExp(loose ? source : `^${source}$`).test(given));
    }),
    { numRuns: 2000 },
  );
});

test('names out of code in words', () => {
  expect(['access-point', 'powerSupply', 'switch', 'ioModule', 'openConfirm', 'CPU', 'hostCPU'].map(spoken)).toEqual([
    'access point',
    'power supply',
    'switch',
    'io module',
    'open confirm',
    'CPU',
    'hostCPU',
  ]);
});
