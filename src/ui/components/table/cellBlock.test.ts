import { describe, expect, test } from '@jest/globals';
import { things } from '../../../core/things/things';
import type { ThingField } from '../../../core/things/thing';
import { CellBlock } from './cellBlock';
import { moved } from './layout';

describe('a block of cells', () => {
  const columns = ['name', 'memoryBytes', 'address'].map(
    (name) => things.devices.fields.find((field) => field.name === name) as ThingField,
  );
  const rows = [
    { id: '1', name: 'sgh-core-1', memoryBytes: 4 * 2 ** 30, address: '10.72.0.1' },
    { id: '2', name: 'odd\tname\n', memoryBytes: null, address: '10.72.0.2' },
  ];
  // the second line is the head of a group
  const rowFor = (line: number) => Promise.resolve(line === 1 ? undefined : rows[line === 0 ? 0 : 1]);
  test('grows in every direction from where it began, and not out of the table', () => {
    const begun = CellBlock.at(3, 1);
    expect(begun.holds(3, 1)).toBe(false);
    const block = begun
      .grown('ArrowUp', 5, 3)
      .grown('ArrowUp', 5, 3)
      .grown('ArrowRight', 5, 3)
      .grown('ArrowRight', 5, 3);
    expect([block.lines, block.columns]).toEqual([
      [1, 3],
      [1, 2],
    ]);
    expect([block.holds(1, 2), block.holds(3, 1), block.holds(0, 1), block.holds(2, 0)]).toEqual([
      true,
      true,
      false,
      false,
    ]);
    expect(CellBlock.at(0, 0).grown('ArrowUp', 5, 3).lines).toEqual([0, 0]);
  });
  test('is copied as a spreadsheet takes it, as it is shown', async () => {
    expect(await CellBlock.at(0, 0).to(2, 2).text(columns, rowFor)).toBe(
      'sgh-core-1\t4 GB\t10.72.0.1\nodd name \t\t10.72.0.2',
    );
    expect(await CellBlock.at(2, 2).to(2, 2).text(columns, rowFor)).toBe('10.72.0.2');
  });
});

test('a column is put before another or at the end; one that is not there moves nothing', () => {
  const names = ['a', 'b', 'c'];
  expect([
    moved(names, 'c', 'a'),
    moved(names, 'a', null),
    moved(names, 'a', 'c'),
    moved(names, 'b', 'b'),
    moved(names, 'b', 'x'),
  ]).toEqual([['c', 'a', 'b'], ['b', 'c', 'a'], ['b', 'a', 'c'], names, names]);
});
