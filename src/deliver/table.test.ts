import { expect, test } from '@jest/globals';
import ExcelJS from 'exceljs';
import Papa from 'papaparse';
import { flatten, writeTable } from './table';

const rows = [
  { name: '=HYPERLINK("x")', ports: [1, 2], stp: { state: 'forwarding' }, units: [{ serial: 'K1' }], memory: 5, seen: '2026-11-23T06:00:00.000Z', none: null },
  { name: 'comma, "quote"\nline', ports: [], stp: null, units: [], memory: null, seen: '', none: null },
];

test('nested values become dotted columns and joined lists', () => {
  expect(flatten(rows[0] ?? {})).toMatchObject({ ports: '1 2', 'stp.state': 'forwarding', units: '[{"serial":"K1"}]' });
});
test('CSV reads back, and a cell that a spreadsheet would run is defused', async () => {
  const { data } = Papa.parse<Record<string, string>>(String(await writeTable('csv', rows, 'x')).trimEnd(), { header: true });
  expect(data).toHaveLength(2);
  expect(data[0]?.name).toBe('\'=HYPERLINK("x")');
  expect(data[1]?.name).toBe('comma, "quote"\nline');
});
test('XLSX has a frozen header, numbers as numbers, dates as dates', async () => {
  const book = new ExcelJS.Workbook();
  await book.xlsx.load((await writeTable('xlsx', rows, 'Devices')) as unknown as ArrayBuffer);
  const sheet = book.getWorksheet('Devices');
  expect(sheet?.views[0]).toMatchObject({ state: 'frozen', ySplit: 1 });
  const header = (sheet?.getRow(1).values as string[]).slice(1);
  const cell = (name: string) => sheet?.getRow(2).getCell(header.indexOf(name) + 1).value;
  expect([cell('memory'), cell('name')]).toEqual([5, '\'=HYPERLINK("x")']);
  expect(cell('seen')).toBeInstanceOf(Date);
});
test('an empty table is still a file of its format', async () => {
  expect(JSON.parse(String(await writeTable('json', [], 'x')))).toEqual([]);
  expect(await writeTable('ndjson', [], 'x')).toBe('');
});
