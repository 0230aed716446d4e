import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { talkAges, talkMatrix, type TalkAge } from './talkMatrix';

interface OneTalk {
  from: string;
  to: string;
  weight: number;
  age: TalkAge;
}
const talk = (from: string, to: string, weight = 1, age: TalkAge = 'now'): OneTalk => ({ from, to, weight, age });

function matrixOf(talks: OneTalk[], most?: number) {
  const names = [...new Set(talks.flatMap(({ from, to }) => [from, to]))];
  return talkMatrix(
    {
      names,
      // who asks by a number of its own, who is asked by that of its group
      from: {
        codes: Uint32Array.from(talks, (_, at) => at),
        groups: Uint32Array.from(talks, (one) => names.indexOf(one.from)),
      },
      to: {
        codes: Uint32Array.from(talks, (one) => names.indexOf(one.to)),
        groups: Uint32Array.from(names, (_, at) => at),
      },
      weight: Float64Array.from(talks, ({ weight }) => weight),
      age: Uint8Array.from(talks, ({ age }) => talkAges.indexOf(age)),
    },
    most,
  );
}

test('what says much to each other stands near each other', () => {
  const { names } = matrixOf([
    talk('a', 'd', 9),
    talk('b', 'e', 9),
    talk('d', 'c', 9),
    talk('e', 'f', 9),
    talk('c', 'f'),
  ]);
  const near = (one: string, other: string) => Math.abs(names.indexOf(one) - names.indexOf(other));
  expect(Math.max(near('a', 'd'), near('d', 'c'), near('b', 'e'), near('e', 'f'))).toBeLessThanOrEqual(2);
});

test('a cell is full where anything in it talked lately, and tells its share; what is too many stands together', () => {
  const { names, cells, others } = matrixOf(
    [talk('a', 'b', 3, 'remembered'), talk('a', 'b', 1), talk('a', 'c', 1, 'rare'), talk('d', 'a', 5, 'remembered')],
    3,
  );
  expect(others).toBe(2);
  expect(names.at(-1)).toBe('all others');
  const cell = (from: string, to: string) =>
    cells.find(({ row, column }) => names[row] === from && names[column] === to);
  expect(cell('d', 'a')).toMatchObject({ conversations: 1, share: 0.5, age: 'remembered' });
  expect(cell('a', 'all others')).toMatchObject({ conversations: 3, age: 'now' });
});

test('nothing is lost: cells hold each conversation once, and shares make a whole', () => {
  const name = fc.constantFrom(...'abcdefghijk');
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          from: name,
          to: name,
          weight: fc.integer({ min: 1, max: 9 }),
          age: fc.constantFrom('now' as const, 'rare' as const, 'remembered' as const),
        }),
        { minLength: 1, maxLength: 40 },
      ),
      fc.integer({ min: 2, max: 12 }),
      (talks, most) => {
        const { names, cells } = matrixOf(talks, most);
        expect(new Set(names).size).toBe(names.length);
        expect(cells.reduce((sum, { conversations }) => sum + conversations, 0)).toBe(talks.length);
        expect(cells.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1);
      },
    ),
  );
});
