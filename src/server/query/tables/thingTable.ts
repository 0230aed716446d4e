import { columnsOfRows, type Column, type ColumnSource } from '../../../core/tables/column';
import type { RelatedTable } from '../../../core/tables/select';
import type { ThingRow } from '../rows/thingRow';

/** How a row of one moment stands to another moment. */
export const changeKinds = ['added', 'gone', 'changed', 'replaced', 'silent'] as const;
export type Change = (typeof changeKinds)[number];

export interface MarkedRow extends ThingRow {
  /** only where two surveys are held against each other; `replaced` is another serial under the same name, `silent` a device that answered then */
  change?: Change;
  before?: Record<string, unknown>;
}

/** All rows of a thing at a moment: by column for questions about all of them, as rows for those that are shown. */
export interface ThingTable extends ColumnSource {
  /** by row: what makes it the same row at another moment */
  keys: () => ArrayLike<number | string>;
  /** by row: the number of the device it belongs to, 0 for none */
  owners: () => Uint32Array;
  rows: (wanted: Iterable<number>) => MarkedRow[];
  /** by which fields rows are read where nobody says how; as they are, where it is not given */
  order?: readonly string[] | undefined;
  /** fields of which columns tell less than rows do */
  coarse?: ReadonlySet<string>;
  /** what a filter may ask of rows one step away, besides other things, by the word before the dot */
  steps?: (RelatedTable & { word: string })[];
  /** the row with an id; -1 where there is none */
  rowOf: (id: string) => number;
  /** by row: the row it is in the same table at another moment, one too high, 0 for none; where that is known without looking for keys */
  placesIn?: (other: ThingTable) => Uint32Array | undefined;
  /** by row: the version it shows, where rows are versions of facts; the same version has the same in all columns that are made of it alone */
  versions?: () => { facts: { has: (field: string) => boolean }; numbers: Uint32Array } | undefined;
}

/** A table of rows that are there already. */
export class RowsTable implements ThingTable {
  readonly size: number;
  readonly column: (field: string) => Column;
  #places: Map<string, number> | null = null;

  constructor(readonly all: readonly ThingRow[]) {
    this.size = all.length;
    this.column = columnsOfRows(all).column;
  }

  keys(): string[] {
    return this.all.map(({ id }) => id);
  }

  rowOf(id: string): number {
    this.#places ??= new Map(this.all.map((row, at) => [row.id, at]));
    return this.#places.get(id) ?? -1;
  }

  owners(): Uint32Array {
    return Uint32Array.from(this.all, (row) => Number(row.deviceId) || 0);
  }

  rows(wanted: Iterable<number>): ThingRow[] {
    const rows: ThingRow[] = [];
    for (const at of wanted) {
      const row = this.all[at];
      if (row) rows.push(row);
    }
    return rows;
  }
}
