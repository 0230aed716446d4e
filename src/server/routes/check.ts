import { forgetCheck, readChecks, saveCheck } from '../../store/checks';
import { recordAct } from '../../store/people';
import { notFound } from '../access/problem';
import { route } from '../access/route';
import { checkOf, checkSchema, examinedCheck } from './checks';

/** Changes a check; one of one's own that was deleted comes back by it. */
export const PUT = route('operator', checkSchema, async ({ store, person, params, body }) => {
  const key = params.id ?? '';
  if (!readChecks(store.db).some((check) => check.key === key) && !/^own-\d+$/.test(key))
    throw notFound(`check “${key}”`);
  const check = checkOf(key, body);
  await examinedCheck(store, check);
  saveCheck(store.db, check);
  recordAct(store.db, person.name, check.on ? 'changed a check' : 'switched a check off', check.name);
  return { id: key };
});

export const DELETE = route('operator', null, ({ store, person, params }) => {
  const check = readChecks(store.db).find(({ key }) => key === params.id);
  if (!check) throw notFound(`check “${params.id ?? ''}”`);
  forgetCheck(store.db, check.key);
  recordAct(
    store.db,
    person.name,
    check.origin === 'own' ? 'deleted a check' : 'put a check back as it was',
    check.name,
  );
  const { key: _key, origin: _origin, ...was } = check;
  return { id: check.key, was };
});
