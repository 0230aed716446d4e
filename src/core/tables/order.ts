import type { FieldKind } from '../filter/filterField';
import type { Column } from './column';
import { lastRank } from './dictionary';

export interface OrderKey {
  /** made when it is needed: where there are numbers it may not be */
  readonly column: Column;
  /** by row, where it is a number: NaN where there is none */
  numbers?: Float64Array | undefined;
  kind: FieldKind;
  descending: boolean;
}

/**
 * Rows in the order of some keys, the first counting most; rows that are alike stay as they were, rows without a value come last either way.
 * One stable counting sort a key, from the last to the first: linear in rows and distinct values.
 */
export function orderRows(rows: Uint32Array, keys: OrderKey[]): Uint32Array {
  let ordered = rows;
  for (const key of [...keys].reverse())
    ordered = key.numbers
      ? sortByNumber(ordered, key.numbers, key.descending)
      : sortByRank(ordered, key.column, key.column.dictionary.ranks(key.kind), key.descending);
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

function sortByNumber(rows: Uint32Array, numbers: Float64Array, descending: boolean): Uint32Array {
  const own = Float64Array.from(rows, (row) => {
    const value = numbers[row] ?? 0;
    return Number.isNaN(value) ? Infinity : descending ? -value : value;
  });
  const order = Uint32Array.from(rows.keys()).sort((x, y) => (own[x] ?? 0) - (own[y] ?? 0) || x - y);
  return order.map((at) => rows[at] ?? 0);
}

/** Fewer rows are ordered as a whole. */
const manyRows = 100_000;
/** Values are told apart by so many steps, to find those that may be among the first. */
const steps = 1 << 12;

/**
 * The first so many rows in the order of some keys, as `orderRows` has them; the others are not put in order.
 * @param many fewer rows are ordered as a whole
 */
export function firstRows(rows: Uint32Array, keys: OrderKey[], count: number, many = manyRows): Uint32Array {
  const [key] = keys;
  if (!key || rows.length < many || count >= rows.length || count === 0)
    return orderRows(rows, keys).subarray(0, count);
  let candidates = likelyFirst(rows, key, count);
  let taken: Uint32Array = new Uint32Array(0);
  // those before the step in which the last of the first falls are among them; that step is looked at again, more closely
  for (let left = count; candidates.length > many / 2;) {
    const stepAt = key.numbers
      ? stepsOfNumbers(candidates, key.numbers, key.descending)
      : stepsOfRanks(candidates, key);
    if (!stepAt) break;
    const counts = new Uint32Array(steps + 1);
    for (let at = 0; at < stepAt.length; at++) {
      const own = stepAt[at] ?? 0;
      counts[own] = (counts[own] ?? 0) + 1;
    }
    let [step, before] = [0, 0];
    while (step < steps && before + (counts[step] ?? 0) < left) before += counts[step++] ?? 0;
    const sure = new Uint32Array(before);
    const open = new Uint32Array(counts[step] ?? 0);
    let [nextSure, nextOpen] = [0, 0];
    for (let at = 0; at < stepAt.length; at++) {
      const own = stepAt[at] ?? 0;
      if (own < step) sure[nextSure++] = candidates[at] ?? 0;
      else if (own === step) open[nextOpen++] = candidates[at] ?? 0;
    }
    taken = joined(taken, sure);
    left -= before;
    if (open.length === candidates.length) break;
    candidates = open;
  }
  // where rows are alike they stay as they were
  return orderRows(joined(taken, candidates).sort(placedAs(rows)), keys).subarray(0, count);
}

/** Rows that are looked at to guess how far the first ones reach. */
const looked = 1 << 13;
/** Among those looked at, so many more than the first there should be of them are taken. */
const spare = 16;

/** Fewer rows with all of the first among them, as they came: up to a value that should be beyond the last of the first, by a few rows that are looked at. All rows where it is not. */
function likelyFirst(rows: Uint32Array, key: OrderKey, count: number): Uint32Array {
  const share = Math.ceil((count / rows.length) * looked) * 2 + spare;
  if (share > looked / 4) return rows;
  const each = rows.length / looked;
  const few = Uint32Array.from({ length: looked }, (_, at) => rows[Math.floor(at * each)] ?? 0);
  const found = new Uint32Array(rows.length);
  let size = 0;
  if (key.numbers) {
    const { numbers, descending } = key;
    const own = Float64Array.from(few, (row) => numbers[row] ?? 0)
      .filter((value) => !Number.isNaN(value))
      .sort();
    const bound = own.at(descending ? -1 - share : share);
    if (bound === undefined) return rows;
    if (descending) {
      for (let at = 0; at < rows.length; at++)
        if ((numbers[rows[at] ?? 0] ?? 0) >= bound) found[size++] = rows[at] ?? 0;
    } else
      for (let at = 0; at < rows.length; at++)
        if ((numbers[rows[at] ?? 0] ?? 0) <= bound) found[size++] = rows[at] ?? 0;
  } else {
    const { codes, dictionary } = key.column;
    const ranks = dictionary.ranks(key.kind);
    const own = Uint32Array.from(few, (row) => ranks[codes[row] ?? 0] ?? lastRank).filter((rank) => rank !== lastRank);
    const bound = own.sort().at(key.descending ? -1 - share : share);
    if (bound === undefined) return rows;
    const isIn = new Uint8Array(dictionary.size);
    for (let code = 0; code < isIn.length; code++) {
      const rank = ranks[code] ?? lastRank;
      if (rank !== lastRank && (key.descending ? rank >= bound : rank <= bound)) isIn[code] = 1;
    }
    for (let at = 0; at < rows.length; at++) if (isIn[codes[rows[at] ?? 0] ?? 0]) found[size++] = rows[at] ?? 0;
  }
  return size < count ? rows : found.slice(0, size);
}

/** Rows that are told by their numbers, in order, stand as their numbers do; others as they are found. */
function placedAs(rows: Uint32Array): ((x: number, y: number) => number) | undefined {
  let isRising = true;
  for (let at = 1; at < rows.length && isRising; at++) isRising = (rows[at - 1] ?? 0) < (rows[at] ?? 0);
  if (isRising) return undefined;
  const places = new Map<number, number>();
  rows.forEach((row, at) => places.set(row, at));
  return (x, y) => (places.get(x) ?? 0) - (places.get(y) ?? 0);
}

function joined(one: Uint32Array, other: Uint32Array): Uint32Array {
  if (one.length === 0) return other.slice();
  const both = new Uint32Array(one.length + other.length);
  both.set(one);
  both.set(other, one.length);
  return both;
}

/** By place among rows: the step its number falls in, the last for none; null where all are alike. */
function stepsOfNumbers(rows: Uint32Array, numbers: Float64Array, descending: boolean): Uint16Array | null {
  let [low, high] = [Infinity, -Infinity];
  for (let at = 0; at < rows.length; at++) {
    const own = numbers[rows[at] ?? 0] ?? 0;
    if (own < low) low = own;
    if (own > high) high = own;
  }
  if (low >= high) return null;
  const scale = (steps - 1) / (high - low);
  const found = new Uint16Array(rows.length);
  for (let at = 0; at < rows.length; at++) {
    const own = numbers[rows[at] ?? 0] ?? 0;
    found[at] = own >= low ? (descending ? high - own : own - low) * scale : steps;
  }
  return found;
}

/** As `stepsOfNumbers`, by the ranks of values. */
function stepsOfRanks(
  rows: Uint32Array,
  { column: { codes, dictionary }, kind, descending }: OrderKey,
): Uint16Array | null {
  const ranks = dictionary.ranks(kind);
  const has = new Uint8Array(dictionary.size);
  for (let at = 0; at < rows.length; at++) has[codes[rows[at] ?? 0] ?? 0] = 1;
  let [low, high] = [Infinity, -Infinity];
  for (let code = 0; code < has.length; code++) {
    const rank = ranks[code] ?? lastRank;
    if (!has[code] || rank === lastRank) continue;
    if (rank < low) low = rank;
    if (rank > high) high = rank;
  }
  if (low >= high) return null;
  const scale = (steps - 1) / (high - low);
  const stepOf = new Uint16Array(dictionary.size);
  for (let code = 0; code < stepOf.length; code++) {
    const rank = ranks[code] ?? lastRank;
    stepOf[code] = rank === lastRank ? steps : (descending ? high - rank : rank - low) * scale;
  }
  const found = new Uint16Array(rows.length);
  for (let at = 0; at < rows.length; at++) found[at] = stepOf[codes[rows[at] ?? 0] ?? 0] ?? 0;
  return found;
}
