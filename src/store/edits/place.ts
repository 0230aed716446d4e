import type { Db } from '../base/database';
import type { Editable } from './editable';

/** Puts a value where it is kept without a word in the log: for what a program brings along, not for what people write. @returns its key */
export function place<Value>(
  db: Db,
  editable: Editable<Value>,
  after: Value | null,
  key: string | null = null,
): string {
  const before = key === null ? null : editable.read(db, key, '');
  return editable.write(db, [{ key, before, after }])[0] ?? '';
}
