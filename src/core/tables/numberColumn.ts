import type { Column } from './column';
import { Dictionary, lastRank } from './dictionary';
import type { FieldKind } from '../filter/filterField';
import { atOnce, rowsInStep, type Steps } from '../steps';

/** Numbers up to here are told apart by a list of all of them, others by sorting. */
const mostListed = 1 << 21;

/** Values that came in their order: the place of each is its number. */
class OrderedDictionary extends Dictionary {
  readonly #ordered: number;
  #ranked: Uint32Array | null = null;

  /** @param values in order, null only as the last */
  constructor(values: readonly unknown[]) {
    super();
    for (const value of values) this.values.push(value);
    this.#ordered = values.length;
  }

  override codeOf(value: unknown): number {
    return this.find(value) ?? super.codeOf(value);
  }

  override find(value: unknown): number | undefined {
    let [low, high] = [0, this.#ordered - 1];
    if (value === null || value === undefined || value === '')
      return high >= 0 && this.values[high] === null ? high : super.find(value);
    if (high >= 0 && this.values[high] === null) high--;
    while (low <= high) {
      const middle = (low + high) >> 1;
      const own = this.values[middle] as number | string;
      if (own === value) return middle;
      if (own < (value as number | string)) low = middle + 1;
      else high = middle - 1;
    }
    return super.find(value);
  }

  override ranks(kind: FieldKind): Uint32Array {
    if (this.size !== this.#ordered) return super.ranks(kind);
    if (this.#ranked) return this.#ranked;
    const ranks = new Uint32Array(this.size);
    for (let code = 0; code < ranks.length; code++) ranks[code] = this.values[code] === null ? lastRank : code;
    return (this.#ranked = ranks);
  }
}

/** A column of numbers that can grow: with the numbers of its values, in order, and how they are shown. */
export interface NumberColumn extends Column {
  distinct: Float64Array;
  shown: (value: number) => unknown;
}

/**
 * A column of whole numbers from 0, by the million: told apart without a map, and in order as they are.
 * @param numbers by row; NaN where there is none
 * @param shown what stands in the table for a number; must keep their order
 */
export function numberColumn(numbers: Float64Array, shown: (value: number) => unknown = asItIs): NumberColumn {
  return atOnce(numberColumnInSteps(numbers, shown));
}

const asItIs = (value: number) => value;

/** As `numberColumn`, some rows at a step. */
export function* numberColumnInSteps(
  numbers: Float64Array,
  shown: (value: number) => unknown = asItIs,
): Steps<NumberColumn> {
  let most = 0;
  let isAnyMissing = false;
  for (let row = 0; row < numbers.length; row++) {
    const value = numbers[row] ?? 0;
    if (value > most) most = value;
    // only what is no number is not itself
    else if (value !== value) isAnyMissing = true;
  }
  yield;
  const isListed = most < mostListed;
  const distinct = isListed ? yield* listed(numbers, most) : sorted(numbers);
  const values: unknown[] = [];
  for (let code = 0; code < distinct.length; code++) values.push(shown(distinct[code] ?? 0));
  if (isAnyMissing) values.push(null);
  yield;
  const codes = isListed ? yield* codesByList(numbers, distinct, most) : codesBySearch(numbers, distinct);
  return { dictionary: new OrderedDictionary(values), codes, distinct, shown };
}

/**
 * The column again where few of its rows are other numbers and some came behind them: what stayed is taken over as it is. Values that no row has any more stay among the values.
 * @param from rows of before that are rows of this one; all from there on are looked at
 * @param changed those of them that may have another number
 * @returns null where a row has no number: then the column is to be made as a whole
 */
export function grownColumn(
  before: NumberColumn,
  size: number,
  changed: Uint32Array,
  from: number,
  numberAt: (row: number) => number,
): NumberColumn | null {
  const { distinct, shown } = before;
  if (before.dictionary.values[distinct.length] === null) return null;
  const added = new Set<number>();
  const look = (row: number) => {
    const value = numberAt(row);
    if (placeOf(distinct, value) < 0) added.add(value);
  };
  for (const row of changed) look(row);
  for (let row = from; row < size; row++) look(row);
  if (added.has(Number.NaN)) return null;
  const grown = added.size === 0 ? before : withValues(before, Float64Array.from(added).sort());
  const codes = new Uint32Array(size);
  codes.set(from === before.codes.length ? before.codes : before.codes.subarray(0, from));
  // what only came behind the others leaves their places as they are
  const isBehind = grown.distinct[distinct.length - 1] === distinct.at(-1);
  if (!isBehind)
    moved(
      codes,
      from,
      Uint32Array.from(distinct, (value) => placeOf(grown.distinct, value)),
    );
  const put = (row: number) => (codes[row] = placeOf(grown.distinct, numberAt(row)));
  for (const row of changed) put(row);
  for (let row = from; row < size; row++) put(row);
  return { dictionary: grown.dictionary, codes, distinct: grown.distinct, shown };
}

function moved(codes: Uint32Array, size: number, placeOfOld: Uint32Array): void {
  for (let row = 0; row < size; row++) codes[row] = placeOfOld[codes[row] ?? 0] ?? 0;
}

function withValues(
  { dictionary, distinct, shown }: NumberColumn,
  added: Float64Array,
): Pick<NumberColumn, 'dictionary' | 'distinct'> {
  const all = new Float64Array(distinct.length + added.length);
  const values: unknown[] = [];
  for (let [old, fresh] = [0, 0]; old < distinct.length || fresh < added.length;) {
    const isOld = fresh >= added.length || (distinct[old] ?? Infinity) < (added[fresh] ?? 0);
    all[values.length] = (isOld ? distinct[old] : added[fresh]) ?? 0;
    values.push(isOld ? dictionary.values[old++] : shown(added[fresh++] ?? 0));
  }
  return { dictionary: new OrderedDictionary(values), distinct: all };
}

/** -1 for what is not among them. */
function placeOf(distinct: Float64Array, value: number): number {
  let [low, high] = [0, distinct.length - 1];
  while (low <= high) {
    const middle = (low + high) >> 1;
    const own = distinct[middle] ?? 0;
    if (own === value) return middle;
    if (own < value) low = middle + 1;
    else high = middle - 1;
  }
  return -1;
}

function* listed(numbers: Float64Array, most: number): Steps<Float64Array> {
  const found = new Uint8Array(most + 1);
  for (let from = 0; from < numbers.length; from += rowsInStep) {
    markAll(found, numbers.subarray(from, from + rowsInStep));
    yield;
  }
  let size = 0;
  for (const one of found) size += one;
  const distinct = new Float64Array(size);
  let at = 0;
  for (let value = 0; value <= most; value++) if (found[value]) distinct[at++] = value;
  return distinct;
}

function markAll(found: Uint8Array, numbers: Float64Array): void {
  for (let row = 0; row < numbers.length; row++) found[numbers[row] ?? 0] = 1;
}

function* codesByList(numbers: Float64Array, distinct: Float64Array, most: number): Steps<Uint32Array> {
  const codeOf = new Uint32Array(most + 1);
  for (let code = 0; code < distinct.length; code++) codeOf[distinct[code] ?? 0] = code;
  const codes = new Uint32Array(numbers.length);
  for (let from = 0; from < numbers.length; from += rowsInStep) {
    const to = Math.min(from + rowsInStep, numbers.length);
    for (let row = from; row < to; row++) {
      const value = numbers[row] ?? 0;
      codes[row] = Number.isNaN(value) ? distinct.length : (codeOf[value] ?? 0);
    }
    yield;
  }
  return codes;
}

function sorted(numbers: Float64Array): Float64Array {
  // NaN stands last
  const all = numbers.slice().sort();
  let size = 0;
  for (let at = 0; at < all.length; at++) {
    const value = all[at] ?? 0;
    if (!Number.isNaN(value) && (size === 0 || value !== all[size - 1])) all[size++] = value;
  }
  return all.slice(0, size);
}

/** Each is looked for from a place that a list of the leading parts of all gives. */
function codesBySearch(numbers: Float64Array, distinct: Float64Array): Uint32Array {
  const codes = new Uint32Array(numbers.length);
  const most = distinct.at(-1) ?? 0;
  const lots = Math.max(1, distinct.length);
  const scale = lots / (most + 1);
  const starts = new Uint32Array(lots + 2);
  for (let code = 0; code < distinct.length; code++) {
    const lot = Math.floor((distinct[code] ?? 0) * scale) + 1;
    starts[lot] = (starts[lot] ?? 0) + 1;
  }
  for (let lot = 1; lot < starts.length; lot++) starts[lot] = (starts[lot] ?? 0) + (starts[lot - 1] ?? 0);
  for (let row = 0; row < numbers.length; row++) {
    const value = numbers[row] ?? 0;
    if (Number.isNaN(value)) {
      codes[row] = distinct.length;
      continue;
    }
    const lot = Math.floor(value * scale);
    let [low, high] = [starts[lot] ?? 0, (starts[lot + 1] ?? distinct.length) - 1];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((distinct[middle] ?? 0) < value) low = middle + 1;
      else high = middle;
    }
    codes[row] = low;
  }
  return codes;
}
