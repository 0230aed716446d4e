import { endMaintenance } from '../../store/groups';
import { recordAct } from '../../store/people';
import { Problem } from '../access/problem';
import { route } from '../access/route';

export const POST = route('operator', null, ({ store, person, params }) => {
  const was = endMaintenance(store.db, Number(params.id));
  if (!was) throw new Problem(409, 'Nothing to end', 'There is no such maintenance, or it is over.');
  recordAct(store.db, person.name, 'ended maintenance', `${was.where}: ${was.reason}`);
  return { was };
});
