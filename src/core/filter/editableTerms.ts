import { FilterError, type FilterNode, type FilterTerm, type Relation } from './filterNode';
import { parseFilter } from './syntax';
import { sideBySide, writtenTerm, writtenValue } from './written';

/** One condition of a filter that is joined by nothing but “and”. */
export interface EditableTerm {
  /** null is anywhere in the row */
  field: string | null;
  relation: Relation;
  /** of several values: with a comma between them */
  value: string;
  /** the rows that do not fit it */
  not: boolean;
  /** `*` in the value stands for any letters */
  pattern?: true;
  /** one of several values will do */
  several?: true;
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
    const not = node.kind === 'not';
    const term = not ? node.of : node;
    if (term.kind === 'any') {
      const list = listOf(term.of);
      if (!list) return null;
      terms.push({ ...list, not });
    } else if (term.kind === 'term') {
      const { field, relation, value, pattern } = term;
      terms.push({ field, relation, value, not, ...(pattern && { pattern }) });
    } else return null;
  }
  return terms;
}

/** Alternatives that are values of one field, none of them with a comma of its own. */
function listOf(parts: FilterNode[]): Omit<EditableTerm, 'not'> | null {
  const [first] = parts;
  if (first?.kind !== 'term') return null;
  const { field, relation } = first;
  const isAlike = (part: FilterNode): part is FilterTerm =>
    part.kind === 'term' && part.field === field && part.relation === relation && isListable(part);
  if (!parts.every(isAlike) || (relation !== '=' && relation !== 'contains')) return null;
  const pattern = parts.some((part) => part.pattern) ? ({ pattern: true } as const) : {};
  return { field, relation, value: parts.map(({ value }) => value).join(', '), several: true, ...pattern };
}

const isListable = ({ value, pattern, field }: FilterTerm): boolean =>
  field !== null && value !== '' && value.trim() === value && !value.includes(',') && (pattern || !value.includes('*'));

/** A condition as somebody writes its value in a field of its own: a comma stands between several, `*` for any letters. @param known a value that rows have is meant as it stands */
export function withWrittenValue(term: EditableTerm, value: string, known: boolean): EditableTerm {
  const { pattern: _pattern, several: _several, ...rest } = term;
  const isText = rest.relation === '=' || rest.relation === '!=' || rest.relation === 'contains';
  if (known || !isText) return { ...rest, value };
  const several = value.includes(',') && rest.field !== null && rest.relation !== '!=';
  const pattern = value.includes('*') && !/["\s()]/.test(several ? value.replaceAll(/,\s*/g, '') : value);
  return { ...rest, value, ...(several && { several }), ...(pattern && { pattern }) };
}

/** The conditions as text; those that have no value yet are left out. */
export function writtenTerms(terms: EditableTerm[]): string {
  return sideBySide(
    terms.flatMap(({ not, several, ...term }) => {
      const { field, relation, value, pattern } = term;
      if (several) {
        const values = value.split(',').map((one) => one.trim());
        const written = values
          .filter((one) => one !== '')
          .map((one) => (pattern && one.includes('*') ? one : writtenValue(one)))
          .join(',');
        if (written === '') return [];
        return [`${not ? '-' : ''}${field ?? ''}${relation === 'contains' ? ':' : relation}${written}`];
      }
      if (value === '' && (field === null || (relation !== '=' && relation !== '!='))) return [];
      return [`${not ? '-' : ''}${writtenTerm(term)}`];
    }),
  );
}
