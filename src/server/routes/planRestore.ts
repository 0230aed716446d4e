import { restoreFloorPlan } from '../../store/floorPlans';
import { recordAct } from '../../store/people';
import { notFound } from '../access/problem';
import { route } from '../access/route';

export const POST = route('operator', null, ({ store, person, params }) => {
  const name = restoreFloorPlan(store.db, Number(params.id));
  if (name === null) throw notFound(`deleted floor plan ${params.id ?? ''}`);
  recordAct(store.db, person.name, 'brought a floor plan back', name);
  return { name };
});
