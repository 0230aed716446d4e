import { once } from 'node:events';
import { PassThrough } from 'node:stream';
import Papa from 'papaparse';
import { stringify as toYaml } from 'yaml';

export const tableFormats = ['json', 'ndjson', 'csv', 'xlsx', 'yaml'] as const;
export type TableFormat = (typeof tableFormats)[number];

export const mediaTypes: Record<TableFormat, string> = {
  json: 'application/json',
  ndjson: 'application/x-ndjson',
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  yaml: 'application/yaml',
};

type Row = Record<string, unknown>;

const rowsAtOnce = 500;

/**
 * Rows in a format, some hundred at a time, so that a quarter of a million need no more memory than a page. CSV and XLSX are the same rows flattened: `poe.state`, lists
 * joined by blanks. YAML is made whole.
 * @param rows gone through twice where the columns must be known before the first row is written and nobody knows them
 * @param known the columns of the flattened rows
 */
export async function* tableParts(
  format: TableFormat,
  rows: Iterable<Row>,
  title: string,
  known: string[] | null = null,
): AsyncGenerator<string | Buffer> {
  switch (format) {
    case 'json': {
      let before = '[\n';
      for (const some of together(rows)) {
        yield before + some.map((row) => ` ${JSON.stringify(row)}`).join(',\n');
        before = ',\n';
      }
      yield before === '[\n' ? '[]\n' : '\n]\n';
      return;
    }
    case 'ndjson':
      for (const some of together(rows)) yield some.map((row) => `${JSON.stringify(row)}\n`).join('');
      return;
    case 'yaml':
      yield toYaml([...rows]);
      return;
    case 'csv':
    case 'xlsx': {
      const columns = known ?? columnsOf(rows);
      const paths = columns.map((column) => column.split('.'));
      yield* sheetParts(
        format,
        columns,
        lines(rows, (row) => paths.map((path) => flatValue(row, path))),
        title,
      );
    }
  }
}

/**
 * Lines of cells under their heads, as CSV or as a spreadsheet.
 * @param forSpreadsheets the CSV begins with a mark by which spreadsheets know its letters (UTF-8)
 */
export async function* sheetParts(
  format: 'csv' | 'xlsx',
  heads: string[],
  rows: Iterable<unknown[]>,
  title: string,
  forSpreadsheets = false,
): AsyncGenerator<string | Buffer> {
  if (format === 'xlsx') return yield* workbookParts(rows, title, heads);
  const written = (some: unknown[][]) => `${Papa.unparse(some, { newline: '\r\n' })}\r\n`;
  yield (forSpreadsheets ? '\ufeff' : '') + written([heads]);
  const cell = forSpreadsheets
    ? (value: unknown) => csvCell(value === true ? 'yes' : value === false ? 'no' : value)
    : csvCell;
  for (const some of together(rows)) yield written(some.map((line) => line.map(cell)));
}

function* lines(rows: Iterable<Row>, cells: (row: Row) => unknown[]): Generator<unknown[]> {
  for (const row of rows) yield cells(row);
}

const widestColumn = 48;
const rowsMeasured = 200;

/** A spreadsheet, written row by row: types of its cells, a header that stays, a filter over all columns. */
async function* workbookParts(rows: Iterable<unknown[]>, title: string, columns: string[]): AsyncGenerator<Buffer> {
  // a large package that only this format needs
  const { default: ExcelJS } = await import('exceljs');
  const out = new PassThrough();
  const book = new ExcelJS.stream.xlsx.WorkbookWriter({ stream: out, useStyles: true });
  const sheet = book.addWorksheet(title.slice(0, 31).replace(/[*?:\\/[\]]/g, ' '), {
    views: [{ state: 'frozen', ySplit: 1 }],
  });
  const write = async () => {
    let measured = false;
    for (const some of together(rows)) {
      if (!measured)
        sheet.columns = columns.map((header, at) => ({
          header,
          width: Math.min(
            widestColumn,
            Math.max(header.length + 2, ...some.slice(0, rowsMeasured).map((line) => shownLength(line[at]) + 1)),
          ),
        }));
      if (!measured) sheet.getRow(1).font = { bold: true };
      measured = true;
      for (const line of some) {
        const cells = line.map(cellOf);
        const row = sheet.addRow(cells);
        cells.forEach((cell, at) => {
          if (cell instanceof Date) row.getCell(at + 1).numFmt = isMidnight(cell) ? 'yyyy-mm-dd' : 'yyyy-mm-dd hh:mm';
        });
        row.commit();
      }
      if (out.writableNeedDrain) await once(out, 'drain');
    }
    if (!measured) sheet.columns = columns.map((header) => ({ header, width: header.length + 2 }));
    if (columns.length > 0) sheet.autoFilter = { from: { row: 1, column: 1 }, to: { row: 1, column: columns.length } };
    sheet.commit();
    await book.commit();
  };
  const written = write().catch((error: Error) => out.destroy(error));
  for await (const part of out) yield part as Buffer;
  await written;
}

function* together<One>(rows: Iterable<One>): Generator<One[]> {
  let some: One[] = [];
  for (const row of rows) {
    some.push(row);
    if (some.length < rowsAtOnce) continue;
    yield some;
    some = [];
  }
  if (some.length > 0) yield some;
}

/** Every column that any row has, in the order in which they come up. */
function columnsOf(rows: Iterable<Row>): string[] {
  const columns = new Set<string>();
  for (const row of rows) for (const column of Object.keys(flatten(row))) columns.add(column);
  return [...columns];
}

/** The value of a column of a flattened row, without flattening the rest of it. */
function flatValue(row: Row, path: string[]): unknown {
  let value: unknown = row;
  for (const name of path)
    value = value !== null && typeof value === 'object' && !Array.isArray(value) ? (value as Row)[name] : undefined;
  return Array.isArray(value) ? flatList(value) : value !== null && typeof value === 'object' ? undefined : value;
}

const flatList = (list: unknown[]): string =>
  list.some((item) => typeof item === 'object' && item !== null) ? JSON.stringify(list) : list.join(' ');

/** Nested objects become dotted columns; lists of scalars are joined; lists of objects are written as JSON. */
export function flatten(row: Row): Row {
  return Object.fromEntries(
    Object.entries(row).flatMap(([name, value]): [string, unknown][] => {
      if (Array.isArray(value)) return [[name, flatList(value)]];
      if (value && typeof value === 'object')
        return Object.entries(flatten(value as Row)).map(([inner, content]) => [`${name}.${inner}`, content]);
      return [[name, value]];
    }),
  );
}

const isMidnight = (moment: Date): boolean => moment.getTime() % 86_400_000 === 0;
const written = (moment: Date): string =>
  moment
    .toISOString()
    .slice(0, isMidnight(moment) ? 10 : 16)
    .replace('T', ' ');
const shownLength = (value: unknown): number =>
  value instanceof Date ? written(value).length : String(value ?? '').length;

/** A spreadsheet would run a cell of a CSV file that begins with one of these; whoever reads the file back takes the apostrophe away. */
function csvCell(value: unknown): unknown {
  if (value instanceof Date) return written(value);
  if (typeof value === 'boolean') return value;
  return typeof value === 'string' && /^[=+\-@\t\r]/.test(value) ? `'${value}` : (value ?? '');
}

/** A cell of text is text in a workbook, whatever it begins with. */
function cellOf(value: unknown): string | number | boolean | Date | null {
  if (value === null || value === undefined) return null;
  if (typeof value === 'number' || typeof value === 'boolean' || value instanceof Date) return value;
  const text = String(value);
  return /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d/.test(text) ? new Date(text) : text;
}
