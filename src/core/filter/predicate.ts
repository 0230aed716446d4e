import { FilterError, type FilterNode, type FilterTerm } from './filterNode';
import { searchedAnywhere, type FilterField } from './filterField';
import { compileValue, compileWord } from './valueTest';

export type Row = Record<string, unknown>;
/** Rows one step away, for `related.field`: the related things of a row. */
export type Relations<T> = Record<string, { fields: FilterField[]; of: (row: T) => Row[] }>;

/**
 * Compiles a filter tree to a test of one row. Unknown fields and values that do not fit the field are mistakes
 * at their place, never rows silently left out.
 * @throws FilterError
 */
export function compileFilter<T extends object>(
  tree: FilterNode,
  fields: FilterField[],
  relations: Relations<T> = {},
): (row: T) => boolean {
  switch (tree.kind) {
    case 'all': {
      refuseSpokenRelation(tree.of, fields);
      const tests = tree.of.map((node) => compileFilter(node, fields, relations));
      return (row) => tests.every((test) => test(row));
    }
    case 'any': {
      const tests = tree.of.map((node) => compileFilter(node, fields, relations));
      return (row) => tests.some((test) => test(row));
    }
    case 'not': {
      const test = compileFilter(tree.of, fields, relations);
      return (row) => !test(row);
    }
    case 'term':
      return compileTerm(tree, fields, relations);
  }
}

function compileTerm<T extends object>(
  term: FilterTerm,
  fields: FilterField[],
  relations: Relations<T>,
): (row: T) => boolean {
  if (term.field === null) {
    const tests = fields.filter(searchedAnywhere).map((field) => [field.name, compileWord(term, field)] as const);
    return (row) => tests.some(([name, test]) => test(at(row, name)));
  }
  const dot = term.field.indexOf('.');
  const relation = dot > 0 ? relations[term.field.slice(0, dot)] : undefined;
  if (relation) {
    const inner = { ...term, field: term.field.slice(dot + 1) };
    const test = compileTerm<Row>(inner, relation.fields, {});
    return (row) => relation.of(row).some(test);
  }
  const field = fieldOfTerm(term.field, term.at, fields, Object.keys(relations));
  const test = compileValue(term, field);
  return (row) => test(at(row, field.name));
}

const relationWords = new Set(['is', 'like', 'contains', 'matches', 'equals', 'in']);

/**
 * `role is switch` would look for three words.
 * @param parts what all must hold
 * @throws FilterError at the word that is meant as a relation
 */
export function refuseSpokenRelation(parts: FilterNode[], fields: FilterField[]): void {
  parts.forEach((part, place) => {
    const before = parts[place - 1];
    const isWord = (node: FilterNode | undefined): node is FilterTerm => node?.kind === 'term' && node.field === null;
    if (!isWord(part) || !relationWords.has(part.value.toLowerCase()) || !isWord(before) || !parts[place + 1]) return;
    const field = fieldNamed(before.value, fields);
    if (field)
      throw new FilterError(
        `“${part.value}” is a word here, no relation`,
        part.at,
        `${field.name}=value, or "${part.value}" for the word`,
      );
  });
}

/** @throws FilterError where there is no such field */
export function fieldOfTerm(wanted: string, at: number, fields: FilterField[], relations: string[]): FilterField {
  const field = fieldNamed(wanted, fields);
  if (field) return field;
  const names = [...fields.map(({ name }) => name), ...relations.map((name) => `${name}.…`)];
  throw new FilterError(`There is no field “${wanted}”`, at, `one of ${nearest(wanted, names).join(', ')}`);
}

/** The field of a name, which may leave its unit away, `speed` is `speedBps`; or of its heading without blanks, `firmware` is `firmwareRevision`. */
function fieldNamed(wanted: string, fields: FilterField[]): FilterField | undefined {
  const lower = wanted.toLowerCase();
  return (
    fields.find(({ name }) => name.toLowerCase() === lower) ??
    fields.find(({ name }) => name.replace(/(Bps|Bytes|Seconds)$/, '').toLowerCase() === lower) ??
    fields.find(({ label }) => label?.replace(/\s+/g, '').toLowerCase() === lower) ??
    fields.find(({ formerly = [] }) => formerly.some((name) => name.toLowerCase() === lower))
  );
}

const at = (row: object, name: string): unknown => (row as Row)[name];

/** Names that begin alike first, at most eight. */
function nearest(word: string, names: string[]): string[] {
  const lower = word.toLowerCase();
  const score = (name: string) =>
    name.toLowerCase().startsWith(lower.slice(0, 2)) ? 0 : name.toLowerCase().includes(lower.slice(0, 3)) ? 1 : 2;
  return [...names].sort((x, y) => score(x) - score(y)).slice(0, 8);
}
