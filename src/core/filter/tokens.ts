import { unitWords } from '../values/quantity';
import { FilterError, type Relation } from './filterNode';

/** One of the values of a term, as it stands in the text from `from` to before `to`, quotation marks included. */
export interface TokenValue {
  text: string;
  from: number;
  to: number;
  quoted: boolean;
}

export interface TermToken {
  kind: 'term';
  at: number;
  end: number;
  field: string | null;
  relation: Relation;
  /** where its values begin */
  valueAt: number;
  /** several where a comma stands between them */
  values: TokenValue[];
  /** a unit that stands apart from its number, `256 MB`, and is part of the value */
  unit: { word: string; at: number } | null;
}

export type Token = TermToken | { kind: '(' | ')' | 'not' | 'and' | 'or'; at: number; end: number };

const maximumLength = 4000;
const fieldName = /^[A-Za-z][A-Za-z.]*/;
/** A field, blanks, and a relation: a term begins. */
const termHead = /^([A-Za-z][A-Za-z.]*)(\s*)(==|!=|>=|<=|[:=<>])/;
/** A MAC or IPv6 address begins like a field with a colon behind it. */
const addressAlone = /^[0-9a-f]{1,4}(::?[0-9a-f]{1,4}){2,7}(\/\d+)?(?=[\s(),]|$)/i;

/** Signs of other languages at a relation, and what is written here. */
const foreignRelations: [sign: RegExp, write: (field: string) => string][] = [
  [/^(=~|~=?)/, (field) => `${field}:part or ${field}=beginning*`],
  [/^!~/, (field) => `-${field}:part`],
  [/^<>/, (field) => `${field}!=value`],
  [/^=>/, (field) => `${field}>=value`],
  [/^=</, (field) => `${field}<=value`],
  [/^===/, (field) => `${field}=value`],
];
/** Signs of other languages between terms. */
const foreignJoints = new Map([
  ['&&', 'and'],
  ['&', 'and'],
  ['||', 'or'],
  ['|', 'or'],
]);

/**
 * The words of a filter, each with its place. What people write from habit in other query languages is understood where it can mean one thing only, and told at its place where not.
 * @param lenient what is not whole is taken as far as it goes: of a filter that is still being written
 * @throws FilterError
 */
export function tokensOf(text: string, lenient = false): Token[] {
  if (text.length > maximumLength)
    throw new FilterError(`A filter may have ${maximumLength} characters`, maximumLength, 'the end');
  const tokens: Token[] = [];
  let at = 0;
  const fail = (message: string, where: number, expected: string) => {
    if (!lenient) throw new FilterError(message, where, expected);
  };

  while (at < text.length) {
    const behind = text.slice(at);
    const blank = /^\s+/.exec(behind)?.[0];
    const character = text[at] ?? '';
    if (blank) {
      at += blank.length;
    } else if (character === '(' || character === ')') {
      tokens.push({ kind: character, at, end: ++at });
    } else if (character === '-') {
      tokens.push({ kind: 'not', at, end: ++at });
    } else {
      const start = at;
      const head = termHead.exec(behind);
      const foreign = foreignRelationOf(behind);
      if (foreign) fail(`“${foreign.sign}” is no relation here`, start + foreign.at, foreign.write);
      if (head && !(head[2] && isJoint(head[1])) && !addressAlone.test(behind)) tokens.push(fieldTerm(head));
      else {
        const word = character === '"' ? null : (/^[^\s()]+/.exec(behind)?.[0] ?? character);
        const joint = word?.toLowerCase();
        if (joint === 'or' || joint === 'and' || joint === 'not') {
          at += joint.length;
          tokens.push({ kind: joint, at: start, end: at });
          continue;
        }
        if (word !== null) refuseForeignWord(word, start);
        tokens.push(term(null, 'contains', start, values(null)));
      }
    }
  }
  return tokens;

  function isJoint(word = ''): boolean {
    return ['and', 'or', 'not'].includes(word.toLowerCase());
  }

  function term(
    field: string | null,
    relation: Relation,
    start: number,
    { valueAt, list }: { valueAt: number; list: TokenValue[] },
    unit: TermToken['unit'] = null,
  ): TermToken {
    return { kind: 'term', at: start, end: at, field, relation, valueAt, values: list, unit };
  }

  function fieldTerm([whole, field = '', , sign = '']: RegExpExecArray): TermToken {
    const start = at;
    const relation: Relation = sign === ':' ? 'contains' : sign === '==' ? '=' : (sign as Relation);
    at += whole.length;
    const gap = /^\s+/.exec(text.slice(at))?.[0] ?? '';
    const next = text.slice(at + gap.length);
    // the value may stand after a blank, where it cannot be taken for something else
    const apart = gap !== '' && next !== '' && !/^([()]|-(?!\d)|(and|or|not)\b)/i.test(next) && !termHead.test(next);
    if (apart) at += gap.length;
    const found = values(field + sign, relation);
    const [only] = found.list;
    const unit = found.list.length === 1 && only && !only.quoted ? unitBehind(only) : null;
    return term(field, relation, start, found, unit);
  }

  /** `256` and, after a blank, `MB`. */
  function unitBehind(value: TokenValue): TermToken['unit'] {
    if (!/^-?\d+(\.\d+)?$/.test(value.text)) return null;
    const [whole = '', word = ''] = /^\s+([A-Za-z]+(?:\/s)?)(?=[\s()]|$)/.exec(text.slice(at)) ?? [];
    if (!unitWords.has(word.toLowerCase())) return null;
    at += whole.length;
    value.text = `${value.text} ${word}`;
    value.to = at;
    return { word, at: at - word.length };
  }

  /** The values that begin here, up to a blank or a bracket. @param before the field and relation they stand behind; null for words without */
  function values(before: string | null, relation?: Relation): { valueAt: number; list: TokenValue[] } {
    const valueAt = at;
    const list: TokenValue[] = [];
    for (;;) {
      const from = at;
      const value = text[at] === '"' ? quoted() : bare(before);
      list.push({ ...value, from, to: at });
      const mayBeEmpty = value.quoted && (before === null || relation === '=' || relation === '!=');
      if (value.text === '' && !mayBeEmpty) {
        if (list.length > 1) fail('A value is missing after the comma', at, 'a value');
        else if (before !== null) fail(`“${before}” has no value`, at, 'a value');
        else fail('A word is missing before the comma', at, 'a word');
      }
      if (text[at] !== ',') break;
      if (relation && !['=', '!=', 'contains'].includes(relation))
        fail('A list of values has no order', at, `one value, or = in place of ${relation}`);
      at++;
    }
    return { valueAt, list };
  }

  function quoted(): { text: string; quoted: true } {
    const close = text.indexOf('"', at + 1);
    if (close < 0) fail('A quotation mark is not closed', text.length, '"');
    const inner = text.slice(at + 1, close < 0 ? text.length : close);
    at = close < 0 ? text.length : close + 1;
    return { text: inner, quoted: true };
  }

  function bare(before: string | null): { text: string; quoted: false } {
    const value = /^[^\s(),]*/.exec(text.slice(at))?.[0] ?? '';
    if (/^'/.test(value))
      fail("“'” is no quotation mark here", at, `"${value.replaceAll("'", '') || '…'}" in double quotation marks`);
    if (before !== null && /[^|]\|[^|]/.test(value))
      fail(
        '“|” stands for nothing here',
        at + value.indexOf('|'),
        `${value.replaceAll('|', ',')}, or "${value}" as it stands`,
      );
    at += value.length;
    return { text: value, quoted: false };
  }

  function refuseForeignWord(word: string, start: number): void {
    const joint = foreignJoints.get(word);
    if (joint) fail(`“${word}” joins nothing here`, start, joint);
    if (/^(!=|[=<>])/.test(word)) fail('A field is missing before the relation', start, 'a field name');
    if (/^![A-Za-z("]/.test(word) || word === '!')
      fail('“!” stands before nothing here', start, `not, or -${word.slice(1)}`);
    if (/^in$/i.test(word) && /^\s*\(/.test(text.slice(start + word.length)))
      fail('“in (…)” is no list here', start, 'field=one,other');
  }
}

/** A sign of another language where a relation could stand: at its place, and what to write. */
function foreignRelationOf(text: string): { sign: string; at: number; write: string } | null {
  const field = fieldName.exec(text)?.[0];
  if (!field) return null;
  const blanks = /^\s*/.exec(text.slice(field.length))?.[0] ?? '';
  const behind = text.slice(field.length + blanks.length);
  for (const [sign, write] of foreignRelations) {
    const found = sign.exec(behind)?.[0];
    if (found) return { sign: found, at: field.length + blanks.length, write: write(field) };
  }
  return null;
}
