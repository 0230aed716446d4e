import { notFound, Problem } from '../access/problem';
import { route } from '../access/route';
import { recordAct } from '../../store/people';
import { deleteCredential, scopesTrying } from '../../store/settings';

export const DELETE = route('administrator', null, ({ store, person, params }) => {
  const id = Number(params.id);
  const scopes = scopesTrying(store.db, id);
  if (scopes.length > 0)
    throw new Problem(
      409,
      'In use',
      `The ${scopes.length === 1 ? 'scope' : 'scopes'} ${scopes.map((name) => `“${name}”`).join(', ')} ${scopes.length === 1 ? 'tries' : 'try'} this credential: take it out there first.`,
    );
  const name = deleteCredential(store.db, id);
  if (name === null) throw notFound(`credential ${params.id ?? ''}`);
  recordAct(store.db, person.name, 'deleted a credential', name);
  return { name };
});
