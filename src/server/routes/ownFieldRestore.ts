import { restoreOwnField } from '../../store/ownFields';
import { recordAct } from '../../store/people';
import { notFound } from '../access/problem';
import { route } from '../access/route';

export const POST = route('administrator', null, ({ store, person, params }) => {
  const name = restoreOwnField(store.db, Number(params.id));
  if (name === null) throw notFound(`own field ${params.id ?? ''}`);
  recordAct(store.db, person.name, 'brought an own field back', name);
  return {};
});
