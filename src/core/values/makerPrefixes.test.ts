import { expect, test } from '@jest/globals';
import { readMakerPrefixes } from './makerPrefixes';

const read = (...rows: string[][]) =>
  readMakerPrefixes(
    ['Prefix', 'Maker'],
    rows.map((cells, at) => ({ line: at + 2, cells })),
  );

test('prefixes of makers are read in any notation', () => {
  expect(
    read(['02:4B:45', 'Kestrane'], ['024f52', 'Orrery'], ['02-42-52-1', 'Brannick'], ['024b45', 'Kestrane']),
  ).toEqual({
    makers: [
      { prefix: '024b45', name: 'Kestrane' },
      { prefix: '024f52', name: 'Orrery' },
      { prefix: '0242521', name: 'Brannick' },
    ],
    mistakes: [],
  });
});
test('nothing is taken where a line is wrong', () => {
  expect(read(['02:4b', 'Kestrane'], ['024f52', ''], ['024b45', 'Kestrane'], ['02:4b:45', 'Tessaly'])).toEqual({
    makers: [],
    mistakes: [
      { line: 2, column: 'Prefix', message: '“02:4b” is no prefix of 6, 7 or 9 hexadecimal digits' },
      { line: 3, column: 'Maker', message: 'names no maker' },
      { line: 5, column: 'Prefix', message: '02:4b:45 is of “Kestrane” in line 4' },
    ],
  });
  expect(readMakerPrefixes(['oui'], []).mistakes).toHaveLength(2);
});
