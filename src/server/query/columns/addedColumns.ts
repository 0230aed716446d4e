import { constantColumn, type Column } from '../../../core/tables/column';
import { Dictionary } from '../../../core/tables/dictionary';
import type { ThingTable } from '../tables/thingTable';

/** The column of a value that some rows have, by their ids. */
export function sparseColumn(
  table: ThingTable,
  values: ReadonlyMap<string, unknown>,
  otherwise: unknown = null,
): Column {
  if (values.size === 0) return constantColumn(otherwise, table.size);
  const dictionary = new Dictionary();
  const codes = new Uint32Array(table.size).fill(dictionary.codeOf(otherwise));
  for (const [id, value] of values) {
    const row = table.rowOf(id);
    if (row >= 0) codes[row] = dictionary.codeOf(value);
  }
  return { dictionary, codes };
}

/** A column that follows from the device a row belongs to. */
export function columnByOwner(owners: Uint32Array, valueOf: (deviceId: number) => unknown): Column {
  const dictionary = new Dictionary();
  const known = new Map<number, number>();
  const codes = new Uint32Array(owners.length);
  for (let row = 0; row < owners.length; row++) {
    const owner = owners[row] ?? 0;
    let code = known.get(owner);
    if (code === undefined) known.set(owner, (code = dictionary.codeOf(valueOf(owner))));
    codes[row] = code;
  }
  return { dictionary, codes };
}

/** The column of the groups that rows are in, by name in their order. @param members by group: 1 for each row that is in it */
export function groupColumn(size: number, members: { name: string; fits: Uint8Array }[]): Column {
  const dictionary = new Dictionary();
  const nowhere = dictionary.codeOf([]);
  const codes = new Uint32Array(size).fill(nowhere);
  for (const { name, fits } of members) {
    // rows that were in the same groups so far go on together
    const next = new Map<number, number>();
    for (let row = 0; row < size; row++) {
      if (!fits[row]) continue;
      const before = codes[row] ?? nowhere;
      let code = next.get(before);
      if (code === undefined)
        next.set(before, (code = dictionary.codeOf([...(dictionary.values[before] as string[]), name])));
      codes[row] = code;
    }
  }
  return { dictionary, codes };
}
