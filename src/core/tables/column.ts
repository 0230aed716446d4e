import { Dictionary } from './dictionary';

/** One field over all rows of a table: the value of row `at` is `dictionary.values[codes[at]]`. */
export interface Column {
  dictionary: Dictionary;
  codes: Uint32Array;
}

/** A column whose codes are made when they are asked for: where no value is of interest they never are. */
export function lazyColumn(dictionary: Dictionary, make: () => Uint32Array): Column {
  let codes: Uint32Array | undefined;
  return {
    dictionary,
    get codes() {
      return (codes ??= make());
    },
  };
}

/** What is asked for its columns, by the names of fields. */
export interface ColumnSource {
  /** how many rows there are */
  size: number;
  column: (field: string) => Column;
  /** by row, where a field is a number that is nearly another in each row: NaN where there is none. Then a column of it costs more than it spares */
  numbersOf?: (field: string) => Float64Array | undefined;
}

/** A column of values, a row each. */
export function columnOf(values: Iterable<unknown>, size: number): Column {
  const dictionary = new Dictionary();
  const codes = new Uint32Array(size);
  let at = 0;
  for (const value of values) codes[at++] = dictionary.codeOf(value);
  return { dictionary, codes };
}

/** A column in which all rows have the same. */
export const constantColumn = (value: unknown, size: number): Column => columnOf([value], size);

/** The value of one row. */
export const valueAt = ({ dictionary, codes }: Column, row: number): unknown => dictionary.values[codes[row] ?? 0];

/** Some rows of a column, in the order they are named. */
export function gather({ dictionary, codes }: Column, rows: Uint32Array): Column {
  return { dictionary, codes: pick(codes, rows) };
}

/** Some of the numbers, in the order their places are named. */
export function pick(numbers: Uint32Array, places: Uint32Array): Uint32Array {
  const picked = new Uint32Array(places.length);
  for (let at = 0; at < places.length; at++) picked[at] = numbers[places[at] ?? 0] ?? 0;
  return picked;
}

/** How many of some rows have each value, by its number. */
export function countValues({ dictionary, codes }: Column, rows: Uint32Array): Uint32Array {
  const counts = new Uint32Array(dictionary.size);
  // of all rows nothing has to be picked out
  if (rows.length === codes.length) {
    for (let row = 0; row < codes.length; row++) counts[codes[row] ?? 0] = (counts[codes[row] ?? 0] ?? 0) + 1;
    return counts;
  }
  for (let at = 0; at < rows.length; at++) {
    const code = codes[rows[at] ?? 0] ?? 0;
    counts[code] = (counts[code] ?? 0) + 1;
  }
  return counts;
}

/** 0, 1, 2 … */
export function everyRow(size: number): Uint32Array {
  const rows = new Uint32Array(size);
  for (let row = 0; row < size; row++) rows[row] = row;
  return rows;
}

/** Columns of rows as they are, each made when it is first asked for. */
export function columnsOfRows(rows: readonly Record<string, unknown>[]): ColumnSource {
  const made = new Map<string, Column>();
  return {
    size: rows.length,
    column: (field) => {
      let column = made.get(field);
      if (!column)
        made.set(
          field,
          (column = columnOf(
            rows.map((row) => row[field]),
            rows.length,
          )),
        );
      return column;
    },
  };
}
