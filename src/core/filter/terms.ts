import { FilterError, parseFilter, type FilterNode } from './syntax';

/** The terms that every row must fit: those of a filter that is one term, or several joined by nothing but “and”. */
function requiredTerms(where: string): (FilterNode & { kind: 'term' })[] {
  let tree: FilterNode;
  try {
    tree = parseFilter(where);
  } catch (error) {
    // half typed: nothing is chosen yet
    if (!(error instanceof FilterError)) throw error;
    return [];
  }
  const parts = tree.kind === 'all' ? tree.of : [tree];
  return parts.flatMap((part) => (part.kind === 'term' ? [part] : []));
}

/** The value that a filter demands of a field, if it does. */
export function chosenTerm(where: string, field: string): string | null {
  return requiredTerms(where).find((term) => term.field === field && term.relation === '=')?.value ?? null;
}

/** Puts `field="value"` into a filter in place of what it demanded of the field, or takes that out with null. An alternative (`a or b`) goes into brackets. */
export function withTerm(where: string, field: string, value: string | null): string {
  let rest = where;
  for (const term of requiredTerms(where).filter((own) => own.field === field && own.relation === '=').reverse()) {
    const end = /^[^\s"]*(?:"[^"]*")?/.exec(where.slice(term.at))?.[0].length ?? 0;
    rest = `${rest.slice(0, term.at)}${rest.slice(term.at + end)}`;
  }
  rest = rest.replace(/\s+/g, ' ').trim();
  if (value === null) return rest;
  const term = `${field}=${/^[\w.-]+$/.test(value) ? value : `"${value}"`}`;
  if (rest === '') return term;
  return `${isAlternative(rest) ? `(${rest})` : rest} ${term}`;
}

function isAlternative(where: string): boolean {
  try {
    return parseFilter(where).kind === 'any';
  } catch {
    return false;
  }
}
