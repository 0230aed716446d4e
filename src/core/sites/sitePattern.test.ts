import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { siteForm, sitePattern } from './sitePattern';

/** The same by an expression, which is right and may run away. */
function byExpression(pattern: string, isWithin: boolean, text: string): string | null {
  const quoted = (part: string) => part.replace(/[.+?^${}()|[\]\\]/g, '\\$&').replace(/\*+/g, '.*?');
  let source = '';
  let last = 0;
  for (const match of pattern.matchAll(siteForm)) {
    source += `${quoted(pattern.slice(last, match.index))}(?<site>[\\p{L}\\p{N}]{${match[1] ?? 1},${match[2] ?? 20}})`;
    last = match.index + match[0].length;
  }
  source += quoted(pattern.slice(last));
  const found = new RegExp(isWithin ? source : `^${source}$`, 'iu').exec(text);
  return found ? (found.groups?.site ?? '').toLowerCase() : null;
}

describe('a pattern', () => {
  test.each([
    ['{site}-*', 'sgh-acc-01', 'sgh'],
    ['{site}-*', 'SGH-acc-01', 'sgh'],
    ['*-{site 2-3}', 'core-mlr', 'mlr'],
    ['*-{site 2-3}', 'core-millrace', null],
    ['lab*', 'laboratory', ''],
    ['lab*', 'a lab', null],
    ['a.c', 'abc', null],
  ])('%s asked of %s', (pattern, text, site) => {
    expect(sitePattern(pattern, false)(text)).toBe(site);
  });

  test('says what an expression would', () => {
    const piece = fc.constantFrom('a', 'b', '-', '*', '7', 'Ä', '.');
    const side = fc.array(piece, { maxLength: 5 }).map((pieces) => pieces.join(''));
    const site = fc.constantFrom('', '{site}', '{site 2-3}');
    const text = fc
      .array(fc.constantFrom('a', 'B', '-', '7', 'ä', '.'), { maxLength: 14 })
      .map((list) => list.join(''));
    fc.assert(
      fc.property(side, site, side, fc.boolean(), text, (before, slot, after, isWithin, asked) => {
        const pattern = before + slot + after;
        expect(sitePattern(pattern, isWithin)(asked)).toBe(byExpression(pattern, isWithin, asked));
      }),
      { numRuns: 2000 },
    );
  });

  test('that nearly fits everywhere is given up after as many steps as pattern and text have letters', () => {
    // an expression tries this for days
    expect(sitePattern('*a*a*a*a{site}-', true)('a'.repeat(255))).toBeNull();
    expect(sitePattern('*a*a*a*a{site}b-', true)(`${'a'.repeat(254)}b`)).toBeNull();
  });
});
