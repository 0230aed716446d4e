import Papa from 'papaparse';

export interface CsvFile {
  head: string[];
  /** with the number of the line each begins at, the head being line 1 */
  lines: { line: number; cells: string[] }[];
}

const mostLines = 50_000;

/** A file that is no table. */
export class CsvError extends Error {
  constructor(
    readonly line: number,
    message: string,
  ) {
    super(message);
  }
}

/** Reads a table as spreadsheets write it: commas, semicolons or tabs, quoted cells over several lines too. Empty lines are passed over. @throws CsvError */
export function readCsv(text: string): CsvFile {
  const body = text.replace(/^\ufeff/, '').replace(/\r\n?/g, '\n');
  const rows: CsvFile['lines'] = [];
  let [from, line] = [0, 1];
  Papa.parse<string[]>(body, {
    delimiter: delimiterOf(body),
    newline: '\n',
    step: ({ data, meta, errors }) => {
      if (errors.some(({ code }) => code === 'MissingQuotes' || code === 'InvalidQuotes'))
        throw new CsvError(line, 'A quotation mark is opened and never closed, or stands within a cell');
      if (data.some((cell) => cell.trim() !== '')) rows.push({ line, cells: data.map(asMeant) });
      for (; from < meta.cursor; from++) if (body[from] === '\n') line++;
    },
  });
  const [head, ...lines] = rows;
  if (!head) throw new CsvError(1, 'The file is empty');
  if (lines.length > mostLines)
    throw new CsvError(lines[mostLines]?.line ?? 0, `The file has more than ${mostLines.toLocaleString('en')} rows`);
  return { head: head.cells, lines };
}

/** An apostrophe that only keeps a spreadsheet from running the cell is none of its letters: our own files have it. */
const asMeant = (cell: string): string => (/^'[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell);

/** What stands between the cells of the first line that has any. */
function delimiterOf(body: string): string {
  const first = (body.split('\n').find((one) => one.trim() !== '') ?? '').replace(/"[^"]*"/g, '');
  const counts = ['\t', ';', ','].map((mark) => ({ mark, count: first.split(mark).length }));
  return counts.sort((x, y) => y.count - x.count)[0]?.mark ?? ',';
}
