import { notFound } from '../access/problem';
import { route } from '../access/route';
import { recordAct } from '../../store/people';
import { deleteCredential } from '../../store/settings';

export const DELETE = route('administrator', null, ({ store, person, params }) => {
  const name = deleteCredential(store.db, Number(params.id));
  if (name === null) throw notFound(`credential ${params.id ?? ''}`);
  recordAct(store.db, person.name, 'deleted a credential', name);
  return {};
});
