import { readScope, type Scope, type ScopeText } from '../../core/estate/scope';

/** @throws Error with all that is wrong with a scope */
export function checkedScope(text: ScopeText): Scope {
  const read = readScope(text);
  if (!('mistakes' in read)) return read.scope;
  throw new Error(read.mistakes.map(({ path, message }) => `${path}: ${message}`).join('; '));
}
