import { expect, test } from '@jest/globals';
import { labelSheets, onSheets } from './sheets';

test('labels go over as many sheets as they need, behind the places that are used up', () => {
  const sheet = { columns: 2, rows: 2 };
  expect(onSheets(['a', 'b', 'c', 'd', 'e'], sheet, 0)).toEqual([['a', 'b', 'c', 'd'], ['e']]);
  expect(onSheets(['a', 'b'], sheet, 3)).toEqual([[null, null, null, 'a'], ['b']]);
  expect(onSheets(['a'], sheet, 9)).toEqual([[null, null, null, 'a']]);
  expect(onSheets([], sheet, 0)).toEqual([]);
});

test.each(labelSheets.map((sheet) => [sheet.words, sheet] as const))(
  '%s: all labels lie on the sheet',
  (_words, { page, columns, rows, label, left, top, gap }) => {
    expect(left + columns * label.width + (columns - 1) * gap.across).toBeLessThanOrEqual(page.width + 0.01);
    expect(top + rows * label.height + (rows - 1) * gap.down).toBeLessThanOrEqual(page.height + 0.01);
  },
);
