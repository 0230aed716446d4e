import * as yup from 'yup';
import { Problem } from '../access/problem';
import { route } from '../access/route';
import { session, whoAsks } from '../access/session';
import { forgetFailures, mustWaitSeconds, recordFailure } from '../access/signInLimit';
import { listPeople, recordAct, signIn } from '../../store/people';

const signInSchema = yup
  .object({ name: yup.string().required('Give your name'), password: yup.string().required('Give your password') })
  .noUnknown();

export const GET = route('anyone', null, async ({ request }) => ({ person: (await whoAsks(request))?.person ?? null }));

export const POST = route('anyone', signInSchema, async ({ store, body: { name, password } }) => {
  const wait = mustWaitSeconds(name, Date.now());
  if (wait > 0)
    throw new Problem(429, 'Too many tries', `Too many failed tries. Try again in ${Math.ceil(wait / 60)} min.`, [], {
      'retry-after': String(wait),
    });
  const person = await signIn(store.db, name, password);
  if (!person) {
    recordFailure(name, Date.now());
    // a name that nobody has may be a password in the wrong field
    if (listPeople(store.db).some((known) => known.name === name)) recordAct(store.db, name, 'failed to sign in', '');
    throw new Problem(401, 'Not signed in', 'Name and password do not fit.');
  }
  forgetFailures(name);
  const current = await session();
  current.personId = person.id;
  await current.save();
  recordAct(store.db, person.name, 'signed in', '');
  return { person };
});

export const DELETE = route('anyone', null, async ({ store, request }) => {
  const asking = await whoAsks(request);
  if (asking?.by === 'cookie') recordAct(store.db, asking.person.name, 'signed out', '');
  (await session()).destroy();
  return {};
});
