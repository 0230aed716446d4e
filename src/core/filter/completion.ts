import type { FilterField } from './predicate';

/** What stands at the caret of a filter that is being written. */
export interface FilterPlace {
  kind: 'field' | 'value';
  /** the part that a suggestion takes the place of */
  from: number;
  to: number;
  /** what is written of it so far, without quotation marks */
  typed: string;
  /** of a value: the field it is for */
  field: string;
  /** the filter without the term at the caret */
  rest: string;
}

const termHead = /^([A-Za-z][A-Za-z.]*)(?:!=|>=|<=|[:=<>])/;

/** What a suggestion would be for: a field's name, or a value of the field before the relation. Null within a quoted scrap that belongs to no field. */
export function placeAtCaret(text: string, caret: number): FilterPlace | null {
  let start = 0;
  let quoted = false;
  for (let at = 0; at < caret; at++) {
    if (text[at] === '"') quoted = !quoted;
    else if (!quoted && (/[\s()]/.test(text[at] ?? '') || (text[at] === '-' && at === start))) start = at + 1;
  }
  let end = caret;
  while (end < text.length && (quoted ? text[end - 1] !== '"' || end === caret : !/[\s()"]/.test(text[end] ?? '')))
    end++;
  const written = text.slice(start, caret);
  const rest = `${text.slice(0, start).replace(/-$/, '')}${text.slice(end)}`.replace(/\s+/g, ' ').trim();
  const head = termHead.exec(written);
  if (head)
    return {
      kind: 'value',
      from: start + head[0].length,
      to: end,
      typed: written.slice(head[0].length).replaceAll('"', ''),
      field: head[1] ?? '',
      rest,
    };
  return /^[A-Za-z.]*$/.test(written) ? { kind: 'field', from: start, to: end, typed: written, field: '', rest } : null;
}

/** A value as it stands in a filter: in quotation marks where it would be read as something else. */
export const writtenValue = (value: string): string =>
  /^[\w.:/+-]+$/.test(value) && !value.startsWith('-') && value.toLowerCase() !== 'or'
    ? value
    : `"${value.replaceAll('"', '')}"`;

/** The text with a suggestion in its place, and where the caret goes. */
export function completed(
  text: string,
  { from, to, kind }: FilterPlace,
  suggestion: string,
): { text: string; caret: number } {
  const put = kind === 'field' ? `${suggestion}=` : `${writtenValue(suggestion)} `;
  const behind = text.slice(to);
  const whole = text.slice(0, from) + put + (put.endsWith(' ') ? behind.trimStart() : behind);
  return { text: whole, caret: from + put.length };
}

/** Fields whose name or heading begins with what is written, then those that have it anywhere. */
export function fieldsFor<Field extends FilterField & { label: string }>(
  typed: string,
  fields: Field[],
  most: number,
): Field[] {
  const lower = typed.toLowerCase();
  const weight = ({ name, label }: Field) => {
    const texts = [name.toLowerCase(), label.toLowerCase()];
    return texts.some((text) => text.startsWith(lower)) ? 0 : texts.some((text) => text.includes(lower)) ? 1 : 2;
  };
  return fields
    .map((field) => ({ field, weight: weight(field) }))
    .filter((one) => one.weight < 2)
    .sort((x, y) => x.weight - y.weight)
    .slice(0, most)
    .map(({ field }) => field);
}
