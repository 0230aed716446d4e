import { compareReleases } from '../firmware/release';
import { parsePrefix, prefixContains, type Prefix } from '../values/ipAddress';
import { parseMac } from '../values/mac';
import { formatAge, formatBytes, formatSpeed, parseQuantity, type QuantityKind } from '../values/quantity';
import { spoken } from '../values/spoken';
import { valueTexts } from '../values/valueTexts';
import { wildcard } from '../values/wildcard';
import type { FieldKind, FilterField } from './filterField';
import { FilterError, type FilterTerm, type Relation } from './filterNode';

/** Fields whose values are measured, and what is expected of them. */
const quantities: Partial<
  Record<FieldKind, { kind: QuantityKind; expected: string; shown: (value: number) => string }>
> = {
  number: { kind: 'number', expected: 'a number', shown: String },
  bytes: { kind: 'bytes', expected: 'a size like 512M', shown: formatBytes },
  bitsPerSecond: { kind: 'bitsPerSecond', expected: 'a speed like 1G', shown: formatSpeed },
  seconds: { kind: 'seconds', expected: 'a time like 30d', shown: formatAge },
};

const dayMs = 86_400_000;

/** All texts by which a value is found: as it is kept, and as a cell shows it where that differs. */
export function textsOf(value: unknown, { isSpoken, shownAs }: Pick<FilterField, 'isSpoken' | 'shownAs'>): string[] {
  const texts = valueTexts(value);
  if (isSpoken) return [...texts, ...texts.map(spoken)];
  return shownAs
    ? [...texts, ...texts.flatMap((text) => (Object.hasOwn(shownAs, text) ? (shownAs[text] ?? []) : []))]
    : texts;
}

/** The test of a value by a word that names no field. */
export function compileWord({ value: wanted, pattern }: FilterTerm, field: FilterField): (value: unknown) => boolean {
  const needle = wanted.toLowerCase();
  const mac = parseMac(wanted);
  const fits = pattern ? wildcard(wanted) : null;
  const holds = (given: string): boolean => {
    if (fits) return fits(given);
    const text = given.toLowerCase();
    return field.listed || field.isSpoken ? beginsWord(text, needle) : text.includes(needle);
  };
  return (value) => textsOf(value, field).some((text) => holds(text) || (mac !== null && text === mac));
}

/** Of “access point” one finds “acc” and “point”, not “oint”. */
const beginsWord = (text: string, needle: string): boolean =>
  text.startsWith(needle) || text.includes(` ${needle}`) || text.includes(`-${needle}`);

/** The test of one value of a field. @throws FilterError where what is wanted does not fit the field */
export function compileValue(term: FilterTerm, field: FilterField): (value: unknown) => boolean {
  const { relation, value: wanted, pattern, unit } = term;
  const { name, kind } = field;
  const valueAt = term.at + name.length + (relation === 'contains' ? 1 : relation.length);
  const mistake = (expected: string) => new FilterError(`“${wanted}” does not fit ${name}`, valueAt, expected);
  const lower = wanted.toLowerCase();
  if (wanted === '') return (value) => isEmpty(value) === (relation === '=');
  const quantity = quantities[kind];
  if (unit && (!quantity || quantity.kind === 'number'))
    throw new FilterError(
      `“${unit.word}” is read as a unit, and ${name} has none`,
      unit.at,
      `"${unit.word}" for the word`,
    );
  if (pattern) return compilePattern(term, field, valueAt);
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
    const shown = quantity && kind !== 'number' ? tight(lower) : null;
    return (value) =>
      textsOf(value, field).some((text) => text.toLowerCase().includes(lower) || text === mac) ||
      (shown !== null && typeof value === 'number' && tight(quantity?.shown(value) ?? '').startsWith(shown));
  }
  if (quantity) {
    const number = parseQuantity(wanted, quantity.kind);
    if (number === null) throw mistake(quantity.expected);
    // a cell shows a size or an age rounded: what it shows is what is found
    const shown = kind === 'number' ? null : tight(quantity.shown(number));
    return (value) =>
      anyOf(value, relation, (candidate) =>
        typeof candidate !== 'number'
          ? null
          : shown !== null && (relation === '=' || relation === '!=') && tight(quantity.shown(candidate)) === shown
            ? 0
            : candidate - number,
      );
  }
  if (kind === 'date') {
    const moment = Date.parse(wanted);
    if (Number.isNaN(moment)) throw mistake('a date like 2026-11-23');
    // a day is all of its moments
    const wide = /^\d{4}-\d{2}-\d{2}$/.test(wanted) ? dayMs : 0;
    return (value) =>
      anyOf(value, relation, (candidate) => {
        if (typeof candidate !== 'string' || candidate === '') return null;
        const difference = Date.parse(candidate) - moment;
        return difference >= 0 && difference < wide ? 0 : difference;
      });
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
  const isSame = relation === '=' || relation === '!=';
  return (value) =>
    anyOf(value, relation, (candidate) => {
      const text = String(candidate ?? '').toLowerCase();
      if (isSame && textsOf(candidate, field).some((other) => other.toLowerCase() === lower)) return 0;
      return textOrder(text, mac ?? lower);
    });
}

/** `name=acc*`, `release!=7.4.*`; `field=*` has any value. @throws FilterError where the field has no letters, or an order is asked for */
function compilePattern({ relation, value: wanted }: FilterTerm, field: FilterField, at: number) {
  if (relation !== '=' && relation !== '!=' && relation !== 'contains')
    throw new FilterError('“*” has no order', at, `= in place of ${relation}, or "${wanted}" as it stands`);
  if (/^\*+$/.test(wanted)) return (value: unknown) => isEmpty(value) === (relation === '!=');
  if (quantities[field.kind] || field.kind === 'date' || field.kind === 'boolean')
    throw new FilterError(
      `“*” stands for letters, and ${field.name} has none`,
      at + wanted.indexOf('*'),
      `a whole value, or ${field.name}=* for any`,
    );
  const fits = wildcard(wanted, relation === 'contains');
  return (value: unknown) => textsOf(value, field).some(fits) === (relation !== '!=');
}

/** `512 MB` and `512mb` are written alike. */
const tight = (text: string): string => text.toLowerCase().replace(/\s+/g, '');

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
