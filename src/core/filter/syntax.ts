/** The filter language as a tree. `field: null` means anywhere in the row. */
export type FilterNode =
  | { kind: 'all'; of: FilterNode[] }
  | { kind: 'any'; of: FilterNode[] }
  | { kind: 'not'; of: FilterNode }
  | { kind: 'term'; field: string | null; relation: Relation; value: string; at: number };

export type Relation = 'contains' | '=' | '!=' | '>' | '>=' | '<' | '<=';

/** A mistake with its place in the text and what was expected there. */
export class FilterError extends Error {
  constructor(
    message: string,
    readonly at: number,
    readonly expected: string,
  ) {
    super(message);
    this.name = 'FilterError';
  }
}

type Token =
  | { kind: '(' | ')' | '-' | 'or' | 'end'; at: number }
  | { kind: 'term'; at: number; field: string | null; relation: Relation; value: string };

/**
 * Parses the filter language: `word`, `field:value`, `field=value`, `!=`, `>` `>=` `<` `<=`, `"quoted text"`, `-term`,
 * `a b` (and), `a or b`, `( )`; `field=""` is an empty field. `and` binds closer than `or`. An empty text is the filter that holds everything.
 * @throws FilterError at the place of the mistake
 */
export function parseFilter(text: string): FilterNode {
  const tokens = tokenise(text);
  let position = 0;
  const peek = () => tokens[position] ?? { kind: 'end' as const, at: text.length };

  const either = (): FilterNode => {
    const parts = [both()];
    while (peek().kind === 'or') {
      position++;
      parts.push(both());
    }
    return parts.length === 1 && parts[0] ? parts[0] : { kind: 'any', of: parts };
  };
  const both = (): FilterNode => {
    const parts: FilterNode[] = [];
    for (;;) {
      const { kind } = peek();
      if (kind === 'end' || kind === ')' || kind === 'or') break;
      parts.push(single());
    }
    if (parts.length === 0) throw new FilterError('A term is missing here', peek().at, 'a word or field:value');
    return parts.length === 1 && parts[0] ? parts[0] : { kind: 'all', of: parts };
  };
  const single = (): FilterNode => {
    const token = peek();
    position++;
    if (token.kind === '-') {
      if (['end', ')', 'or'].includes(peek().kind))
        throw new FilterError('“-” must stand before a term', peek().at, 'a word, field:value or (');
      return { kind: 'not', of: single() };
    }
    if (token.kind === '(') {
      const inner = either();
      if (peek().kind !== ')') throw new FilterError('A bracket is not closed', peek().at, ')');
      position++;
      return inner;
    }
    if (token.kind === 'term') return token;
    throw new FilterError('A term is missing here', token.at, 'a word or field:value');
  };

  if (tokens.length === 0) return { kind: 'all', of: [] };
  const tree = either();
  if (peek().kind === ')') throw new FilterError('This bracket closes nothing', peek().at, 'a term or the end');
  return tree;
}

const maximumLength = 4000;

function tokenise(text: string): Token[] {
  if (text.length > maximumLength)
    throw new FilterError(`A filter may have ${maximumLength} characters`, maximumLength, 'the end');
  const tokens: Token[] = [];
  let at = 0;
  const quoted = (): string => {
    const close = text.indexOf('"', at + 1);
    if (close < 0) throw new FilterError('A quotation mark is not closed', text.length, '"');
    const inner = text.slice(at + 1, close);
    at = close + 1;
    return inner;
  };
  while (at < text.length) {
    const character = text[at] ?? '';
    if (/\s/.test(character)) {
      at++;
    } else if (character === '(' || character === ')' || character === '-') {
      tokens.push({ kind: character, at: at++ });
    } else if (character === '"') {
      const start = at;
      tokens.push({ kind: 'term', at: start, field: null, relation: 'contains', value: quoted() });
    } else {
      const start = at;
      const head = /^[^\s()":=!<>]*/.exec(text.slice(at))?.[0] ?? '';
      const relation = /^(!=|>=|<=|[:=<>])/.exec(text.slice(at + head.length))?.[0];
      if (relation && /^[A-Za-z][A-Za-z.]*$/.test(head)) {
        at += head.length + relation.length;
        let value: string;
        const isQuoted = text[at] === '"';
        if (isQuoted) value = quoted();
        else {
          value = /^[^\s()]*/.exec(text.slice(at))?.[0] ?? '';
          at += value.length;
        }
        // a field that is empty, or is not, is asked for by quotation marks with nothing in them
        if (value === '' && !(isQuoted && (relation === '=' || relation === '!=')))
          throw new FilterError(`“${head}${relation}” has no value`, at, 'a value');
        tokens.push({
          kind: 'term',
          at: start,
          field: head,
          relation: relation === ':' ? 'contains' : (relation as Relation),
          value,
        });
      } else {
        const word = /^[^\s()]+/.exec(text.slice(at))?.[0] ?? character;
        at += word.length;
        if (word.toLowerCase() === 'or') tokens.push({ kind: 'or', at: start });
        else if (/^[=<>!]/.test(word))
          throw new FilterError('A field is missing before the relation', start, 'a field name');
        else tokens.push({ kind: 'term', at: start, field: null, relation: 'contains', value: word });
      }
    }
  }
  return tokens;
}
