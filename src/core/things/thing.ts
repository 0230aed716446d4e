import type { FieldKind, FilterField } from '../filter/filterField';
import type { Near } from './near';
import type { RowReader } from './rowReader';

/** A field of a thing: its name in the API and in filters, how it compares, and how a table heads it. */
export interface ThingField extends FilterField {
  label: string;
  /** topic in the column chooser */
  topic: string;
  /** shown when nobody has chosen columns */
  shown?: boolean;
  /** width in a table, pixels */
  width: number;
  /** compared between two surveys; volatile fields are not */
  compared?: boolean;
  /** the values of several rows make a sum that means something */
  addsUp?: boolean;
  /** a row may have several values */
  list?: boolean;
  /** a text like 2026-11-23 that stands for a day of the calendar */
  isDay?: boolean;
}

/** What a person asks when they look for a table. */
export const questions = ['have', 'connected', 'runs', 'wrong', 'changed'] as const;
export type Question = (typeof questions)[number];

/** A field by which a thing is found: names with a letter wrong too, addresses and serials not, since another one is another thing. */
export interface FoundBy {
  field: string;
  loosely?: boolean;
  /** of rows that have the same value the first is found: there may be very many */
  once?: boolean;
  /** how its value is looked for, where not as it stands */
  write?: (value: unknown) => string;
}

/** All that is particular to a thing. Tables, filters, the API, exports, finding, dossiers and checks follow from it. */
export interface Thing {
  name: string;
  /** title of the table */
  title: string;
  /** one of them, for headings: `endpoint` */
  singular: string;
  fields: ThingField[];
  /** field that names a row, for the default order */
  order: string;
  /** fields scripts rely on, in their order; tables may show more, exports and the API always have these */
  script: string[];
  /** what those of them that hold several values by name are made of, once flattened; `unknown` where only the rows can tell */
  parts?: Record<string, string[] | 'unknown'>;
  /** what a row is called, in a line: `sgh-core-1 3/1`, `VLAN 30 TICKET` */
  words: (reader: RowReader) => string;
  /** what one asks next of a row */
  near?: (reader: RowReader) => Near[];
  /** by what it is found */
  foundBy?: FoundBy[];
  /** there are very many of them */
  isFoundLast?: boolean;
  /** rows belong to a device, or to the devices at both ends: one step in a filter leads there */
  belongsTo?: 'device' | readonly [string, string];
  /** rows say at which site their device stands */
  isSited?: boolean;
  /** the word before the dot by which a filter of devices steps to it: `module.class=fan` */
  stepWord?: string;
  /** fields that are compared by others: a device by its number, since its name may become another */
  comparedBy?: Record<string, string>;
  /** fields under the names they had in the version before, which filters and requests may still use */
  formerly?: Record<string, string>;
  /** the word by which changes are told of it */
  changeWord?: string;
  /** which question its table in the Estate answers; none where it has no table there */
  question?: Question;
  /** what may be written into its filter */
  hint?: string;
  /** pictures over its table until somebody chooses others */
  pictures?: string[];
}

type Short = [name: string, kind: FieldKind, label: string, topic: string, width: number, flags?: string];

/**
 * A thing. Its fields are written short: name, kind, heading, topic, width, and flags: `s` shown by default, `c` compared between surveys, `a` adds up,
 * `l` is a list, `v` has values of a short fixed list, `d` is a day, `o` names another thing, `w` has names out of code that are shown in words.
 */
export const thing = <const Name extends string>(
  name: Name,
  { fields, ...rest }: Omit<Thing, 'name' | 'fields'> & { fields: Short[] },
): Thing & { name: Name } => ({
  ...rest,
  name,
  fields: fields.map(fieldOf).map((field) => withFormer(field, rest.formerly)),
});

function withFormer(field: ThingField, formerly: Record<string, string> = {}): ThingField {
  const names = Object.keys(formerly).filter((name) => formerly[name] === field.name);
  return names.length > 0 ? { ...field, formerly: names } : field;
}

const fieldOf = ([name, kind, label, topic, width, flags = '']: Short): ThingField => ({
  name,
  kind,
  label,
  topic,
  width,
  ...(flags.includes('s') && { shown: true }),
  ...(flags.includes('c') && { compared: true }),
  ...(flags.includes('a') && { addsUp: true }),
  ...(flags.includes('l') && { list: true }),
  ...(flags.includes('v') && { listed: true }),
  ...(flags.includes('d') && { isDay: true }),
  ...(flags.includes('o') && { ofOther: true }),
  ...(flags.includes('w') && { isSpoken: true }),
});
