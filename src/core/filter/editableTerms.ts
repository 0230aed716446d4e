import { FilterError, parseFilter, type FilterNode, type Relation } from './syntax';
import { writtenTerm } from './written';

/** One condition of a filter that is joined by nothing but “and”. */
export interface EditableTerm {
  /** null is anywhere in the row */
  field: string | null;
  relation: Relation;
  value: string;
  /** the rows that do not fit it */
  not: boolean;
}

/** A filter as a list of conditions; null where it has alternatives or is not whole, and can only be edited as text. */
export function editableTerms(where: string): EditableTerm[] | null {
  let tree: FilterNode;
  try {
    tree = parseFilter(where);
  } catch (error) {
    if (!(error instanceof FilterError)) throw error;
    return null;
  }
  const terms: EditableTerm[] = [];
  for (const node of tree.kind === 'all' ? tree.of : [tree]) {
    const term = node.kind === 'not' ? node.of : node;
    if (term.kind !== 'term') return null;
    terms.push({ field: term.field, relation: term.relation, value: term.value, not: node.kind === 'not' });
  }
  return terms;
}

/** The conditions as text; those that have no value yet are left out. */
export function writtenTerms(terms: EditableTerm[]): string {
  return terms
    .flatMap(({ not, ...term }) => {
      const { field, relation, value } = term;
      if (value === '' && (field === null || (relation !== '=' && relation !== '!='))) return [];
      return [`${not ? '-' : ''}${writtenTerm(term)}`];
    })
    .join(' ');
}
