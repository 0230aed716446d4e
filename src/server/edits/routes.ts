import * as yup from 'yup';
import type { Db } from '../../store/base/database';
import type { Editable } from '../../store/edits/editable';
import { editableKinds, editables } from '../../store/edits/editables';
import { editToUndo, recentEdits } from '../../store/edits/log';
import { undoEdit } from '../../store/edits/undo';
import { roleNames, type Person } from '../../store/people';
import { Problem } from '../access/problem';
import { oneOf, whole } from '../api/parameters';
import { route } from '../api/route';

const rankOf = (role: Person['role']): number => (role === 'collector' ? -1 : roleNames.indexOf(role));

/** Whether somebody may see and take back what was written of a kind. */
const maySee = (person: Person, { role }: Editable<unknown>): boolean => rankOf(person.role) >= rankOf(role);

/** What people wrote of anything, and the way back. */
export const editRoutes = [
  route({
    method: 'GET',
    path: '/edits',
    role: 'viewer',
    summary: 'What was written last, newest first: what one may write oneself',
    query: yup.object({
      of: oneOf(editableKinds, 'only of this kind'),
      size: whole('how many', 1, 200).default(20),
    }),
    run: ({ store, person, query: { of, size } }) => {
      const seen = editables.filter((one) => (of === undefined || one.kind === of) && maySee(person, one));
      const kinds = seen.map(({ kind }) => kind);
      const personal = seen.filter(({ ownerOf }) => ownerOf).map(({ kind }) => kind);
      const rows = recentEdits(store.db, kinds, size, { kinds: personal, who: person.name });
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'POST',
    path: '/edits/{id}/undo',
    role: 'viewer',
    summary: 'Take an edit back, if one may write such; what was written over since stays',
    run: ({ store, person, params }) => {
      const id = Number(params.id);
      checkMayUndo(store.db, id, person);
      const undone = undoEdit(store.db, editables, id, person.name);
      if (!undone) throw nothingToTakeBack();
      return { ...undone, version: undone.edit };
    },
  }),
];

const nothingToTakeBack = () =>
  new Problem(409, 'Nothing to take back', 'There is no such edit, or it was taken back already.');

function checkMayUndo(db: Db, id: number, person: Person): void {
  const known = editToUndo(db, id);
  const editable = editables.find(({ kind }) => kind === known?.kind);
  if (!known || !editable) throw nothingToTakeBack();
  const { role, many, ownerOf } = editable;
  if (!maySee(person, editable)) {
    throw new Problem(403, 'Not allowed', `What is written of ${many} needs the role ${role}; you are ${person.role}.`);
  }
  if (!ownerOf || known.who === person.name) return;
  const isOwn = known.changes.every(({ before, after }) => ownerOf(before ?? after) === person.id);
  if (!isOwn) throw new Problem(403, 'Not allowed', `These ${many} are somebody else’s.`);
}
