import { valueAt, type Column } from '../../../core/tables/column';
import type { MarkedRow, ThingTable } from './thingTable';

/** A table with more fields than its rows have by themselves: what follows from their device, and what people say of them. */
export class EnrichedTable implements ThingTable {
  readonly size: number;
  readonly #columns = new Map<string, Column>();
  /** rows that are kept by the table beneath are made once */
  readonly #made = new WeakMap<MarkedRow, MarkedRow>();

  /** @param more by field: how its column is made, when it is first asked for */
  constructor(
    readonly base: ThingTable,
    readonly more: ReadonlyMap<string, (base: ThingTable) => Column>,
  ) {
    this.size = base.size;
  }

  column = (field: string): Column => {
    const make = this.more.get(field);
    if (!make) return this.base.column(field);
    let column = this.#columns.get(field);
    if (!column) this.#columns.set(field, (column = make(this.base)));
    return column;
  };

  numbersOf = (field: string): Float64Array | undefined =>
    this.more.has(field) ? undefined : this.base.numbersOf?.(field);

  get order(): ThingTable['order'] {
    return this.base.order;
  }

  get steps(): ThingTable['steps'] {
    return this.base.steps;
  }

  get coarse(): ThingTable['coarse'] {
    return this.base.coarse;
  }

  keys(): ArrayLike<number | string> {
    return this.base.keys();
  }

  owners(): Uint32Array {
    return this.base.owners();
  }

  rowOf(id: string): number {
    return this.base.rowOf(id);
  }

  versions(): ReturnType<NonNullable<ThingTable['versions']>> | undefined {
    return this.base.versions?.();
  }

  rows(wanted: Iterable<number>): MarkedRow[] {
    const places = [...wanted];
    const columns = Array.from(this.more.keys(), (field) => ({ field, column: this.column(field) }));
    return this.base.rows(places).map((row, nth) => {
      const known = this.#made.get(row);
      if (known) return known;
      const own: MarkedRow = { ...row };
      for (const { field, column } of columns) own[field] = valueAt(column, places[nth] ?? 0);
      this.#made.set(row, own);
      return own;
    });
  }
}
