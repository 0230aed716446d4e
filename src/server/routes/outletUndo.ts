import { undoOutlets } from '../../store/outlets';
import { recordAct } from '../../store/people';
import { Problem } from '../access/problem';
import { route } from '../access/route';

export const POST = route('operator', null, ({ store, person, params }) => {
  const undone = undoOutlets(store.db, Number(params.id), person.name);
  if (!undone) throw new Problem(409, 'Nothing to take back', 'There is no such edit, or it was taken back already.');
  recordAct(store.db, person.name, 'took an edit of outlets back', `edit ${params.id ?? ''}`);
  return { edit: undone.id, back: undone.back, stay: undone.stay };
});
