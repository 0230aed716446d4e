import type { FieldKind } from '../filter/filterField';
import { relatedThings, things, type ThingName } from '../things/things';
import type { ThingField } from '../things/thing';
import { isDay } from '../values/day';

/** Things whose rows stay the same from survey to survey, so that what people write at them stays at them. */
export const ownedThings = ['devices', 'ports', 'endpoints'] as const satisfies ThingName[];
export type OwnedThing = (typeof ownedThings)[number];

/** What may be written into a field of one's own: a line, a longer text, a number, a day, one of some words, yes or no, several short words. */
export const ownKinds = ['text', 'note', 'number', 'date', 'choice', 'boolean', 'tags'] as const;
export type OwnKind = (typeof ownKinds)[number];

/** A field that people fill in, beside those that equipment tells. */
export interface OwnField {
  thing: OwnedThing;
  /** as in filters and files: `assetNumber` */
  name: string;
  label: string;
  kind: OwnKind;
  /** the words of a choice */
  choices: string[];
}

export type OwnValue = string | number | boolean | string[] | null;

const filterKinds: Record<OwnKind, FieldKind> = {
  text: 'text',
  note: 'text',
  number: 'number',
  date: 'date',
  choice: 'text',
  boolean: 'boolean',
  tags: 'text',
};
const widths: Record<OwnKind, number> = {
  text: 130,
  note: 220,
  number: 90,
  date: 110,
  choice: 110,
  boolean: 80,
  tags: 140,
};

/** The topic under which fields of one's own stand in lists of fields. */
export const ownTopic = 'Own fields';

const truths = new Map([
  ['yes', true],
  ['true', true],
  ['1', true],
  ['no', false],
  ['false', false],
  ['0', false],
]);

/** A field of one's own as tables and filters take it. */
export const asThingField = ({ name, label, kind }: OwnField): ThingField => ({
  name,
  label,
  kind: filterKinds[kind],
  topic: ownTopic,
  width: widths[kind],
  ...(kind === 'tags' && { list: true }),
});

/** All fields of a thing with those of one's own behind them. */
export const withOwnFields = (thing: ThingName, own: OwnField[]): ThingField[] => [
  ...things[thing].fields,
  ...own.filter((field) => field.thing === thing).map(asThingField),
];

/** `Asset number` as a name: `assetNumber`. */
export function nameOfLabel(label: string): string {
  const words = label
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9 ]+/g, ' ')
    .trim()
    .split(/\s+/)
    .filter(Boolean);
  return words
    .map((word, at) =>
      at === 0 ? word.toLowerCase() : `${word[0]?.toUpperCase() ?? ''}${word.slice(1).toLowerCase()}`,
    )
    .join('')
    .replace(/^\d+/, '');
}

const most = { text: 300, note: 10_000, tag: 60, tags: 50 };

/** Why a field cannot be called so; null where it can. */
export function nameMistake(thing: OwnedThing, name: string): string | null {
  if (!/^[a-z][A-Za-z0-9]{0,39}$/.test(name))
    return 'A name begins with a small letter and has letters and digits only, 40 at most';
  const taken = [
    ...things[thing].fields.map((field) => field.name),
    ...Object.keys(relatedThings[thing] ?? {}),
    'id',
    'change',
  ];
  return taken.some((other) => other.toLowerCase() === name.toLowerCase())
    ? `${things[thing].title} have a field “${name}” already`
    : null;
}

/**
 * What somebody wrote, as a value of a field; nothing written is no value.
 * @returns the value, or what is wrong with it
 */
export function readOwnValue(
  { kind, choices, label }: Pick<OwnField, 'kind' | 'choices' | 'label'>,
  written: unknown,
): { value: OwnValue } | { mistake: string } {
  if (
    typeof written === 'object' &&
    written !== null &&
    !(kind === 'tags' && Array.isArray(written) && written.every((one) => typeof one !== 'object'))
  )
    return { mistake: `${label} must be a text or a number` };
  if (kind === 'tags') return readTags(label, written);
  if (written === null || written === undefined || (typeof written === 'string' && written.trim() === ''))
    return { value: null };
  if (kind === 'boolean') {
    const known = truths.get(String(written).trim().toLowerCase());
    return known === undefined ? { mistake: `${label} is yes or no, not “${String(written)}”` } : { value: known };
  }
  if (typeof written !== 'string' && typeof written !== 'number')
    return { mistake: `${label} must be a text or a number` };
  const text = String(written).trim();
  switch (kind) {
    case 'number':
      return /^-?\d+(\.\d+)?(e[+-]?\d+)?$/i.test(text) && Number.isFinite(Number(text))
        ? { value: Number(text) }
        : { mistake: `${label} is a number, not “${text}”` };
    case 'date':
      return isDay(text) ? { value: text } : { mistake: `${label} is a day like 2026-11-23, not “${text}”` };
    case 'choice': {
      const choice = choices.find((one) => one.toLowerCase() === text.toLowerCase());
      return choice === undefined
        ? { mistake: `${label} is one of ${choices.join(', ')}, not “${text}”` }
        : { value: choice };
    }
    case 'note':
      return text.length > most.note
        ? {
            mistake: `${label} has ${text.length.toLocaleString('en')} characters; ${most.note.toLocaleString('en')} at most`,
          }
        : { value: text };
    default:
      if (/[\r\n]/.test(text)) return { mistake: `${label} is one line` };
      return text.length > most.text
        ? { mistake: `${label} has ${text.length} characters; ${most.text} at most` }
        : { value: text };
  }
}

function readTags(label: string, written: unknown): { value: string[] | null } | { mistake: string } {
  const list = Array.isArray(written)
    ? (written as unknown[]).flatMap((tag) => String(tag).split(','))
    : typeof written === 'string'
      ? written.split(',')
      : written === null || written === undefined
        ? []
        : [written];
  const tags = [
    ...new Map(
      list
        .map((tag) => String(tag).trim())
        .filter(Boolean)
        .map((tag) => [tag.toLowerCase(), tag]),
    ).values(),
  ];
  const long = tags.find((tag) => tag.length > most.tag);
  if (long !== undefined)
    return { mistake: `In ${label}, “${long.slice(0, 20)}…” is longer than ${most.tag} characters` };
  if (tags.length > most.tags) return { mistake: `${label} has ${tags.length} words; ${most.tags} at most` };
  return { value: tags.length > 0 ? tags : null };
}

/** Whether two values are the same, lists by what they hold in their order; an empty list is no value. */
export const sameOwnValue = (x: OwnValue, y: OwnValue): boolean =>
  JSON.stringify(empty(x) ? null : x) === JSON.stringify(empty(y) ? null : y);
const empty = (value: OwnValue | undefined): boolean =>
  value === undefined || value === null || (Array.isArray(value) && value.length === 0);

/** A value in words. */
export const ownValueText = (value: unknown): string =>
  value === null || value === undefined
    ? ''
    : Array.isArray(value)
      ? value.join(', ')
      : typeof value === 'boolean'
        ? value
          ? 'yes'
          : 'no'
        : String(value as string | number);
