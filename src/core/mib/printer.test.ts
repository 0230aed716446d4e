import { expect, test } from '@jest/globals';
import { parsePrinter, printerTables } from './printer';
import { integer, rows, text } from './testVarbinds';

const supply = (index: number, cells: { class?: number; unit?: number; most?: number; level: number }) =>
  rows(printerTables.prtMarkerSuppliesEntry, `1.${index}`, {
    4: integer(cells.class ?? 3),
    6: text(`supply ${index}`),
    7: integer(cells.unit ?? 7),
    8: integer(cells.most ?? -2),
    9: integer(cells.level),
  });

test('levels as RFC 3805 has them: a part of the capacity, a percentage by itself, or words that are no numbers', () => {
  expect(
    parsePrinter([
      ...rows(printerTables.prtGeneralEntry, '1', { 16: text('print-ground'), 17: text('NPT0072213') }),
      ...supply(1, { most: 12_000, level: 3_000 }),
      ...supply(2, { unit: 19, level: 7 }),
      // something is left, but not how much
      ...supply(3, { most: 100, level: -3 }),
      ...supply(4, { level: 50 }),
      ...supply(5, { class: 4, most: 200, level: 150 }),
    ]),
  ).toEqual({
    name: 'print-ground',
    serial: 'NPT0072213',
    supplies: [
      { name: 'supply 1', percent: 25, isWaste: false },
      { name: 'supply 2', percent: 7, isWaste: false },
      { name: 'supply 3', percent: null, isWaste: false },
      { name: 'supply 4', percent: null, isWaste: false },
      { name: 'supply 5', percent: 75, isWaste: true },
    ],
    alerts: [],
  });
});

test('alerts that are critical(3) or a warning(4); that something was set is none', () => {
  const alert = (index: number, severity: number, words: string) =>
    rows(printerTables.prtAlertEntry, `1.${index}`, { 2: integer(severity), 8: text(words) });
  expect(
    parsePrinter([
      ...rows(printerTables.prtGeneralEntry, '1', { 16: text('print-ground') }),
      ...alert(1, 3, 'paper jam in tray 2'),
      ...alert(2, 4, 'toner low'),
      ...alert(3, 1, 'tray 3 was set to A4'),
    ])?.alerts,
  ).toEqual([
    { words: 'paper jam in tray 2', critical: true },
    { words: 'toner low', critical: false },
  ]);
});

test('an agent without a printer', () => {
  expect(parsePrinter([])).toBeNull();
});
