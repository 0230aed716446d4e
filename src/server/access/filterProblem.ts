import type { FilterError } from '../../core/filter/filterNode';
import { invalid, Problem } from './problem';

/** A mistake in a question about a table, told at the parameter it is in; null for what is none. */
export function filterProblem(error: unknown, path = 'where'): Problem | null {
  if (!(error instanceof Error)) return null;
  // by its name: what answers may have been loaded apart from what asks, with classes of its own
  const { name, message } = error;
  switch (name) {
    case 'FilterError': {
      const { at, expected } = error as FilterError;
      return new Problem(422, 'Filter mistake', `${message}; expected ${expected}`, [{ path, message, at, expected }]);
    }
    case 'TooManyRowsError':
      return invalid([{ path, message }]);
    case 'GroupError':
      return invalid([{ path: 'group', message }]);
    case 'SortError':
      return invalid([{ path: 'sort', message }]);
    default:
      return null;
  }
}
