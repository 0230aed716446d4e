import { compareReleases } from '../firmware/release';
import { parsePrefix, prefixContains, type Prefix } from '../values/ipAddress';
import { valueTexts } from '../values/valueTexts';
import { parseMac } from '../values/mac';
import { parseQuantity, type QuantityKind } from '../values/quantity';
import { FilterError, type FilterNode, type Relation } from './syntax';

/** How a field's values compare. */
export type FieldKind =
  | 'text'
  | 'number'
  | 'bytes'
  | 'bitsPerSecond'
  | 'seconds'
  | 'release'
  | 'address'
  | 'mac'
  | 'date'
  | 'boolean';

export interface FilterField {
  name: string;
  kind: FieldKind;
  /** its heading, by which it may be named too */
  label?: string;
  /** its values are of a short fixed list, so that a word without a field is held against their beginning: “ring” is not looked for in “answering” */
  listed?: boolean;
  /** it names another thing, which a word without a field would find in place of that thing itself */
  ofOther?: boolean;
}

export type Row = Record<string, unknown>;
/** Rows one step away, for `related.field`: the related things of a row. */
export type Relations<T> = Record<string, { fields: FilterField[]; of: (row: T) => Row[] }>;

const foundByAccident = new Set<FieldKind>(['bytes', 'bitsPerSecond', 'seconds', 'date', 'boolean']);

/** What a word without a field is looked for in: sizes, speeds, ages, days and yes or no are shown otherwise than they are kept, so that they would be found by accident. */
export const searchedAnywhere = ({ kind, ofOther = false }: FilterField): boolean =>
  !ofOther && !foundByAccident.has(kind);

/**
 * Compiles a filter tree to a test of one row. Unknown fields and values that do not fit the field are mistakes
 * at their place, never rows silently left out.
 * @throws FilterError
 */
export function compileFilter<T extends object>(
  tree: FilterNode,
  fields: FilterField[],
  relations: Relations<T> = {},
): (row: T) => boolean {
  switch (tree.kind) {
    case 'all': {
      const tests = tree.of.map((node) => compileFilter(node, fields, relations));
      return (row) => tests.every((test) => test(row));
    }
    case 'any': {
      const tests = tree.of.map((node) => compileFilter(node, fields, relations));
      return (row) => tests.some((test) => test(row));
    }
    case 'not': {
      const test = compileFilter(tree.of, fields, relations);
      return (row) => !test(row);
    }
    case 'term':
      return compileTerm(tree, fields, relations);
  }
}

function compileTerm<T extends object>(
  term: FilterNode & { kind: 'term' },
  fields: FilterField[],
  relations: Relations<T>,
): (row: T) => boolean {
  if (term.field === null) {
    const needle = term.value.toLowerCase();
    const mac = parseMac(term.value);
    const searched = fields.filter(searchedAnywhere);
    const holds = (text: string, listed: boolean) =>
      listed ? text.toLowerCase().startsWith(needle) : text.toLowerCase().includes(needle);
    return (row) =>
      searched.some(({ name, listed = false }) =>
        valueTexts(at(row, name)).some((text) => holds(text, listed) || (mac !== null && text === mac)),
      );
  }
  const dot = term.field.indexOf('.');
  const relation = dot > 0 ? relations[term.field.slice(0, dot)] : undefined;
  if (relation) {
    const inner = { ...term, field: term.field.slice(dot + 1) };
    const test = compileTerm<Row>(inner, relation.fields, {});
    return (row) => relation.of(row).some(test);
  }
  const field = fieldOfTerm(term.field, term.at, fields, Object.keys(relations));
  const test = compileValue(term, field);
  return (row) => test(at(row, field.name));
}

/** @throws FilterError where there is no such field */
export function fieldOfTerm(wanted: string, at: number, fields: FilterField[], relations: string[]): FilterField {
  const field = fieldNamed(wanted, fields);
  if (field) return field;
  const names = [...fields.map(({ name }) => name), ...relations.map((name) => `${name}.…`)];
  throw new FilterError(`There is no field “${wanted}”`, at, `one of ${nearest(wanted, names).join(', ')}`);
}

/** The field of a name, which may leave its unit away, `speed` is `speedBps`; or of its heading without blanks, `firmware` is `firmwareRevision`. */
function fieldNamed(wanted: string, fields: FilterField[]): FilterField | undefined {
  const lower = wanted.toLowerCase();
  return (
    fields.find(({ name }) => name.toLowerCase() === lower) ??
    fields.find(({ name }) => name.replace(/(Bps|Bytes|Seconds)$/, '').toLowerCase() === lower) ??
    fields.find(({ label }) => label?.replace(/\s+/g, '').toLowerCase() === lower)
  );
}

const at = (row: object, name: string): unknown => (row as Row)[name];

/** The test of one value of a field. @throws FilterError where what is wanted does not fit the field */
export function compileValue(
  term: FilterNode & { kind: 'term' },
  { name, kind }: FilterField,
): (value: unknown) => boolean {
  const { relation, value: wanted } = term;
  const mistake = (expected: string) =>
    new FilterError(
      `“${wanted}” does not fit ${name}`,
      term.at + name.length + (relation === 'contains' ? 1 : relation.length),
      expected,
    );
  const lower = wanted.toLowerCase();
  if (wanted === '') return (value) => isEmpty(value) === (relation === '=');
  if (kind === 'address' && wanted.includes('/') && (relation === 'contains' || relation === '=')) {
    let prefix: Prefix;
    try {
      prefix = parsePrefix(wanted);
    } catch {
      throw mistake('a prefix like 10.72.4.0/22');
    }
    return (value) => valueTexts(value).some((text) => prefixContains(prefix, text.split('/')[0] ?? text));
  }
  if (relation === 'contains') {
    const mac = kind === 'mac' ? parseMac(wanted) : null;
    return (value) => valueTexts(value).some((text) => text.toLowerCase().includes(lower) || text === mac);
  }
  const quantities: Partial<Record<FieldKind, QuantityKind>> = {
    number: 'number',
    bytes: 'bytes',
    bitsPerSecond: 'bitsPerSecond',
    seconds: 'seconds',
  };
  const quantity = quantities[kind];
  if (quantity) {
    const number = parseQuantity(wanted, quantity);
    if (number === null)
      throw mistake(
        quantity === 'number'
          ? 'a number'
          : quantity === 'bytes'
            ? 'a size like 512M'
            : quantity === 'seconds'
              ? 'a time like 30d'
              : 'a speed like 1G',
      );
    return (value) =>
      anyOf(value, relation, (candidate) => (typeof candidate === 'number' ? candidate - number : null));
  }
  if (kind === 'date') {
    const moment = Date.parse(wanted);
    if (Number.isNaN(moment)) throw mistake('a date like 2026-11-23');
    return (value) =>
      anyOf(value, relation, (candidate) =>
        typeof candidate === 'string' && candidate ? Date.parse(candidate) - moment : null,
      );
  }
  if (kind === 'boolean') {
    const truth = ['yes', 'true', '1'].includes(lower) ? true : ['no', 'false', '0'].includes(lower) ? false : null;
    if (truth === null) throw mistake('yes or no');
    return (value) => (relation === '!=' ? Boolean(value) !== truth : Boolean(value) === truth);
  }
  if (kind === 'release') {
    return (value) =>
      anyOf(value, relation, (candidate) =>
        typeof candidate === 'string' && candidate ? compareReleases(candidate, wanted) : null,
      );
  }
  const mac = kind === 'mac' ? parseMac(wanted) : null;
  return (value) =>
    anyOf(value, relation, (candidate) => textOrder(String(candidate ?? '').toLowerCase(), mac ?? lower));
}

const isEmpty = (value: unknown): boolean =>
  value === null || value === undefined || value === '' || (Array.isArray(value) && value.every(isEmpty));

const textOrder = (left: string, right: string) => (left < right ? -1 : left > right ? 1 : 0);

/** `!=` holds if no element equals; the other relations if one does. */
function anyOf(value: unknown, relation: Relation, order: (candidate: unknown) => number | null): boolean {
  const candidates = Array.isArray(value) ? (value as unknown[]) : [value];
  if (relation === '!=') return candidates.every((candidate) => order(candidate) !== 0);
  return candidates.some((candidate) => {
    const difference = order(candidate);
    if (difference === null) return false;
    switch (relation) {
      case '>':
        return difference > 0;
      case '>=':
        return difference >= 0;
      case '<':
        return difference < 0;
      case '<=':
        return difference <= 0;
      default:
        return difference === 0;
    }
  });
}

/** Names that begin alike first, at most eight. */
function nearest(word: string, names: string[]): string[] {
  const lower = word.toLowerCase();
  const score = (name: string) =>
    name.toLowerCase().startsWith(lower.slice(0, 2)) ? 0 : name.toLowerCase().includes(lower.slice(0, 3)) ? 1 : 2;
  return [...names].sort((x, y) => score(x) - score(y)).slice(0, 8);
}
