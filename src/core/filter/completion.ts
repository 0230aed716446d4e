import { FilterError, type FilterNode } from './filterNode';
import type { FilterField } from './filterField';
import { parseFilter, treeOf } from './syntax';
import { tokensOf, type TermToken, type Token } from './tokens';
import { writtenFilter, writtenValue } from './written';

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
  /** the filter without the term at the caret; always a whole one */
  rest: string;
  /** what holds whatever is written here: the rest without what stands beside it behind an “or” */
  within: string;
}

/** What a suggestion would be for: a field's name, or a value of the field before the relation. Null within a quoted scrap that belongs to no field. */
export function placeAtCaret(text: string, caret: number): FilterPlace | null {
  const tokens = tokensOf(text, true);
  const token = tokens.find(({ kind, at, end }) => kind !== '(' && kind !== ')' && at < caret && caret <= end);
  // a value that is still to come may stand behind a blank
  const waiting = tokens.find(
    (one): one is TermToken => isWaiting(one) && one.end < caret && text.slice(one.end, caret).trim() === '',
  );
  if (waiting)
    return {
      kind: 'value',
      from: caret,
      to: caret,
      typed: '',
      field: waiting.field ?? '',
      ...withoutPart(text, waiting.at, caret),
    };
  if (!token || text[token.at] === '-')
    return { kind: 'field', from: caret, to: caret, typed: '', field: '', ...withoutPart(text, caret, caret) };
  const rest = withoutPart(text, token.at, token.end);
  if (token.kind === 'term' && token.field !== null && caret >= token.valueAt) {
    const { from, to } = token.values.findLast((one) => one.from <= caret) ?? { from: caret, to: caret };
    return { kind: 'value', from, to, typed: text.slice(from, caret).replaceAll('"', ''), field: token.field, ...rest };
  }
  const typed = text.slice(token.at, caret);
  return /^[A-Za-z.]*$/.test(typed)
    ? { kind: 'field', from: token.at, to: token.end, typed, field: '', ...rest }
    : null;
}

const isWaiting = (token: Token): boolean =>
  token.kind === 'term' && token.field !== null && token.values.length === 1 && !isWhole(token);

const isWhole = ({ values, relation }: TermToken): boolean =>
  values.every(({ text, quoted }) => text !== '' || (quoted && (relation === '=' || relation === '!=')));

/** A text nobody writes. */
const mark = '\u0000';

/** What stays of a filter, as far as it is whole, without a part of its text. */
function withoutPart(text: string, from: number, to: number): Pick<FilterPlace, 'rest' | 'within'> {
  const marked = `${text.slice(0, from)} "${mark}" ${text.slice(to)}`;
  const whole = tokensOf(marked, true).filter((token) => token.kind !== 'term' || isWhole(token));
  const tree = treeOf(whole, marked.length, true);
  const written = (kept: FilterNode | null) => wholeOr('', kept ? writtenFilter(kept) : '');
  return { rest: written(withoutMark(tree, false)), within: written(withoutMark(tree, true)) };
}

/** A filter, or another text where it is none: what was written from habit in another language stays a mistake. */
function wholeOr(other: string, text: string): string {
  try {
    parseFilter(text);
    return text;
  } catch (error) {
    if (error instanceof FilterError) return other;
    throw error;
  }
}

const isMark = (node: FilterNode): boolean => node.kind === 'term' && node.value === mark;
const holdsMark = (node: FilterNode): boolean =>
  node.kind === 'term' ? isMark(node) : node.kind === 'not' ? holdsMark(node.of) : node.of.some(holdsMark);

/** The tree without the mark, and, where asked for, without all alternatives to it. */
function withoutMark(node: FilterNode, alternatives: boolean): FilterNode | null {
  if (!holdsMark(node)) return node;
  if (node.kind === 'term') return null;
  if (node.kind === 'not') {
    const of = alternatives ? null : withoutMark(node.of, alternatives);
    return of && { kind: 'not', of };
  }
  if (node.kind === 'any' && alternatives) {
    // what stands beside it in its own alternative holds there too
    const own = node.of.find(holdsMark);
    return own ? withoutMark(own, alternatives) : null;
  }
  const of = node.of.map((part) => withoutMark(part, alternatives)).filter((part) => part !== null);
  return of.length > 1 ? { kind: node.kind, of } : (of[0] ?? null);
}

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
