import { readPortAct } from '../../store/portActs';
import { notFound } from '../access/problem';
import { route } from '../access/route';

/** One act on a port: what was sent, and what came of it. */
export const GET = route('viewer', null, ({ store, params }) => {
  const act = readPortAct(store.db, Number(params.id));
  if (!act) throw notFound(`act ${params.id ?? ''}`);
  return act;
});
