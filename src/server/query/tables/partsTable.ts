import { gather, pick, type Column } from '../../../core/tables/column';
import type { ThingRow } from '../rows/rowBuilder';
import { columnByOwner } from '../columns/addedColumns';
import { inOrderOfDevices } from './deviceOrder';
import type { FactVersions } from './factVersions';
import type { SurveyContext } from './surveyContext';
import type { ThingTable } from './thingTable';

/** Parts of devices as of a survey, chosen from all their versions: device by device, each told from its siblings by one field. */
export abstract class PartsTable<Content> implements ThingTable {
  readonly size: number;
  protected readonly numbers: Uint32Array;
  protected readonly columns = new Map<string, Column>();
  readonly #owners: Uint32Array;
  #places: Map<number, number> | null = null;

  /** @param keyField what no two parts of one device share */
  constructor(
    readonly facts: FactVersions<Content>,
    readonly context: SurveyContext,
    readonly keyField: string,
  ) {
    const all = facts.owners();
    this.numbers = inOrderOfDevices(facts.asOf(context.survey), all, context.nameOf);
    this.size = this.numbers.length;
    this.#owners = pick(all, this.numbers);
  }

  /** A column that versions do not have. */
  protected abstract make(field: string): Column;
  protected abstract row(content: Content, deviceId: number): ThingRow;

  column = (field: string): Column => {
    let column = this.columns.get(field);
    if (!column) {
      column = this.facts.has(field)
        ? gather(this.facts.column(field), this.numbers)
        : field === 'device'
          ? columnByOwner(this.#owners, this.context.nameOf)
          : this.make(field);
      this.columns.set(field, column);
    }
    return column;
  };

  keys(): Float64Array {
    const { codes } = this.column(this.keyField);
    const keys = new Float64Array(this.size);
    for (let row = 0; row < keys.length; row++) keys[row] = keyOf(this.#owners[row] ?? 0, codes[row] ?? 0);
    return keys;
  }

  rowOf(id: string): number {
    const [, deviceId, key] = /^(\d+):(.*)$/s.exec(id) ?? [];
    const code = this.column(this.keyField).dictionary.find(key);
    this.#places ??= new Map(Array.from(this.keys(), (own, row) => [own, row]));
    return code === undefined ? -1 : (this.#places.get(keyOf(Number(deviceId), code)) ?? -1);
  }

  owners(): Uint32Array {
    return this.#owners;
  }

  versions(): { facts: { has: (field: string) => boolean }; numbers: Uint32Array } {
    return { facts: this.facts, numbers: this.numbers };
  }

  rows(wanted: Iterable<number>): ThingRow[] {
    const places = [...wanted];
    return this.facts
      .contents(places.map((at) => this.numbers[at] ?? 0))
      .map((content, nth) => this.row(content, this.#owners[places[nth] ?? 0] ?? 0));
  }
}

const keyOf = (deviceId: number, keyCode: number): number => deviceId * 2 ** 24 + keyCode;
