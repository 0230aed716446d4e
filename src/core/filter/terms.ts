import { FilterError, type FilterNode } from './filterNode';
import { parseFilter } from './syntax';
import { writtenFilter } from './written';

/** The values that a part demands of a field: `site=A`, or one of several, `site=A or site=B`. Null where it says anything else. */
function demanded(part: FilterNode, field: string): string[] | null {
  if (part.kind === 'term') return part.field === field && part.relation === '=' ? [part.value] : null;
  if (part.kind !== 'any') return null;
  const values = part.of.map((inner) => demanded(inner, field));
  return values.every((value) => value !== null) ? values.flat() : null;
}

/** The parts that every row must fit. Null of a filter that is half typed. */
function requiredParts(where: string): FilterNode[] | null {
  try {
    const tree = parseFilter(where);
    return tree.kind === 'all' ? tree.of : [tree];
  } catch (error) {
    if (!(error instanceof FilterError)) throw error;
    return null;
  }
}

/** The values of a field that a filter lets through, where it demands any. */
export function chosenTerms(where: string, field: string): string[] {
  for (const part of requiredParts(where) ?? []) {
    const values = demanded(part, field);
    if (values) return values;
  }
  return [];
}

/** The value that a filter demands of a field, if it is one. */
export function chosenTerm(where: string, field: string): string | null {
  const values = chosenTerms(where, field);
  return values.length === 1 ? (values[0] ?? null) : null;
}

/** Puts the demand that a field has one of some values into a filter, in place of what it demanded of the field; without any, takes that out. */
export function withTerms(where: string, field: string, values: string[]): string {
  const parts = (requiredParts(where) ?? []).filter((part) => demanded(part, field) === null);
  const terms = values.map((value) => ({
    kind: 'term' as const,
    field,
    relation: '=' as const,
    value: value.replaceAll('"', ''),
    at: 0,
  }));
  const wanted: FilterNode[] = terms.length > 1 ? [{ kind: 'any', of: terms }] : terms;
  const all = [...parts, ...wanted];
  const only = all[0];
  return all.length === 1 && only ? writtenFilter(only) : writtenFilter({ kind: 'all', of: all });
}

/** The same with one value, or none with null. */
export const withTerm = (where: string, field: string, value: string | null): string =>
  withTerms(where, field, value === null ? [] : [value]);

/** One more value of a field, or one less where it is there already. */
export function withOneMore(where: string, field: string, value: string): string {
  const values = chosenTerms(where, field);
  return withTerms(
    where,
    field,
    values.includes(value) ? values.filter((other) => other !== value) : [...values, value],
  );
}

/** As a press on a value asks for it: that value alone, none if it is chosen alone, or one more of them. */
export const withChosen = (where: string, field: string, value: string, more: boolean): string =>
  more ? withOneMore(where, field, value) : withTerm(where, field, chosenTerm(where, field) === value ? null : value);

/** Puts a span of a field (from a value on, to before another) into a filter, in place of all that it said of the field; null leaves that end open, and without either the field is free. */
export function withSpan(where: string, field: string, from: string | null, before: string | null): string {
  const parts = (requiredParts(where) ?? []).filter((part) => part.kind !== 'term' || part.field !== field);
  const term = (relation: '>=' | '<', value: string | null): FilterNode[] =>
    value === null ? [] : [{ kind: 'term', field, relation, value, at: 0 }];
  return writtenFilter({ kind: 'all', of: [...parts, ...term('>=', from), ...term('<', before)] });
}

/** The span of a field that a filter lets through. */
export function chosenSpan(where: string, field: string): { from: string | null; before: string | null } {
  const terms = (requiredParts(where) ?? []).flatMap((part) =>
    part.kind === 'term' && part.field === field ? [part] : [],
  );
  return {
    from: terms.find(({ relation }) => relation === '>=')?.value ?? null,
    before: terms.find(({ relation }) => relation === '<')?.value ?? null,
  };
}
