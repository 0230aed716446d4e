import { compareReleases } from '../firmware/release';
import type { FieldKind } from '../filter/filterField';
import { atOnce, type Steps } from '../steps';
import { addressKey } from '../values/ipAddress';
import { naturalKey } from '../values/naturalKey';
import { valueTexts } from '../values/valueTexts';

/** The place of a value that has nothing in it: last, whichever way a column is sorted. */
export const lastRank = 0xffff_ffff;

/**
 * The distinct values of a field, each with a number. Questions about a field are answered once for each distinct value, however many rows have it; answers that cost
 * something are kept until a value is added.
 */
export class Dictionary {
  readonly values: unknown[] = [];
  readonly #codes = new Map<unknown, number>();
  #haystack: Haystack | null = null;
  readonly #orders = new Map<FieldKind, KeptOrder>();
  #groups: { names: string[]; of: Uint32Array } | null = null;

  get size(): number {
    return this.values.length;
  }

  /** The number of a value, a new one for a new value. Lists are the same where they hold the same. */
  codeOf(value: unknown): number {
    const key = keyOf(value);
    let code = this.#codes.get(key);
    if (code === undefined) {
      this.#codes.set(key, (code = this.values.length));
      this.values.push(value ?? null);
      this.#groups = null;
    }
    return code;
  }

  /** The number of a value that is there already. */
  find(value: unknown): number | undefined {
    return this.#codes.get(keyOf(value));
  }

  /** By number: whether a text of the value holds a scrap, whatever its case. */
  containing(scrap: string): Uint8Array {
    const found = new Uint8Array(this.size);
    const { text, starts } = (this.#haystack = haystackOf(this.values, this.#haystack));
    const needle = scrap.toLowerCase();
    if (needle === '') return found.fill(1);
    let code = 0;
    for (let at = text.indexOf(needle); at >= 0;) {
      code = codeAt(starts, at, code);
      found[code] = 1;
      at = text.indexOf(needle, starts[code + 1] ?? text.length);
    }
    return found;
  }

  /** By number: whether the value passes a test. */
  passing(test: (value: unknown) => boolean): Uint8Array {
    const found = new Uint8Array(this.size);
    for (let code = 0; code < found.length; code++) if (test(this.values[code])) found[code] = 1;
    return found;
  }

  /** By number: the place of the value in the order of its kind, the same for values that order alike. Lists go by their first. */
  ranks(kind: FieldKind): Uint32Array {
    return this.#order(kind).ranks();
  }

  /** Works out ahead what `ranks` tells, some values at a step. */
  ranking(kind: FieldKind): Steps<void> {
    return this.#order(kind).taking();
  }

  #order(kind: FieldKind): KeptOrder {
    let order = this.#orders.get(kind);
    if (!order || !order.takes(this.values)) this.#orders.set(kind, (order = new KeptOrder(kind, this.values)));
    return order;
  }

  /** What rows are grouped by: values that are written alike, but for case, are one. */
  groups(): { names: string[]; of: Uint32Array } {
    if (this.#groups) return this.#groups;
    const names: string[] = [];
    const known = new Map<string, number>();
    const of = new Uint32Array(this.size);
    for (let code = 0; code < of.length; code++) {
      const name = groupValue(this.values[code]);
      const key = name.toLowerCase();
      let group = known.get(key);
      if (group === undefined) {
        known.set(key, (group = names.length));
        names.push(name);
      }
      of[code] = group;
    }
    return (this.#groups = { names, of });
  }
}

/** What tells values apart in a map. */
function keyOf(value: unknown): unknown {
  return Array.isArray(value)
    ? `\u0000${value.length} ${value.map(keyOfElement).join('\u0001')}`
    : typeof value === 'object' && value !== null
      ? `\u0000${JSON.stringify(value)}`
      : value === undefined
        ? null
        : value;
}

const keyOfElement = (value: unknown): unknown =>
  typeof value === 'object' && value !== null ? JSON.stringify(value) : value;

/** A value as a group is called: lists by all they hold together. */
export function groupValue(value: unknown): string {
  if (value === null || value === undefined) return '';
  if (Array.isArray(value)) return value.map(groupValue).join(' ');
  return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value);
}

interface Haystack {
  text: string;
  /** where the texts of each value begin, and where the last ends */
  starts: Uint32Array;
}

/** All texts behind each other, a line each. @param known that of the first of these values, to which the others come */
function haystackOf(values: unknown[], known: Haystack | null): Haystack {
  const from = known ? known.starts.length - 1 : 0;
  if (known && from === values.length) return known;
  const starts = new Uint32Array(values.length + 1);
  if (known) starts.set(known.starts);
  const parts: string[] = [];
  let length = known?.text.length ?? 0;
  for (let code = from; code < values.length; code++) {
    const value = values[code];
    starts[code] = length;
    const text = `${(typeof value === 'string' ? value : valueTexts(value).join('\n')).toLowerCase()}\n`;
    parts.push(text);
    length += text.length;
  }
  starts[values.length] = length;
  return { text: (known?.text ?? '') + parts.join(''), starts };
}

/** The value whose texts hold a place; never before one that was found already, and mostly soon after it: steps double until they are past it. */
function codeAt(starts: Uint32Array, place: number, from: number): number {
  const last = starts.length - 2;
  let low = from;
  let high = from;
  for (let step = 1; high <= last && (starts[high] ?? 0) <= place; step *= 2) {
    low = high;
    high = Math.min(last + 1, high + step);
    if (high === low) break;
  }
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((starts[middle] ?? 0) <= place) low = middle;
    else high = middle;
  }
  return low;
}

/** Values that are put in order in one step. */
const valuesInStep = 20_000;

const first = (value: unknown): unknown => (Array.isArray(value) ? (value as unknown[])[0] : value);

/** The order of values by one kind, to which those that come later are added: to order all anew for a few would cost as much as the first time. */
class KeptOrder {
  readonly #heads: unknown[] = [];
  readonly #keys: string[] = [];
  /** numbers of values in their order, without those that have nothing in them */
  #order: number[] = [];
  #ranks: Uint32Array | null = null;
  readonly #areNumbers: boolean;

  constructor(
    readonly kind: FieldKind,
    readonly values: readonly unknown[],
  ) {
    this.#areNumbers = values.every((value) => typeof first(value) !== 'string');
  }

  /** Whether what came since orders as the others do; a text among numbers does not. */
  takes(values: readonly unknown[]): boolean {
    if (!this.#areNumbers) return true;
    for (let code = this.#heads.length; code < values.length; code++)
      if (typeof first(values[code]) === 'string') return false;
    return true;
  }

  ranks(): Uint32Array {
    if (this.#ranks?.length === this.values.length) return this.#ranks;
    atOnce(this.taking());
    const order = this.#comparing();
    const ranks = new Uint32Array(this.values.length).fill(lastRank);
    let rank = 0;
    for (let at = 0; at < this.#order.length; at++) {
      const [before, code] = [this.#order[at - 1], this.#order[at] ?? 0];
      if (before !== undefined && order(before, code) !== 0) rank++;
      ranks[code] = rank;
    }
    return (this.#ranks = ranks);
  }

  /** Puts those that came since in their places, some at a step. */
  *taking(): Steps<void> {
    const order = this.#comparing();
    while (this.#heads.length < this.values.length) {
      const added: number[] = [];
      const to = Math.min(this.values.length, this.#heads.length + Math.max(valuesInStep, this.#heads.length / 8));
      for (let code = this.#heads.length; code < to; code++) {
        const head = first(this.values[code]);
        this.#heads.push(head);
        if (!this.#areNumbers) this.#keys.push(this.#keyOf(String(head ?? '')));
        if (head !== null && head !== undefined && head !== '') added.push(code);
      }
      this.#order = merged(this.#order, added.sort(order), order);
      yield;
    }
  }

  #keyOf(text: string): string {
    // names of one length and one alphabet order as they are
    if (this.kind === 'mac') return text;
    return this.kind === 'address' ? addressKey(text) : naturalKey(text);
  }

  #comparing(): (x: number, y: number) => number {
    const heads = this.#heads;
    const keys = this.#keys;
    const text = (code: number) => String(heads[code]);
    if (this.kind === 'release') return (x, y) => compareReleases(text(x), text(y));
    if (this.#areNumbers) return (x, y) => Number(heads[x]) - Number(heads[y]);
    return (x, y) => ((keys[x] ?? '') < (keys[y] ?? '') ? -1 : keys[x] === keys[y] ? 0 : 1);
  }
}

/** Two lists in order as one; what is alike stays in the order of its numbers. */
function merged(one: number[], other: number[], order: (x: number, y: number) => number): number[] {
  if (one.length === 0) return other;
  if (other.length === 0) return one;
  const all: number[] = [];
  let next = 0;
  for (const code of one) {
    for (; next < other.length && order(other[next] ?? 0, code) < 0; next++) all.push(other[next] ?? 0);
    all.push(code);
  }
  for (; next < other.length; next++) all.push(other[next] ?? 0);
  return all;
}
