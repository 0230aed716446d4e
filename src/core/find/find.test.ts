import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { editDistance } from './editDistance';
import { TextIndex, type FoundBy } from './textIndex';

function made(lines: FoundBy[]): TextIndex {
  const index = new TextIndex();
  for (const line of lines) index.add(line);
  return index;
}
const index = (texts: string[], loosely = true) => made(texts.map((text, entry) => ({ text, entry, loosely })));
const found = (texts: string[], wanted: string, loosely = true) =>
  index(texts, loosely)
    .find(wanted, 8)
    .map(({ text, rank }) => `${rank} ${text}`);

test.each([
  ['core', 'core', 0],
  ['core', 'cor', 1],
  ['core', 'croe', 1],
  ['core', 'xore', 1],
  ['core', 'score', 1],
  ['', 'ab', 2],
  ['access', 'acess', 1],
  ['abcdef', 'uvwxyz', 3],
])('from %s to %s', (left, right, expected) => {
  expect(editDistance(left, right, 2)).toBe(expected);
  expect(editDistance(right, left, 2)).toBe(expected);
});

describe('finding', () => {
  test('the text itself stands before its beginning, that before a word of it, and that before any place in it', () => {
    expect(found(['printer-core', 'score', 'core', 'core-1'], 'core')).toEqual([
      '0 core',
      '1 core-1',
      '2 printer-core',
      '3 score',
    ]);
  });
  test('a letter wrong, missing, too many or swapped finds a name, but no address', () => {
    expect(
      ['sgh-cor-1', 'sgh-croe-1', 'shg-core-1', 'sgh-xore-1', 'sgh-core'].map((wanted) =>
        found(['rpw-plat', 'sgh-core-1'], wanted)[0]?.slice(2),
      ),
    ).toEqual(Array(5).fill('sgh-core-1'));
    expect(found(['10.72.0.21'], '10.72.0.22', false)).toEqual([]);
    expect(found(['rpw-plat'], 'rpx', true)).toEqual([]);
  });
  test('what several texts lead to is told once, by the closest', () => {
    expect(
      made([
        { text: 'sgh-core-1', entry: 7, loosely: true },
        { text: '10.72.0.1', entry: 7, loosely: false },
        { text: 'core', entry: 7, loosely: true },
      ]).find('core', 5),
    ).toEqual([{ entry: 7, text: 'core', rank: 0 }]);
  });
  test('other ways to write it find it too', () => {
    expect(made([{ text: '024b45000001', entry: 1, loosely: false }]).find('02-4B-45', 5, ['024b45'])).toEqual([
      { entry: 1, text: '024b45000001', rank: 1 },
    ]);
  });
  test('every text is found by itself, first, and by any scrap of it', () => {
    const word = fc
      .string({ unit: fc.constantFrom(...'abAB01-.: '), minLength: 1, maxLength: 12 })
      .filter((text) => text.trim() === text);
    fc.assert(
      fc.property(
        fc.uniqueArray(word, { minLength: 1, maxLength: 20, selector: (text) => text.toLowerCase() }),
        fc.nat(),
        fc.nat(),
        (texts, pick, from) => {
          const text = texts[pick % texts.length] ?? '';
          const among = index(texts);
          expect(among.find(text, 5)[0]).toMatchObject({ text, rank: 0 });
          const scrap = text.slice(from % text.length).trim();
          if (scrap) expect(among.find(scrap, 50).map((one) => one.text)).toContain(text);
        },
      ),
    );
  });
  test('a name with one letter wrong is found among many', () => {
    const names = Array.from({ length: 2000 }, (_, at) => `s${at % 140}-sw-${at}-${'abcdefgh'[at % 8] ?? ''}`);
    const among = index(names);
    fc.assert(
      fc.property(fc.nat({ max: 1999 }), fc.nat({ max: 7 }), (at, place) => {
        const name = names[at] ?? '';
        const wrong = `${name.slice(0, place % name.length)}x${name.slice((place % name.length) + 1)}`;
        expect([wrong, among.find(wrong, 20).map(({ text }) => text)]).toEqual([wrong, expect.arrayContaining([name])]);
      }),
      { numRuns: 60 },
    );
  });
});
