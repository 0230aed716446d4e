import { expect, test } from '@jest/globals';
import ExcelJS from 'exceljs';
import Papa from 'papaparse';
import fc from 'fast-check';
import { flatten, tableParts, type TableFormat } from './table';

async function written(format: TableFormat, rows: Record<string, unknown>[], title = 'x'): Promise<string | Buffer> {
  const parts: (string | Buffer)[] = [];
  for await (const part of tableParts(format, rows, title)) parts.push(part);
  return format === 'xlsx' ? Buffer.concat(parts as Buffer[]) : parts.join('');
}

const rows = [
  {
    name: '=HYPERLINK("x")',
    ports: [1, 2],
    stp: { state: 'forwarding' },
    units: [{ serial: 'K1' }],
    memory: 5,
    seen: '2026-11-23T06:00:00.000Z',
    none: null,
  },
  { name: 'comma, "quote"\nline', ports: [], stp: null, units: [], memory: null, seen: '', none: null },
];

test('nested values become dotted columns and joined lists', () => {
  expect(flatten(rows[0] ?? {})).toMatchObject({ ports: '1 2', 'stp.state': 'forwarding', units: '[{"serial":"K1"}]' });
});
test('CSV reads back, and a cell that a spreadsheet would run is defused', async () => {
  const { data } = Papa.parse<Record<string, string>>(String(await written('csv', rows)).trimEnd(), { header: true });
  expect(data).toHaveLength(2);
  expect(data[0]?.name).toBe('\'=HYPERLINK("x")');
  expect(data[1]?.name).toBe('comma, "quote"\nline');
});
test('XLSX has a frozen header, numbers as numbers, dates as dates', async () => {
  const book = new ExcelJS.Workbook();
  await book.xlsx.load((await written('xlsx', rows, 'Devices')) as unknown as ArrayBuffer);
  const sheet = book.getWorksheet('Devices');
  expect(sheet?.views[0]).toMatchObject({ state: 'frozen', ySplit: 1 });
  const header = (sheet?.getRow(1).values as string[]).slice(1);
  const cell = (name: string) => sheet?.getRow(2).getCell(header.indexOf(name) + 1).value;
  expect([cell('memory'), cell('name')]).toEqual([5, '=HYPERLINK("x")']);
  expect(cell('seen')).toBeInstanceOf(Date);
  expect([
    sheet?.getRow(2).getCell(header.indexOf('seen') + 1).numFmt,
    sheet?.getRow(1).getCell(1).font.bold,
    sheet?.autoFilter,
  ]).toEqual(['yyyy-mm-dd hh:mm', true, expect.anything()]);
});
test('a spreadsheet of many rows has them all, in their order, and one of none has its header', async () => {
  const read = async (of: Record<string, unknown>[], known?: string[]) => {
    const parts: Buffer[] = [];
    for await (const part of tableParts('xlsx', of, 'Ports', known)) parts.push(part as Buffer);
    const book = new ExcelJS.Workbook();
    await book.xlsx.load(Buffer.concat(parts) as unknown as ArrayBuffer);
    return (
      book
        .getWorksheet('Ports')
        ?.getSheetValues()
        .slice(1)
        .map((row) => (row as unknown[]).slice(1)) ?? []
    );
  };
  expect(await read(Array.from({ length: 3000 }, (_, at) => ({ name: `port ${at}`, at })))).toEqual([
    ['name', 'at'],
    ...Array.from({ length: 3000 }, (_, at) => [`port ${at}`, at]),
  ]);
  expect(await read([], ['name', 'poe.state'])).toEqual([['name', 'poe.state']]);
});
test('an empty table is still a file of its format', async () => {
  expect(JSON.parse(String(await written('json', [])))).toEqual([]);
  expect(await written('ndjson', [])).toBe('');
});
test('in parts it is the same file, however many rows there are', async () => {
  const many = Array.from({ length: 1203 }, (_, at) => ({
    name: `port ${at}`,
    vlans: [at, at + 1],
    ...(at === 1200 && { late: 'a column that only one row has' }),
  }));
  expect(JSON.parse(String(await written('json', many)))).toEqual(many);
  expect(
    String(await written('ndjson', many))
      .trimEnd()
      .split('\n')
      .map((line) => JSON.parse(line) as unknown),
  ).toEqual(many);
  const { data, meta } = Papa.parse<Record<string, string>>(String(await written('csv', many)).trimEnd(), {
    header: true,
  });
  expect([data.length, meta.fields, data[1200]?.late, data[7]]).toEqual([
    1203,
    ['name', 'vlans', 'late'],
    'a column that only one row has',
    { name: 'port 7', vlans: '7 8', late: '' },
  ]);
});
test('whatever text stands in a cell comes back from CSV, but for what a spreadsheet would run', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.string({ unit: 'binary', maxLength: 12 }), { minLength: 1, maxLength: 8 }),
      async (texts) => {
        const { data } = Papa.parse<string[]>(
          String(
            await written(
              'csv',
              texts.map((text, at) => ({ at, text })),
            ),
          ).slice(0, -2),
        );
        expect(data.slice(1).map(([, text]) => text)).toEqual(
          texts.map((text) => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text)),
        );
      },
    ),
  );
});
