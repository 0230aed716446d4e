import * as yup from 'yup';
import type { Db } from '../../store/base/database';
import type { Editable } from '../../store/edits/editable';
import { editableKinds, editables } from '../../store/edits/editables';
import { editToUndo } from '../../store/edits/log';
import { recentEdits, standingValues, writersOf } from '../../store/edits/recent';
import { undoEdit } from '../../store/edits/undo';
import type { Person } from '../../store/people';
import { Problem } from '../access/problem';
import { oneOf, text, whole } from '../api/parameters';
import { route } from '../api/route';
import { checkMayChange, rankOf } from './mayChange';

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
      who: text('only by this person'),
      text: text('words that must be in it').default(''),
      before: whole('older than the edit of this number', 1, Number.MAX_SAFE_INTEGER),
      size: whole('how many', 1, 200).default(20),
    }),
    run: ({ store: { db }, person, query: { of, who, text: words, before, size } }) => {
      const visible = editables.filter((one) => maySee(person, one));
      const kinds = visible.filter(({ kind }) => of === undefined || kind === of).map(({ kind }) => kind);
      const personal = visible.filter(({ ownerOf }) => ownerOf).map(({ kind }) => kind);
      const wanted = { kinds, who: who ?? null, text: words, alone: { kinds: personal, who: person.name } };
      const { rows, total } = recentEdits(db, { ...wanted, before: before ?? null, most: size });
      return {
        rows: rows.map((row) => ({
          ...row,
          many: visible.find(({ kind }) => kind === row.kind)?.many ?? row.kind,
          /** how many of its values nobody wrote over since */
          standing: row.undoneBy === null ? standingValues(db, editables, row.id) : 0,
        })),
        total,
        people: writersOf(db, { ...wanted, kinds: visible.map(({ kind }) => kind) }),
        kinds: visible.map(({ kind, many }) => ({ kind, many })),
      };
    },
  }),
  route({
    method: 'POST',
    path: '/edits/{id}/undo',
    beside: true,
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
  // what it was before is what it becomes
  checkMayChange(
    person,
    editable,
    known.changes.map(({ before, after }) => ({ before: after, after: before })),
  );
  if (!ownerOf || known.who === person.name) return;
  const isOwn = known.changes.every(({ before, after }) => ownerOf(before ?? after) === person.id);
  if (!isOwn) throw new Problem(403, 'Not allowed', `These ${many} are somebody else’s.`);
}
