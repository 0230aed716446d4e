import { FilterError, type FilterNode, type FilterTerm } from './filterNode';
import { tokensOf, type TermToken, type Token } from './tokens';

/**
 * Parses the filter language: `word`, `field:value`, `field=value`, `!=`, `>` `>=` `<` `<=`, `"quoted text"`, `-term` or `not term`,
 * `a b` or `a and b`, `a or b`, `( )`; `field=""` is an empty field, `field=a,b` one of several, `field=a*` what begins so. `==` is `=`, blanks may stand around a
 * relation and before a unit. `and` binds closer than `or`. An empty text is the filter that holds everything.
 * @throws FilterError at the place of the mistake
 */
export const parseFilter = (text: string): FilterNode => treeOf(tokensOf(text), text.length);

/** The same of words that are there already. @param lenient what is missing is left out instead of told */
export function treeOf(tokens: Token[], length: number, lenient = false): FilterNode {
  let position = 0;
  const peek = () => tokens[position] ?? { kind: 'end' as const, at: length };
  const fail = (message: string, at: number, expected: string): null => {
    if (!lenient) throw new FilterError(message, at, expected);
    return null;
  };
  const joined = (kind: 'all' | 'any', parts: FilterNode[]): FilterNode | null =>
    parts.length > 1 ? { kind, of: parts } : (parts[0] ?? null);

  const either = (): FilterNode | null => {
    const parts = [both()];
    while (peek().kind === 'or') {
      position++;
      parts.push(both());
    }
    return joined(
      'any',
      parts.filter((part) => part !== null),
    );
  };
  const both = (): FilterNode | null => {
    const parts: (FilterNode | null)[] = [];
    let joint: { at: number } | null = null;
    for (;;) {
      const next = peek();
      if (next.kind === 'and') {
        if (parts.length === 0 || joint)
          fail('“and” must stand between two terms', next.at, 'a term before it, or "and" for the word');
        joint = next;
        position++;
        continue;
      }
      if (next.kind === 'end' || next.kind === ')' || next.kind === 'or') break;
      parts.push(single());
      joint = null;
    }
    if (parts.length === 0) fail('A term is missing here', peek().at, 'a word or field:value');
    else if (joint) fail('“and” must stand between two terms', joint.at, 'a term after it, or "and" for the word');
    return joined(
      'all',
      parts.filter((part) => part !== null),
    );
  };
  const single = (): FilterNode | null => {
    const token = peek();
    position++;
    if (token.kind === 'not') {
      const next = peek();
      if (['end', ')', 'or', 'and'].includes(next.kind))
        return token.end - token.at > 1
          ? fail('“not” must stand before a term', next.at, 'a word, field:value or (; "not" for the word')
          : fail('“-” must stand before a term', next.at, 'a word, field:value or (');
      const of = single();
      return of && { kind: 'not', of };
    }
    if (token.kind === '(') {
      const inner = either();
      if (peek().kind === ')') position++;
      else fail('A bracket is not closed', peek().at, ')');
      return inner;
    }
    if (token.kind === 'term') return termsOf(token);
    return fail('A term is missing here', token.at, 'a word or field:value');
  };

  const parts: FilterNode[] = [];
  while (peek().kind !== 'end') {
    const tree = either();
    if (tree) parts.push(tree);
    if (peek().kind === ')') {
      fail('This bracket closes nothing', peek().at, 'a term or the end');
      position++;
    }
  }
  return parts.length === 1 && parts[0] ? parts[0] : { kind: 'all', of: parts };
}

/** A term, or, of a list of values, one for each of them. */
function termsOf({ at, field, relation, values, unit }: TermToken): FilterNode {
  const terms = values.map(({ text, quoted }): FilterTerm => ({
    kind: 'term',
    at,
    field,
    relation,
    value: text,
    ...(!quoted && text.includes('*') && { pattern: true }),
    ...(unit && { unit }),
  }));
  const [only] = terms;
  if (terms.length === 1 && only) return only;
  return { kind: relation === '!=' ? 'all' : 'any', of: terms };
}
