import Papa from 'papaparse';
import { stringify as toYaml } from 'yaml';

export const tableFormats = ['json', 'ndjson', 'csv', 'xlsx', 'yaml'] as const;
export type TableFormat = (typeof tableFormats)[number];

export const mediaTypes: Record<TableFormat, string> = {
  json: 'application/json', ndjson: 'application/x-ndjson', csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet', yaml: 'application/yaml',
};

type Row = Record<string, unknown>;

const rowsAtOnce = 500;

/**
 * Rows in a format, some hundred at a time, so that a quarter of a million need no more memory than a page. CSV and XLSX are the same rows flattened: `poe.state`, lists
 * joined by blanks. A spreadsheet and YAML are made whole.
 * @param rows gone through twice where the columns must be known before the first row is written
 */
export async function* tableParts(format: TableFormat, rows: Iterable<Row>, title: string): AsyncGenerator<string | Buffer> {
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
    case 'csv': {
      const columns = columnsOf(rows);
      yield `${Papa.unparse([columns], { newline: '\r\n' })}\r\n`;
      for (const some of together(rows)) {
        const cells = some.map((row) => {
          const flat = flatten(row);
          return columns.map((column) => defuse(flat[column]));
        });
        yield `${Papa.unparse(cells, { newline: '\r\n' })}\r\n`;
      }
      return;
    }
    case 'xlsx': {
      // a large package that only this format needs
      const { default: ExcelJS } = await import('exceljs');
      const flat = [...rows].map(flatten);
      const book = new ExcelJS.Workbook();
      const sheet = book.addWorksheet(title.slice(0, 31).replace(/[*?:\\/[\]]/g, ' '), { views: [{ state: 'frozen', ySplit: 1 }] });
      const columns = columnsOf(flat);
      sheet.columns = columns.map((column) => ({ header: column, key: column, width: Math.min(48, Math.max(column.length + 2, ...flat.slice(0, 200).map((row) => String(row[column] ?? '').length + 1))) }));
      for (const row of flat) sheet.addRow(columns.map((column) => cellOf(row[column])));
      sheet.getRow(1).font = { bold: true };
      if (columns.length > 0) sheet.autoFilter = { from: { row: 1, column: 1 }, to: { row: 1, column: columns.length } };
      yield Buffer.from(await book.xlsx.writeBuffer());
    }
  }
}

function* together(rows: Iterable<Row>): Generator<Row[]> {
  let some: Row[] = [];
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

/** Nested objects become dotted columns; lists of scalars are joined; lists of objects are written as JSON. */
export function flatten(row: Row): Row {
  return Object.fromEntries(
    Object.entries(row).flatMap(([name, value]): [string, unknown][] => {
      if (Array.isArray(value)) return [[name, value.some((item) => typeof item === 'object' && item !== null) ? JSON.stringify(value) : value.join(' ')]];
      if (value && typeof value === 'object') return Object.entries(flatten(value as Row)).map(([inner, content]) => [`${name}.${inner}`, content]);
      return [[name, value]];
    }),
  );
}

/** A spreadsheet would run a cell that begins with one of these. */
function defuse(value: unknown): unknown {
  return typeof value === 'string' && /^[=+\-@\t\r]/.test(value) ? `'${value}` : (value ?? '');
}

function cellOf(value: unknown): string | number | boolean | Date | null {
  if (value === null || value === undefined) return null;
  if (typeof value === 'number' || typeof value === 'boolean') return value;
  const text = String(value);
  if (/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d/.test(text)) return new Date(text);
  return defuse(text) as string;
}
