import { notFound } from '../access/problem';
import { route } from '../access/route';
import { recordAct } from '../../store/people';
import { deleteScope } from '../../store/settings';

export const DELETE = route('operator', null, ({ store, person, params }) => {
  const name = deleteScope(store.db, Number(params.id));
  if (name === null) throw notFound(`scope ${params.id ?? ''}`);
  recordAct(store.db, person.name, 'deleted a scope', name);
  return {};
});
