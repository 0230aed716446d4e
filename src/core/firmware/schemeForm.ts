/** What a field of a release may be: a number, a number of so many digits, letters, or a stage before the release itself. */
export type FieldKind = 'number' | 'letters' | 'stage';

export interface FormField {
  name: string;
  kind: FieldKind;
  /** exactly so many digits; null for any */
  digits: number | null;
  /** what it is where it is left out; null for nothing */
  absent: string | null;
}

type Element = { literal: string } | { field: FormField } | { optional: Element[] };

/** How releases of a scheme are written, read from a text as `<major>.<minor>.<release>[<repair:letters>]`. */
export interface ReleaseForm {
  elements: Element[];
  fields: FormField[];
}

/** What comes before the release itself, the earliest first. */
export const stages = ['alpha', 'beta', 'pre', 'rc'];

const longestForm = 200;
const mostOptional = 8;
const fieldForm = /^([A-Za-z][A-Za-z0-9]*)(?::(letters|stage|[1-9]))?(?:=([0-9A-Za-z]+))?$/;

/** A form that cannot be read, with the place of the mistake, counted from 0. */
export class FormError extends Error {
  override name = 'FormError';

  constructor(
    message: string,
    readonly place: number,
  ) {
    super(message);
  }
}

/**
 * Reads how releases are written: `<name>` a number, `<name:4>` one of four digits, `<name:letters>`, `<name:stage>` (alpha, beta, pre, rc), `<name=0>` with what it is where it is left out; `[…]` may be left out; all else stands as it is.
 * @throws FormError
 */
export function releaseForm(text: string): ReleaseForm {
  if (text.length > longestForm) throw new FormError(`a form has ${longestForm} characters at most`, longestForm);
  const fields: FormField[] = [];
  let at = 0;
  let optional = 0;
  const read = (isInside: boolean): Element[] => {
    const elements: Element[] = [];
    const begun = at - 1;
    for (; at < text.length; at++) {
      const sign = text[at] ?? '';
      if (sign === ']') {
        if (!isInside) throw new FormError('“]” closes nothing', at);
        if (elements.length === 0) throw new FormError('there is nothing between “[” and “]”', begun);
        return elements;
      }
      if (sign === '[') {
        if (++optional > mostOptional) throw new FormError(`no more than ${mostOptional} parts may be left out`, at);
        at++;
        elements.push({ optional: read(true) });
      } else if (sign === '<') elements.push({ field: readField() });
      else if (sign === '>') throw new FormError('“>” closes nothing', at);
      else {
        const last = elements.at(-1);
        if (last && 'literal' in last) last.literal += sign.toLowerCase();
        else elements.push({ literal: sign.toLowerCase() });
      }
    }
    if (isInside) throw new FormError('“[” is not closed', begun);
    return elements;
  };
  const readField = (): FormField => {
    const end = text.indexOf('>', at);
    if (end < 0) throw new FormError('“<” is not closed', at);
    const [, name = '', kind = '', absent] = fieldForm.exec(text.slice(at + 1, end)) ?? [];
    if (!name)
      throw new FormError('a field is written as <name>, <name:4>, <name:letters>, <name:stage> or <name=0>', at);
    if (fields.some((other) => other.name === name)) throw new FormError(`“${name}” stands there twice`, at);
    const field: FormField = {
      name,
      kind: kind === 'letters' || kind === 'stage' ? kind : 'number',
      digits: /^\d$/.test(kind) ? Number(kind) : null,
      absent: absent?.toLowerCase() ?? null,
    };
    fields.push(field);
    at = end;
    return field;
  };
  const elements = read(false);
  if (fields.length === 0) throw new FormError('a form has a field at least', 0);
  return { elements, fields };
}

/** What each field of a release is, by its name: only those that are there. Null where it is not written so. */
export function fieldsOf({ elements }: ReleaseForm, release: string): Map<string, string> | null {
  const text = release.trim().toLowerCase();
  const found = new Map<string, string>();
  /** @returns whether the rest can be read from a place on */
  const fits = (rest: readonly Element[], from: number): boolean => {
    const [first, ...more] = rest;
    if (!first) return from === text.length;
    if ('literal' in first) return text.startsWith(first.literal, from) && fits(more, from + first.literal.length);
    if ('optional' in first) return fits([...first.optional, ...more], from) || fits(more, from);
    const value = valueAt(first.field, text, from);
    if (value === '' || !fits(more, from + value.length)) return false;
    found.set(first.field.name, value);
    return true;
  };
  return fits(elements, 0) ? found : null;
}

/** What a field takes at a place, empty where it takes nothing. It takes all it can: so a form is read in one way. */
function valueAt({ kind, digits }: FormField, text: string, from: number): string {
  if (kind === 'stage') return stages.find((stage) => text.startsWith(stage, from)) ?? '';
  let to = from;
  const isOwn = kind === 'letters' ? isLetter : isDigit;
  while (to < text.length && isOwn(text.charCodeAt(to)) && to - from !== digits) to++;
  return digits !== null && to - from !== digits ? '' : text.slice(from, to);
}

const isDigit = (code: number) => code >= 48 && code <= 57;
const isLetter = (code: number) => code >= 97 && code <= 122;
