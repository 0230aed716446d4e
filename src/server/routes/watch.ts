import { recordAct } from '../../store/people';
import { removeWatch } from '../../store/watches';
import { notFound } from '../access/problem';
import { route } from '../access/route';

export const DELETE = route('viewer', null, ({ store, person, params }) => {
  const was = removeWatch(store.db, person.id, Number(params.id));
  if (!was) throw notFound(`watch ${params.id ?? ''} of yours`);
  recordAct(store.db, person.name, 'watches no more', was.name);
  return { was: { thing: was.thing, id: was.rowId } };
});
