import { isMap, isSeq, LineCounter, parseDocument, type Document, type YAMLMap } from 'yaml';
import { CsvError, readCsv, type CsvFile } from './csvFile';

/** A list is read as a whole: larger ones come as CSV. */
const mostLetters = 4_000_000;

/** Whether a text is a list of entries in JSON or YAML, and no table. */
export const isList = (text: string): boolean => /^\ufeff?([ \t]*(#[^\n]*)?\n)*[ \t]*(\[|\{|---(\s|$)|-\s)/.test(text);

/** A table however it is written: as CSV, or as a list of entries in JSON or YAML. @throws CsvError */
export const readTable = (text: string): CsvFile => (isList(text) ? readList(text) : readCsv(text));

/**
 * A list of entries in JSON or YAML, as a table: a column for each name that any of them has; `a: {b: …}` is the column `a.b`. An entry stands at the line on which it begins.
 * @throws CsvError
 */
export function readList(text: string): CsvFile {
  if (text.length > mostLetters) throw new CsvError(1, 'A list in JSON or YAML has at most 4 MB: send more as CSV');
  const counter = new LineCounter();
  const document = parseDocument(text.replace(/^\ufeff/, ''), { lineCounter: counter, version: '1.2', merge: false });
  const [wrong] = document.errors;
  if (wrong) throw new CsvError(counter.linePos(wrong.pos[0]).line, wordsOf(wrong.message));
  const list = document.contents;
  if (!isSeq(list)) throw new CsvError(1, 'A list of entries is expected');
  const heads = new Map<string, number>();
  const lines = list.items.map((item) => {
    const line = counter.linePos(item.range[0]).line;
    if (!isMap(item)) throw new CsvError(line, 'An entry has names with values');
    const cells: string[] = [];
    for (const [name, value] of fieldsOf(valuesOf(document, item, line), '')) {
      let at = heads.get(name);
      if (at === undefined) heads.set(name, (at = heads.size));
      cells[at] = cellOf(value);
    }
    return { line, cells };
  });
  const head = [...heads.keys()];
  return { head, lines: lines.map(({ line, cells }) => ({ line, cells: head.map((_, at) => cells[at] ?? '') })) };
}

/** What an anchor repeats counts each time: a small file must not become a large one. */
function valuesOf(document: Document.Parsed, entry: YAMLMap, line: number): Record<string, unknown> {
  try {
    return entry.toJS(document, { maxAliasCount: 100 }) as Record<string, unknown>;
  } catch (error) {
    throw new CsvError(line, `The entry cannot be read: ${(error as Error).message}`);
  }
}

function* fieldsOf(entry: Record<string, unknown>, before: string): Generator<[string, unknown]> {
  for (const [name, value] of Object.entries(entry)) {
    if (isPlain(value)) yield* fieldsOf(value, `${before}${name}.`);
    else yield [`${before}${name}`, value];
  }
}

const isPlain = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value) && !(value instanceof Date);

/** As a cell of a table has it: of several values each on a line of its own, of parts of one `a = b`. */
function cellOf(value: unknown): string {
  if (value === null || value === undefined) return '';
  if (value instanceof Date) return value.toISOString();
  if (Array.isArray(value)) return value.map((one) => `${partOf(one)}\n`).join('');
  return textOf(value);
}

const partOf = (value: unknown): string =>
  isPlain(value) ? Object.values(value).map(textOf).join(' = ') : textOf(value);

const textOf = (value: unknown): string =>
  typeof value === 'string'
    ? value
    : typeof value === 'boolean'
      ? value
        ? 'yes'
        : 'no'
      : typeof value === 'number' || typeof value === 'bigint'
        ? String(value)
        : JSON.stringify(value);

/** The first line of what the reader of the format says. */
const wordsOf = (message: string): string => (message.split('\n')[0] ?? '').replace(/ at line \d+.*$/, '');
