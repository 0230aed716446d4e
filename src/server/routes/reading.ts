import { notFound } from '../access/problem';
import { route } from '../access/route';
import { recordAct } from '../../store/people';
import { deleteReadingRule } from '../../store/readingRules';

export const DELETE = route('administrator', null, ({ store, person, params }) => {
  const name = params.name ?? '';
  if (!deleteReadingRule(store.db, name)) throw notFound(`reading “${name}”`);
  recordAct(store.db, person.name, 'deleted a reading', name);
  return {};
});
