import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { valueAt } from './column';
import { grownColumn, numberColumn } from './numberColumn';
import { firstRows, orderRows } from './order';

const whole = fc.array(fc.option(fc.oneof(fc.nat(50), fc.nat(3_000_000), fc.maxSafeNat()), { nil: Number.NaN }));

test('each row has its number, and rows stand in the order of their numbers, those without one last', () => {
  fc.assert(
    fc.property(whole, fc.boolean(), (numbers, descending) => {
      const column = numberColumn(Float64Array.from(numbers));
      expect(numbers.map((_, row) => valueAt(column, row))).toEqual(
        numbers.map((value) => (Number.isNaN(value) ? null : value)),
      );
      const known = numbers.filter((value) => !Number.isNaN(value));
      for (const value of known) expect(column.dictionary.values[column.dictionary.find(value) ?? -1]).toBe(value);
      const rows = orderRows(Uint32Array.from(numbers.keys()), [{ column, kind: 'number', descending }]);
      const wanted = known.sort((x, y) => (descending ? y - x : x - y));
      expect([...rows].map((row) => numbers[row]).slice(0, wanted.length)).toEqual(wanted);
    }),
  );
});

test('a value that was not there has a number of its own from then on', () => {
  const { dictionary } = numberColumn(Float64Array.of(7, 3, Number.NaN), (value) => `2026-01-0${value}`);
  expect(dictionary.values).toEqual(['2026-01-03', '2026-01-07', null]);
  expect(dictionary.find('2026-01-05')).toBeUndefined();
  const added = dictionary.codeOf('2026-01-05');
  expect([dictionary.codeOf('2026-01-05'), dictionary.find('2026-01-05'), dictionary.codeOf(null)]).toEqual([
    added,
    added,
    2,
  ]);
  expect([...dictionary.ranks('date')]).toEqual([0, 2, 4294967295, 1]);
});

test('a column that grows has what one made as a whole has, in the same order', () => {
  const numbers = fc.array(fc.nat(30), { minLength: 1, maxLength: 30 });
  fc.assert(
    fc.property(
      numbers,
      fc.array(fc.tuple(fc.nat(29), fc.nat(40))),
      fc.array(fc.nat(60)),
      fc.boolean(),
      (own, rewritten, added, descending) => {
        const now = [...own, ...added];
        const changed = rewritten.filter(([row]) => row < own.length);
        for (const [row, value] of changed) now[row] = value;
        const shown = (value: number) => `${value}`.padStart(3, '0');
        const grown = grownColumn(
          numberColumn(Float64Array.from(own), shown),
          now.length,
          Uint32Array.from(changed, ([row]) => row),
          own.length,
          (row) => now[row] ?? 0,
        );
        if (!grown) throw new Error('every row has a number');
        const whole = numberColumn(Float64Array.from(now), shown);
        const rows = Uint32Array.from(now.keys());
        expect(now.map((_, row) => valueAt(grown, row))).toEqual(now.map((_, row) => valueAt(whole, row)));
        const ordered = (column: typeof grown) => [...orderRows(rows, [{ column, kind: 'number', descending }])];
        expect(ordered(grown)).toEqual(ordered(whole));
        for (const value of now)
          expect(grown.dictionary.values[grown.dictionary.find(shown(value)) ?? -1]).toBe(shown(value));
      },
    ),
  );
});

test('where a row has no number, a column is not grown', () => {
  const before = numberColumn(Float64Array.of(1, 2));
  expect(grownColumn(before, 3, new Uint32Array(0), 2, (row) => (row < 2 ? row + 1 : Number.NaN))).toBeNull();
  expect(grownColumn(numberColumn(Float64Array.of(1, Number.NaN)), 2, new Uint32Array(0), 2, () => 1)).toBeNull();
});

test('the first of many rows are those that come first when all are put in order', () => {
  const small = fc.array(fc.option(fc.nat(20), { nil: Number.NaN }), { minLength: 1, maxLength: 60 });
  fc.assert(
    fc.property(
      small,
      small,
      fc.boolean(),
      fc.boolean(),
      fc.nat(70),
      fc.boolean(),
      (own, others, down, isNumber, count, isMixed) => {
        const rows = Uint32Array.from(own.keys());
        if (isMixed) rows.reverse();
        const numbers = Float64Array.from(own);
        const keys = [
          { column: numberColumn(numbers), kind: 'number' as const, descending: down, ...(isNumber && { numbers }) },
          {
            column: numberColumn(Float64Array.from(own, (_, at) => others[at] ?? 0)),
            kind: 'number' as const,
            descending: !down,
          },
        ];
        const plain = keys.map(({ column, kind, descending }) => ({ column, kind, descending }));
        expect([...firstRows(rows, keys, count, 4)]).toEqual([...orderRows(rows, plain).subarray(0, count)]);
      },
    ),
    { numRuns: 500 },
  );
});
