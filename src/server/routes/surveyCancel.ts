import { Problem } from '../access/problem';
import { route } from '../access/route';
import { requestCancel } from '../../store/jobs';
import { recordAct } from '../../store/people';

export const POST = route('operator', null, ({ store, person, params }) => {
  if (!requestCancel(store.db, Number(params.id)))
    throw new Problem(409, 'Not running', 'This survey is not running any more.');
  recordAct(store.db, person.name, 'cancelled a survey', params.id ?? '');
  return {};
});
