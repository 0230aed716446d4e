import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { linearPattern, patternMistake } from './linearPattern';

describe('a pattern', () => {
  test('finds what its group holds, small letters or large', () => {
    expect(linearPattern('release (?<value>[0-9.]+[a-z]?)').valueIn('Kestrane Release 7.4.12b (c)')).toBe('7.4.12b');
    expect(linearPattern('model ([^ ,]+)').valueIn('MODEL A24, rev 2')).toBe('A24');
    expect(linearPattern('kestrane').test('KESTRANE OS')).toBe(true);
    expect([linearPattern('kestrane').valueIn('kestrane'), linearPattern('(x)|y').valueIn('y')]).toEqual([null, null]);
  });
  test('that would take for ever elsewhere is done at once here', () => {
    const evil = `${'a'.repeat(50_000)}!`;
    for (const text of ['(a+)+$', '(a|a)*b', '(.*a){12}$']) expect(linearPattern(text).test(evil)).toBe(false);
  });
  test('that cannot be had in linear time is refused with what to write', () => {
    for (const text of ['(?=a)b', '(?<!x)y', '(a)\\1'])
      expect(patternMistake(text)).toContain('without lookaround and back-references');
    expect(patternMistake('(a')).toBe('“(a” is no regular expression: missing closing )');
    expect(patternMistake('a{2000}')).toContain('is no regular expression');
    expect(patternMistake('^Kestrane .*')).toBeNull();
  });
  test('of plain words finds what a search for the words finds', () => {
    const word = fc.stringMatching(/^[a-z0-9 ]{0,6}$/);
    fc.assert(
      fc.property(word, word, word, (before, inside, after) => {
        expect(linearPattern(inside).test(before + inside + after)).toBe(true);
        expect(linearPattern(`^${before}(?<value>${inside})${after}$`).valueIn(before + inside + after)).toBe(inside);
      }),
    );
  });
});
