import type { FieldKind } from '../../../core/filter/filterField';
import { MacTable } from '../../../core/switching/macTable';
import { everyRow, type Column } from '../../../core/tables/column';
import { Dictionary } from '../../../core/tables/dictionary';
import { GrowingNumbers } from '../../../core/tables/growingNumbers';
import { orderRows } from '../../../core/tables/order';
import type { Db } from '../../../store/base/database';
import { contentsOf, versionsBegun, versionsEnded } from '../../../store/base/facts';
import type { FactKind } from '../../../store/base/schema';

/** Until when a version holds that holds still. */
const forGood = 0xffff_ffff;

/**
 * All versions of one kind of fact, in columns: read once, and continued with each survey that is sealed. Any survey is a choice of them, so that looking back costs what
 * looking at today costs. Contents stay in the file and are fetched for the rows that are shown.
 */
export class FactVersions<Content> {
  readonly #ids = new GrowingNumbers();
  readonly #owners = new GrowingNumbers();
  readonly #from = new GrowingNumbers();
  readonly #until = new GrowingNumbers();
  readonly #columns: Map<
    string,
    { dictionary: Dictionary; codes: GrowingNumbers; valueOf: (content: Content, deviceId: number) => unknown }
  >;
  #places = new Map<number, number>();
  #upTo = 0;
  #order: Uint32Array = new Uint32Array(0);
  readonly #firsts = new Map<string, { versions: number; first: Uint32Array }>();

  /**
   * @param fields what a column is made of, by its name
   * @param order columns by which versions stand, that of the device first
   */
  constructor(
    readonly db: Db,
    readonly kind: FactKind,
    fields: Record<string, (content: Content, deviceId: number) => unknown>,
    readonly order: { field: string; kind: FieldKind }[],
  ) {
    this.#columns = new Map(
      Object.entries(fields).map(([name, valueOf]) => [
        name,
        { dictionary: new Dictionary(), codes: new GrowingNumbers(), valueOf },
      ]),
    );
  }

  /** Takes in what surveys up to one have found since, some thousand versions at a step. */
  *continueTo(survey: number): Generator<void> {
    if (survey <= this.#upTo) return;
    const columns = [...this.#columns.values()];
    const from = this.#upTo;
    for (const { ids, deviceIds, fromSurveys, untilSurveys, contents } of versionsBegun<Content>(
      this.db,
      this.kind,
      from,
      survey,
    )) {
      contents.forEach((content, at) => {
        const id = ids[at] ?? 0;
        const until = untilSurveys[at] ?? 0;
        this.#places.set(id, this.#ids.length);
        this.#ids.push(id);
        this.#owners.push(deviceIds[at] ?? 0);
        this.#from.push(fromSurveys[at] ?? 0);
        this.#until.push(until === 0 || until > survey ? forGood : until);
        for (const { dictionary, codes, valueOf } of columns)
          codes.push(dictionary.codeOf(valueOf(content, deviceIds[at] ?? 0)));
      });
      yield;
    }
    for (const { id, untilSurvey } of versionsEnded(this.db, this.kind, from, survey)) {
      const place = this.#places.get(id);
      if (place !== undefined) this.#until.set(place, untilSurvey);
    }
    this.#upTo = survey;
  }

  /** The versions that hold at a survey, device by device, within one in the order of some columns. */
  asOf(survey: number): Uint32Array {
    const [from, until, order] = [this.#from.all(), this.#until.all(), this.#ordered()];
    const found = new Uint32Array(order.length);
    let count = 0;
    for (let at = 0; at < order.length; at++) {
      const version = order[at] ?? 0;
      if ((from[version] ?? 0) <= survey && (until[version] ?? 0) > survey) found[count++] = version;
    }
    return found.subarray(0, count);
  }

  /** All versions device by device: sorted once, whatever survey is looked at. */
  #ordered(): Uint32Array {
    if (this.#order.length < this.#ids.length) {
      this.#order = orderRows(
        everyRow(this.#ids.length),
        this.order.map(({ field, kind }) => ({ column: this.column(field), kind, descending: false })),
      );
    }
    return this.#order;
  }

  column(name: string): Column {
    const column = this.#columns.get(name);
    if (!column) throw new Error(`no column “${name}” of ${this.kind}`);
    return { dictionary: column.dictionary, codes: column.codes.all() };
  }

  has(name: string): boolean {
    return this.#columns.has(name);
  }

  /** By version: the device it belongs to. */
  owners(): Uint32Array {
    return this.#owners.all();
  }

  /** By version: the survey that found it. */
  begun(): Uint32Array {
    return this.#from.all();
  }

  /** By version: the survey that found it no more; a very large number while it holds. */
  ended(): Uint32Array {
    return this.#until.all();
  }

  /** By number of a value in a column: the first survey in which any version had it. */
  firstSurveys(name: string): Uint32Array {
    const known = this.#firsts.get(name);
    if (known?.versions === this.#ids.length) return known.first;
    const { codes, dictionary } = this.column(name);
    const begun = this.begun();
    const first = new Uint32Array(dictionary.size).fill(forGood);
    for (let version = 0; version < codes.length; version++) {
      const code = codes[version] ?? 0;
      first[code] = Math.min(first[code] ?? 0, begun[version] ?? 0);
    }
    this.#firsts.set(name, { versions: codes.length, first });
    return first;
  }

  /** Every version there was, as far as it has been read, with some of its columns; `untilSurvey` null while it holds. */
  *history(
    names: readonly (keyof Content & string)[],
  ): Generator<{ deviceId: number; fromSurvey: number; untilSurvey: number | null; content: Partial<Content> }> {
    const [owners, from, until] = [this.#owners.all(), this.#from.all(), this.#until.all()];
    const columns = names.map((name) => ({ name, ...this.column(name) }));
    for (let version = 0; version < owners.length; version++) {
      const content: Record<string, unknown> = {};
      for (const { name, dictionary, codes } of columns) content[name] = dictionary.values[codes[version] ?? 0];
      const ended = until[version] ?? 0;
      yield {
        deviceId: owners[version] ?? 0,
        fromSurvey: from[version] ?? 0,
        untilSurvey: ended >= forGood ? null : ended,
        content: content as Partial<Content>,
      };
    }
  }

  /** All versions that have a value in a column, oldest first, with the surveys that found them and found them gone; null while they hold. */
  versionsWith(name: string, value: unknown): { fromSurvey: number; untilSurvey: number | null; content: Content }[] {
    const { codes, dictionary } = this.column(name);
    const code = dictionary.find(value);
    if (code === undefined) return [];
    const [from, until] = [this.#from.all(), this.#until.all()];
    const found: number[] = [];
    for (let version = 0; version < codes.length; version++) if (codes[version] === code) found.push(version);
    found.sort((x, y) => (from[x] ?? 0) - (from[y] ?? 0));
    const contents = this.contents(found);
    return found.flatMap((version, at) => {
      const content = contents[at];
      return content === undefined
        ? []
        : [
            {
              fromSurvey: from[version] ?? 0,
              untilSurvey: (until[version] ?? 0) >= forGood ? null : (until[version] ?? 0),
              content,
            },
          ];
    });
  }

  /** Values of one column in versions up to a survey whose list in another holds a text, those of the latest versions first. */
  valuesBeside(name: string, list: string, text: string, survey: number): unknown[] {
    const { dictionary, codes } = this.column(list);
    const near = dictionary.containing(text);
    const holding = new Uint8Array(near.length);
    near.forEach((found, code) => {
      const value = dictionary.values[code];
      if (found && Array.isArray(value) && value.includes(text)) holding[code] = 1;
    });
    const from = this.#from.all();
    const versions: number[] = [];
    for (let version = 0; version < codes.length; version++)
      if (holding[codes[version] ?? 0] && (from[version] ?? 0) <= survey) versions.push(version);
    const own = this.column(name);
    return [
      ...new Set(
        versions
          .sort((x, y) => (from[y] ?? 0) - (from[x] ?? 0))
          .map((version) => own.dictionary.values[own.codes[version] ?? 0]),
      ),
    ];
  }

  /**
   * How often a field was another one than in the version before, for what a device and a key field name together.
   * @param after only changes that surveys after this one found
   * @returns by device × 2²⁴ + number of the key value
   */
  changesOf(field: string, keyField: string, after: number, survey: number): MacTable {
    const [from, owners] = [this.#from.all(), this.#owners.all()];
    const [values, keys] = [this.column(field).codes, this.column(keyField).codes];
    const last = new MacTable(1 << 12);
    const counts = new MacTable(64);
    // versions were read in the order of the surveys that found them
    for (let version = 0; version < from.length; version++) {
      const found = from[version] ?? 0;
      if (found > survey) continue;
      const key = (owners[version] ?? 0) * 2 ** 24 + (keys[version] ?? 0);
      const value = values[version] ?? 0;
      const before = last.get(key);
      if (before >= 0 && before !== value && found > after) counts.set(key, Math.max(0, counts.get(key)) + 1);
      last.set(key, value);
    }
    return counts;
  }

  /** What versions say in whole. */
  contents(versions: number[]): Content[] {
    const ids = this.#ids.all();
    return contentsOf<Content>(
      this.db,
      this.kind,
      versions.map((version) => ids[version] ?? 0),
    ).flatMap((content) => (content === undefined ? [] : [content]));
  }
}
