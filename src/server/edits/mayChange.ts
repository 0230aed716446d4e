import type { Editable } from '../../store/edits/editable';
import { roleNames, type Person } from '../../store/people';
import { Problem } from '../access/problem';

export const rankOf = (role: Person['role']): number => (role === 'collector' ? -1 : roleNames.indexOf(role));

/** @throws Problem where one of the changes is for people of another role than those who write such things otherwise */
export function checkMayChange<Value>(
  person: Person,
  { onlyBy }: Editable<Value>,
  changes: readonly { before: Value | null; after: Value | null }[],
): void {
  for (const { before, after } of changes) {
    const need = onlyBy?.(before, after);
    if (need && rankOf(person.role) < rankOf(need.role))
      throw new Problem(403, 'Not allowed', `${need.why}; you are ${person.role}.`, [
        { path: need.path, message: need.why },
      ]);
  }
}
