import { recordAct } from '../../store/people';
import { deleteView } from '../../store/savedViews';
import { notFound } from '../access/problem';
import { route } from '../access/route';

export const DELETE = route('viewer', null, ({ store, person, params }) => {
  const name = deleteView(store.db, Number(params.id), person.id, person.role === 'administrator');
  if (name === null) throw notFound(`view ${params.id ?? ''} of yours`);
  recordAct(store.db, person.name, 'deleted a view', name);
  return {};
});
