import type { FieldKind } from '../filter/filterField';
import type { Column } from './column';
import { lastRank } from './dictionary';

export interface OrderKey {
  column: Column;
  kind: FieldKind;
  descending: boolean;
}

/**
 * Rows in the order of some keys, the first counting most; rows that are alike stay as they were, rows without a value come last either way.
 * One stable counting sort a key, from the last to the first: linear in rows and distinct values.
 */
export function orderRows(rows: Uint32Array, keys: OrderKey[]): Uint32Array {
  let ordered = rows;
  for (const { column, kind, descending } of [...keys].reverse())
    ordered = sortByRank(ordered, column, column.dictionary.ranks(kind), descending);
  return ordered;
}

function sortByRank(rows: Uint32Array, { codes }: Column, ranks: Uint32Array, descending: boolean): Uint32Array {
  let highest = 0;
  for (const rank of ranks) if (rank !== lastRank && rank > highest) highest = rank;
  const bucketOf = (row: number) => {
    const rank = ranks[codes[row] ?? 0] ?? lastRank;
    return rank === lastRank ? highest + 1 : descending ? highest - rank : rank;
  };
  const starts = new Uint32Array(highest + 3);
  for (const row of rows) {
    const behind = bucketOf(row) + 1;
    starts[behind] = (starts[behind] ?? 0) + 1;
  }
  for (let at = 1; at < starts.length; at++) starts[at] = (starts[at] ?? 0) + (starts[at - 1] ?? 0);
  const sorted = new Uint32Array(rows.length);
  for (const row of rows) {
    const bucket = bucketOf(row);
    const place = starts[bucket] ?? 0;
    sorted[place] = row;
    starts[bucket] = place + 1;
  }
  return sorted;
}
