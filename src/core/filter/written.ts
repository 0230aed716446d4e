import { unitWords } from '../values/quantity';
import type { FilterNode, FilterTerm } from './filterNode';

/** A filter tree as text that reads back to the same tree. */
export function writtenFilter(node: FilterNode): string {
  switch (node.kind) {
    case 'term':
      return writtenTerm(node);
    case 'not':
      return `-${node.of.kind === 'term' || node.of.kind === 'not' ? writtenFilter(node.of) : `(${writtenFilter(node.of)})`}`;
    case 'all':
      return sideBySide(
        node.of.map((part) =>
          part.kind === 'any' || part.kind === 'all' ? `(${writtenFilter(part)})` : writtenFilter(part),
        ),
      );
    case 'any':
      return node.of
        .map((part) => (part.kind === 'any' ? `(${writtenFilter(part)})` : writtenFilter(part)))
        .join(' or ');
  }
}

/** Terms that hold together. A word behind a number would be read as its unit, where it is one. */
export const sideBySide = (terms: readonly string[]): string =>
  terms
    .map((term, at) => (/\d$/.test(terms[at - 1] ?? '') && unitWords.has(term.toLowerCase()) ? `"${term}"` : term))
    .join(' ');

export const writtenTerm = ({
  field,
  relation,
  value,
  pattern,
}: Pick<FilterTerm, 'field' | 'relation' | 'value' | 'pattern'>): string =>
  `${field === null ? '' : `${field}${relation === 'contains' ? ':' : relation}`}${pattern ? value : writtenValue(value, field === null)}`;

const joints = new Set(['or', 'and', 'not', 'in']);

/** A value as it stands in a filter: in quotation marks where it would be read as something else. @param alone it stands behind no field */
export const writtenValue = (value: string, alone = false): string =>
  (alone ? /^[\w./+-]+$/ : /^[\w.:/+-]+$/).test(value) && !value.startsWith('-') && !joints.has(value.toLowerCase())
    ? value
    : `"${value.replaceAll('"', '')}"`;
