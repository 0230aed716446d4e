import type { Column } from '../../core/tables/column';
import { Dictionary } from '../../core/tables/dictionary';
import { GrowingNumbers } from '../../core/tables/growingNumbers';
import type { Db } from '../../store/database';
import { contentsOf, versionsBegun, versionsEnded } from '../../store/facts';
import type { FactKind } from '../../store/schema';

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
  readonly #columns: Map<string, { dictionary: Dictionary; codes: GrowingNumbers; valueOf: (content: Content) => unknown }>;
  #places = new Map<number, number>();
  #upTo = 0;

  /** @param fields what a column is made of, by its name */
  constructor(readonly db: Db, readonly kind: FactKind, fields: Record<string, (content: Content) => unknown>) {
    this.#columns = new Map(Object.entries(fields).map(([name, valueOf]) => [name, { dictionary: new Dictionary(), codes: new GrowingNumbers(), valueOf }]));
  }

  /** Takes in what surveys up to one have found since. */
  continueTo(survey: number): void {
    if (survey <= this.#upTo) return;
    const columns = [...this.#columns.values()];
    for (const { id, deviceId, fromSurvey, untilSurvey, content } of versionsBegun(this.db, this.kind, this.#upTo, survey)) {
      this.#places.set(id, this.#ids.length);
      this.#ids.push(id);
      this.#owners.push(deviceId);
      this.#from.push(fromSurvey);
      this.#until.push(untilSurvey === null || untilSurvey > survey ? forGood : untilSurvey);
      const facts = JSON.parse(content) as Content;
      for (const { dictionary, codes, valueOf } of columns) codes.push(dictionary.codeOf(valueOf(facts)));
    }
    for (const { id, untilSurvey } of versionsEnded(this.db, this.kind, this.#upTo, survey)) {
      const place = this.#places.get(id);
      if (place !== undefined) this.#until.set(place, untilSurvey);
    }
    this.#upTo = survey;
  }

  /** The versions that hold at a survey. */
  asOf(survey: number): Uint32Array {
    const [from, until] = [this.#from.all(), this.#until.all()];
    const found = new GrowingNumbers();
    for (let version = 0; version < from.length; version++) if ((from[version] ?? 0) <= survey && (until[version] ?? 0) > survey) found.push(version);
    return found.all();
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

  /** What versions say in whole. */
  contents(versions: number[]): Content[] {
    const ids = this.#ids.all();
    return contentsOf<Content>(this.db, this.kind, versions.map((version) => ids[version] ?? 0)).flatMap((content) => (content === undefined ? [] : [content]));
  }
}
