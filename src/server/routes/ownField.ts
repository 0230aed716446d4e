import { removeOwnField } from '../../store/ownFields';
import { recordAct } from '../../store/people';
import { notFound } from '../access/problem';
import { route } from '../access/route';

export const DELETE = route('administrator', null, ({ store, person, params }) => {
  const field = removeOwnField(store.db, Number(params.id));
  if (!field) throw notFound(`own field ${params.id ?? ''}`);
  recordAct(store.db, person.name, 'removed an own field', `${field.label} of ${field.thing}`);
  return {};
});
