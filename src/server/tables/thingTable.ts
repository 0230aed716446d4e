import { columnsOfRows, type Column, type ColumnSource } from '../../core/tables/column';
import type { ThingRow } from '../things/asked';

export interface MarkedRow extends ThingRow {
  /** only where two surveys are held against each other */
  change?: 'added' | 'gone' | 'changed';
  before?: Record<string, unknown>;
}

/** All rows of a thing at a moment: by column for questions about all of them, as rows for those that are shown. */
export interface ThingTable extends ColumnSource {
  /** by row: what makes it the same row at another moment */
  keys: () => ArrayLike<number | string>;
  /** by row: the number of the device it belongs to, 0 for none */
  owners: () => Uint32Array;
  rows: (wanted: Iterable<number>) => MarkedRow[];
  /** by row: the version it shows, where rows are versions of facts; the same version has the same in all columns that are made of it alone */
  versions?: () => { facts: { has: (field: string) => boolean }; numbers: Uint32Array };
}

/** A table of rows that are there already. */
export class RowsTable implements ThingTable {
  readonly size: number;
  readonly column: (field: string) => Column;

  constructor(readonly all: readonly ThingRow[]) {
    this.size = all.length;
    this.column = columnsOfRows(all).column;
  }

  keys(): string[] {
    return this.all.map(({ id }) => id);
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
