import { notFound } from '../access/problem';
import { route } from '../access/route';
import { removeCollector } from '../../store/collectors';
import { recordAct } from '../../store/people';

export const DELETE = route('administrator', null, ({ store, person, params }) => {
  const name = removeCollector(store.db, Number(params.id));
  if (name === null) throw notFound(`collector ${params.id ?? ''}`);
  recordAct(store.db, person.name, 'removed a collector', name);
  return { name };
});
