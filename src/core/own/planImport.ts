import { readOwnValue, sameOwnValue, type OwnField, type OwnValue } from './ownField';
import type { OwnChange, OwnedRow } from './planEdit';
import type { FileMistake } from '../values/fileMistake';

export interface ImportPlan {
  /** the column by which rows are found */
  key: string;
  fields: string[];
  rows: number;
  changes: OwnChange[];
  /** columns that equipment tells: they stand there for the reader */
  passedOver: string[];
  mistakes: FileMistake[];
}

const mostMistakes = 200;

/**
 * What a table of values comes to. The first column that names rows is their key, all others are own fields, by name or heading. Nothing is taken if anything is wrong.
 * @param head names of the columns
 * @param lines cells by line, as in the file
 * @param keys columns that name a row, the best first, and which rows they name
 * @param isTold whether a column is what equipment tells, as in a file that was exported
 */
export function planImport(
  head: string[],
  lines: { line: number; cells: string[] }[],
  fields: OwnField[],
  keys: { name: string; labels: string[]; find: (value: string) => OwnedRow[] }[],
  isTold: (column: string) => boolean = () => false,
): ImportPlan {
  const mistakes: FileMistake[] = [];
  const add = (line: number, column: string, message: string) =>
    mistakes.length < mostMistakes && mistakes.push({ line, column, message });
  const names = head.map((name) => name.trim());
  const sameWord = (x: string, y: string) => x.toLowerCase() === y.toLowerCase();
  const key = keys.find(({ labels }) => names.some((name) => labels.some((label) => sameWord(label, name))));
  const keyAt = key ? names.findIndex((name) => key.labels.some((label) => sameWord(label, name))) : -1;
  if (!key) add(1, '', `No column says which row is meant: name one ${keys.map(({ name }) => name).join(', ')}`);
  const passedOver: string[] = [];
  const columns = names.map((name, at) => {
    if (at === keyAt) return null;
    const field = fields.find((candidate) => sameWord(candidate.name, name) || sameWord(candidate.label, name));
    // other columns that name rows stand there for the reader
    if (field || keys.some(({ labels }) => labels.some((label) => sameWord(label, name)))) return field ?? null;
    if (isTold(name)) {
      passedOver.push(name);
      return null;
    }
    add(
      1,
      name,
      name === ''
        ? `Column ${at + 1} has no heading`
        : `There is no own field “${name}”: there are ${fields.map(({ label }) => label).join(', ') || 'none yet'}`,
    );
    return null;
  });
  const twice = columns.find((field, at) => field && columns.indexOf(field) !== at);
  if (twice) add(1, twice.label, `${twice.label} is there twice`);
  const wanted = columns.filter((field) => field !== null);
  if (mistakes.length === 0 && wanted.length === 0)
    add(1, '', `No column is an own field: there are ${fields.map(({ label }) => label).join(', ') || 'none yet'}`);
  const changes: OwnChange[] = [];
  const seen = new Map<string, number>();
  if (key && mistakes.length === 0) {
    for (const { line, cells } of lines) {
      const named = (cells[keyAt] ?? '').trim();
      if (named === '') {
        add(line, names[keyAt] ?? '', 'says of no row whose it is');
        continue;
      }
      if (cells.length > names.length) {
        add(line, '', `has ${cells.length} cells, the head has ${names.length}`);
        continue;
      }
      const found = key.find(named);
      const [row] = found;
      if (!row || found.length > 1) {
        add(
          line,
          names[keyAt] ?? '',
          row ? `${found.length} have “${named}”: name them otherwise` : `Nothing has “${named}”`,
        );
        continue;
      }
      const before = seen.get(row.id);
      if (before !== undefined) {
        add(line, names[keyAt] ?? '', `“${named}” is in line ${before} already`);
        continue;
      }
      seen.set(row.id, line);
      columns.forEach((field, at) => {
        if (!field) return;
        const answer = readOwnValue(field, cells[at] ?? '');
        if ('mistake' in answer) return add(line, field.label, answer.mistake);
        const known = (row.values[field.name] ?? null) as OwnValue;
        if (!sameOwnValue(known, answer.value))
          changes.push({ id: row.id, row: row.row, field: field.name, before: known, after: answer.value });
        return undefined;
      });
    }
  }
  return {
    key: key?.name ?? '',
    fields: wanted.map(({ name }) => name),
    rows: lines.length,
    changes: mistakes.length > 0 ? [] : changes,
    passedOver,
    mistakes,
  };
}
