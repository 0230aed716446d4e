import { writtenValue } from './completion';
import type { FilterNode } from './syntax';

/** A filter tree as text that reads back to the same tree. */
export function writtenFilter(node: FilterNode): string {
  switch (node.kind) {
    case 'term':
      return writtenTerm(node);
    case 'not':
      return `-${node.of.kind === 'term' || node.of.kind === 'not' ? writtenFilter(node.of) : `(${writtenFilter(node.of)})`}`;
    case 'all':
      return node.of
        .map((part) => (part.kind === 'any' || part.kind === 'all' ? `(${writtenFilter(part)})` : writtenFilter(part)))
        .join(' ');
    case 'any':
      return node.of
        .map((part) => (part.kind === 'any' ? `(${writtenFilter(part)})` : writtenFilter(part)))
        .join(' or ');
  }
}

export function writtenTerm({
  field,
  relation,
  value,
}: Pick<FilterNode & { kind: 'term' }, 'field' | 'relation' | 'value'>): string {
  if (field === null)
    return /^[\w./+-]+$/.test(value) && value.toLowerCase() !== 'or' && !value.startsWith('-')
      ? value
      : `"${value.replaceAll('"', '')}"`;
  return `${field}${relation === 'contains' ? ':' : relation}${writtenValue(value)}`;
}
