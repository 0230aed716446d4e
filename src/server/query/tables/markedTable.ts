import { valueAt, type Column } from '../../../core/tables/column';
import { Dictionary } from '../../../core/tables/dictionary';
import { GrowingNumbers } from '../../../core/tables/growingNumbers';
import type { Thing } from '../../../core/things/thing';
import { changeKinds, type MarkedRow, type ThingTable } from './thingTable';

const marks = ['', ...changeKinds] as const;
const [same, added, gone, changed, replaced, silent] = [0, 1, 2, 3, 4, 5];

/** The rows of two moments in one: those of the moment viewed, marked where they were added or differ, then those that are gone. */
export class MarkedTable implements ThingTable {
  readonly size: number;
  readonly #gone: Uint32Array;
  readonly #changes: Uint8Array;
  /** by row of now: the row it was then, one too high; 0 for none */
  #before: Uint32Array;
  /** by row of now: 1 where it is the very same version as then */
  readonly #sameVersion: Uint8Array;
  readonly #compared: string[];
  readonly #comparedBy: Record<string, string>;
  readonly #columns = new Map<string, Column>();
  readonly #differences = new Map<string, (row: number, before: number) => boolean>();

  constructor(
    readonly now: ThingTable,
    readonly then: ThingTable,
    thing: Thing,
  ) {
    this.#compared = thing.fields.filter((field) => field.compared).map((field) => field.name);
    this.#comparedBy = thing.comparedBy ?? {};
    this.#before = new Uint32Array(now.size);
    this.#sameVersion = new Uint8Array(now.size);
    this.#gone = goneOf(this.#findBefore());
    this.size = now.size + this.#gone.length;
    this.#changes = new Uint8Array(this.size).fill(gone, now.size);
    markAdded(this.#changes, this.#before);
    for (const field of this.#compared) this.#compare(field);
    this.#tellApart(thing.name);
  }

  /** Whether it was made of these. */
  isOf(now: ThingTable, then: ThingTable): boolean {
    return this.now === now && this.then === then;
  }

  /** Finds for each row of now the one it was then. @returns by row of then: whether it is there still */
  #findBefore(): Uint8Array {
    const { now, then } = this;
    const stayed = new Uint8Array(then.size);
    const join = (row: number, before: number) => {
      this.#before[row] = before + 1;
      stayed[before] = 1;
    };
    const places = now.placesIn?.(then);
    if (places) {
      this.#before = places;
      markStayed(stayed, places);
      return stayed;
    }
    const own = now.versions?.();
    const others = then.versions?.();
    if (own && others && own.facts === others.facts) {
      const places = new Uint32Array(others.numbers.reduce((most, version) => Math.max(most, version), 0) + 1);
      others.numbers.forEach((version, row) => (places[version] = row + 1));
      own.numbers.forEach((version, row) => {
        const place = places[version] ?? 0;
        if (place === 0) return;
        this.#sameVersion[row] = 1;
        join(row, place - 1);
      });
    }
    const keysNow = now.keys();
    const rowThen = rowsByKey(then.keys(), stayed);
    for (let row = 0; row < now.size; row++) {
      if (this.#sameVersion[row]) continue;
      const before = rowThen(keysNow[row] ?? '');
      if (before >= 0) join(row, before);
    }
    return stayed;
  }

  #compare(field: string): void {
    const differs = this.#difference(field);
    const ofVersion = this.now.versions?.()?.facts.has(field) ?? false;
    for (let row = 0; row < this.now.size; row++) {
      const before = this.#before[row] ?? 0;
      if (ofVersion && this.#sameVersion[row]) continue;
      if (before > 0 && this.#changes[row] === same && differs(row, before - 1)) this.#changes[row] = changed;
    }
  }

  /** Among what changed: another chassis or part under the same name, and devices that fell silent. */
  #tellApart(thing: Thing['name']): void {
    if (thing !== 'devices' && thing !== 'modules') return;
    const [serialNow, serialThen] = [this.now.column('serial'), this.then.column('serial')];
    const states = thing === 'devices' ? ([this.now.column('state'), this.then.column('state')] as const) : null;
    for (let row = 0; row < this.now.size; row++) {
      if (this.#changes[row] !== changed) continue;
      const before = (this.#before[row] ?? 1) - 1;
      const [own, other] = [valueAt(serialNow, row), valueAt(serialThen, before)];
      if (own && other && own !== other) this.#changes[row] = replaced;
      else if (states && valueAt(states[0], row) === 'silent' && valueAt(states[1], before) !== 'silent')
        this.#changes[row] = silent;
    }
  }

  /** @returns whether a field of a row now is another than of a row then */
  #difference(field: string): (row: number, before: number) => boolean {
    let known = this.#differences.get(field);
    if (!known) this.#differences.set(field, (known = this.#differenceOf(field)));
    return known;
  }

  #differenceOf(field: string): (row: number, before: number) => boolean {
    const by = this.#comparedBy[field] ?? field;
    const [now, then] = [this.now.column(by), this.then.column(by)];
    // the numbers of one dictionary tell it already
    if (now.dictionary === then.dictionary) return (row, before) => now.codes[row] !== then.codes[before];
    const known = then.dictionary.values.map((value) => now.dictionary.codeOf(value));
    return (row, before) => now.codes[row] !== known[then.codes[before] ?? 0];
  }

  column = (field: string): Column => {
    let column = this.#columns.get(field);
    if (!column) this.#columns.set(field, (column = field === 'change' ? this.#marks() : this.#both(field)));
    return column;
  };

  get order(): ThingTable['order'] {
    return this.now.order;
  }

  get coarse(): ThingTable['coarse'] {
    return this.now.coarse;
  }

  numbersOf = (field: string): Float64Array | undefined => {
    const now = this.now.numbersOf?.(field);
    if (!now || this.#gone.length === 0) return now;
    const then = this.then.numbersOf?.(field);
    const numbers = new Float64Array(this.size).fill(Number.NaN, now.length);
    numbers.set(now);
    this.#gone.forEach((row, at) => (numbers[now.length + at] = then?.[row] ?? Number.NaN));
    return numbers;
  };

  /** What is gone fits nothing that only the moment viewed tells. */
  get steps(): ThingTable['steps'] {
    const { steps } = this.now;
    if (!steps || this.#gone.length === 0) return steps;
    return steps.map((step) => ({
      ...step,
      spread: (found) => {
        const fits = new Uint8Array(this.size);
        fits.set(step.spread(found));
        return fits;
      },
    }));
  }

  keys(): (number | string)[] {
    const then = this.then.keys();
    return [...Array.from(this.now.keys()), ...Array.from(this.#gone, (row) => then[row] ?? '')];
  }

  rowOf(id: string): number {
    const row = this.now.rowOf(id);
    if (row >= 0) return row;
    const before = this.#gone.indexOf(this.then.rowOf(id));
    return before < 0 ? -1 : this.now.size + before;
  }

  owners(): Uint32Array {
    const owners = new Uint32Array(this.size);
    owners.set(this.now.owners());
    const then = this.then.owners();
    owners.set(
      this.#gone.map((row) => then[row] ?? 0),
      this.now.size,
    );
    return owners;
  }

  rows(wanted: Iterable<number>): MarkedRow[] {
    const places = [...wanted];
    const now = this.now.rows(places.filter((row) => row < this.now.size));
    const then = this.then.rows(
      places.filter((row) => row >= this.now.size).map((row) => this.#gone[row - this.now.size] ?? 0),
    );
    let [nextNow, nextThen] = [0, 0];
    return places.flatMap((place): MarkedRow[] => {
      const row = place < this.now.size ? now[nextNow++] : then[nextThen++];
      if (!row) return [];
      const change = marks[this.#changes[place] ?? 0];
      return [
        change
          ? { ...row, change, ...(change !== 'added' && change !== 'gone' && { before: this.#beforeOf(place) }) }
          : row,
      ];
    });
  }

  #beforeOf(place: number): Record<string, unknown> {
    const before = (this.#before[place] ?? 1) - 1;
    return Object.fromEntries(
      this.#compared
        .filter((field) => this.#difference(field)(place, before))
        .map((field) => {
          const { dictionary, codes } = this.then.column(field);
          return [field, dictionary.values[codes[before] ?? 0]];
        }),
    );
  }

  #marks(): Column {
    const dictionary = new Dictionary();
    for (const mark of marks) dictionary.codeOf(mark);
    return { dictionary, codes: new Uint32Array(this.#changes) };
  }

  #both(field: string): Column {
    if (this.#gone.length === 0) return this.now.column(field);
    const [now, then] = [this.now.column(field), this.then.column(field)];
    const codes = new Uint32Array(this.size);
    codes.set(now.codes);
    const known =
      now.dictionary === then.dictionary ? null : then.dictionary.values.map((value) => now.dictionary.codeOf(value));
    this.#gone.forEach((row, at) => {
      const code = then.codes[row] ?? 0;
      codes[this.now.size + at] = known ? (known[code] ?? 0) : code;
    });
    return { dictionary: now.dictionary, codes };
  }
}

// loops of their own, since of some things there are millions of rows

function goneOf(stayed: Uint8Array): Uint32Array {
  const left = new GrowingNumbers();
  for (let row = 0; row < stayed.length; row++) if (!stayed[row]) left.push(row);
  return left.all();
}

function markAdded(changes: Uint8Array, before: Uint32Array): void {
  for (let row = 0; row < before.length; row++) if (!before[row]) changes[row] = added;
}

function markStayed(stayed: Uint8Array, places: Uint32Array): void {
  for (let row = 0; row < places.length; row++) {
    const place = places[row] ?? 0;
    if (place > 0) stayed[place - 1] = 1;
  }
}

/** Keys that are numbers up to so many times as high as there are rows are looked up by place. */
const placesPerKey = 4;
const fewKeys = 1_000_000;

/** Finds the row with a key; -1 where there is none. @param without by row: 1 for those that are not looked for */
function rowsByKey(keys: ArrayLike<number | string>, without: Uint8Array): (key: number | string) => number {
  let highest = -1;
  for (let row = 0; row < keys.length; row++) {
    const key = keys[row];
    if (typeof key === 'number' && key > highest && Number.isInteger(key)) highest = key;
  }
  const places = new Uint32Array(highest < placesPerKey * keys.length + fewKeys ? highest + 1 : 0);
  const isPlace = (key: number | string | undefined): key is number =>
    typeof key === 'number' && key >= 0 && key < places.length && Number.isInteger(key);
  const others = new Map<number | string, number>();
  for (let row = 0; row < keys.length; row++) {
    if (without[row]) continue;
    const key = keys[row] ?? '';
    if (isPlace(key)) places[key] = row + 1;
    else others.set(key, row);
  }
  return (key) => (isPlace(key) ? (places[key] ?? 0) - 1 : (others.get(key) ?? -1));
}
