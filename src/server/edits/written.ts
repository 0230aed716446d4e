import type { EditChange } from '../../core/edits/edit';
import type { Editable } from '../../store/edits/editable';
import { writeEdit } from '../../store/edits/log';
import type { Call } from '../api/route';
import { checkMayChange } from './mayChange';

interface Writing<Value> {
  /** what is done, for the record of acts: `changed a contract` */
  act: string;
  words: string;
  changes: readonly EditChange<Value>[];
}

/**
 * Writes what a request asks for into the log of edits, all or none.
 * @returns the number of the edit, which is also the version that has it, and the key of the first value
 * @throws StaleEditError, EditRefused (which the gate tells as problems)
 */
export function written<Value>(
  { store, person, seen }: Pick<Call, 'store' | 'person' | 'seen'>,
  editable: Editable<Value>,
  writing: Writing<Value>,
): { edit: number; version: number; key: string } {
  checkMayChange(person, editable, writing.changes);
  const { edit, keys } = writeEdit(store.db, editable, { ...writing, who: person.name, seen });
  return { edit, version: edit, key: keys[0] ?? '' };
}
