import { reversed, type EditChange } from '../../core/edits/edit';
import { inTransaction, type Db } from '../base/database';
import { EditRefused, type Editable } from './editable';
import { editToUndo, isAsBefore, markUndone, writeEdit } from './log';

export interface Undone {
  /** the edit that takes the other back */
  edit: number;
  /** how many values came back, and how many stay as somebody wrote them since */
  back: number;
  stay: number;
  /** why some could not come back, though nobody wrote them since */
  why: string[];
}

/**
 * Takes an edit back by another one. What somebody has written over since, and what cannot be any more as it was, stays.
 * @returns null where there is no such edit, or it was taken back already
 * @throws EditRefused where nothing of it can come back
 */
export function undoEdit(
  db: Db,
  editables: readonly Editable<unknown>[],
  id: number,
  who: string,
  now = new Date(),
): Undone | null {
  return inTransaction(db, () => {
    const known = editToUndo(db, id);
    const editable = editables.find(({ kind }) => kind === known?.kind);
    if (!known || !editable) return null;
    const all = reversed(known.changes);
    let back = all.filter((change) => isAsBefore(db, editable, change));
    const why: string[] = [];
    const write = (changes: EditChange[]) =>
      writeEdit(
        db,
        editable,
        { who, act: `took an edit of ${editable.many} back`, words: `took back: ${known.words}`, changes },
        now,
      );
    for (;;) {
      try {
        // inside the transaction this is a savepoint: what is refused leaves nothing behind
        const { edit } = inTransaction(db, () => write(back));
        markUndone(db, id, edit);
        return { edit, back: back.length, stay: all.length - back.length, why };
      } catch (error) {
        if (!(error instanceof EditRefused) || error.key === null || back.length === 1) throw error;
        why.push(error.message);
        const rest = back.filter(({ key }) => key !== error.key);
        if (rest.length === back.length) throw error;
        back = rest;
      }
    }
  });
}
