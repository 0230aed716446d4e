import Papa from 'papaparse';
import { stringify as toYaml } from 'yaml';

export const tableFormats = ['json', 'ndjson', 'csv', 'xlsx', 'yaml'] as const;
export type TableFormat = (typeof tableFormats)[number];

export const mediaTypes: Record<TableFormat, string> = {
  json: 'application/json', ndjson: 'application/x-ndjson', csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet', yaml: 'application/yaml',
};

type Row = Record<string, unknown>;

/** Writes rows in a format. CSV and XLSX are the same rows flattened: `poe.state`, lists joined by blanks. */
export async function writeTable(format: TableFormat, rows: Row[], title: string): Promise<string | Buffer> {
  switch (format) {
    case 'json': return `${JSON.stringify(rows, null, 1)}\n`;
    case 'ndjson': return rows.map((row) => `${JSON.stringify(row)}\n`).join('');
    case 'yaml': return toYaml(rows);
    case 'csv': {
      const flat = rows.map(flatten);
      return `${Papa.unparse({ fields: columnsOf(flat), data: flat.map((row) => columnsOf(flat).map((column) => defuse(row[column]))) }, { newline: '\r\n' })}\r\n`;
    }
    case 'xlsx': {
      // a large package that only this format needs
      const { default: ExcelJS } = await import('exceljs');
      const flat = rows.map(flatten);
      const book = new ExcelJS.Workbook();
      const sheet = book.addWorksheet(title.slice(0, 31).replace(/[*?:\\/[\]]/g, ' '), { views: [{ state: 'frozen', ySplit: 1 }] });
      const columns = columnsOf(flat);
      sheet.columns = columns.map((column) => ({ header: column, key: column, width: Math.min(48, Math.max(column.length + 2, ...flat.slice(0, 200).map((row) => String(row[column] ?? '').length + 1))) }));
      for (const row of flat) sheet.addRow(columns.map((column) => cellOf(row[column])));
      sheet.getRow(1).font = { bold: true };
      if (columns.length > 0) sheet.autoFilter = { from: { row: 1, column: 1 }, to: { row: 1, column: columns.length } };
      return Buffer.from(await book.xlsx.writeBuffer());
    }
  }
}

function columnsOf(rows: Row[]): string[] {
  return [...new Set(rows.flatMap((row) => Object.keys(row)))];
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
