import { notFound } from '../access/problem';
import { route } from '../access/route';
import { recordAct } from '../../store/people';
import { restoreCredential } from '../../store/settings';

/** Takes a deletion back, within the hour in which the secret is still there. */
export const POST = route('administrator', null, ({ store, person, params }) => {
  const name = restoreCredential(store.db, Number(params.id));
  if (name === null) throw notFound(`deleted credential ${params.id ?? ''}`);
  recordAct(store.db, person.name, 'brought a credential back', name);
  return { name };
});
