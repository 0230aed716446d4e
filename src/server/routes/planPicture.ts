import { readFloorPlan, readPicture, StalePlanError, writeFloorPlan } from '../../store/floorPlans';
import { recordAct } from '../../store/people';
import { notFound, Problem } from '../access/problem';
import { route } from '../access/route';
import { pictureGiven } from '../floor/pictureGiven';

/** The picture of a plan. It is fetched once for each revision: the address carries it. */
export const GET = route('viewer', null, ({ store, params }) => {
  const found = readPicture(store.db, Number(params.id));
  if (!found) throw notFound(`floor plan ${params.id ?? ''}`);
  return new Response(new Uint8Array(found.picture), {
    headers: {
      'content-type': found.mediaType,
      'cache-control': 'private, max-age=86400',
      'x-content-type-options': 'nosniff',
    },
  });
});

/** Another picture under what is drawn, of the same floor. */
export const PUT = route('operator', null, async ({ store, person, params, request }) => {
  const plan = readFloorPlan(store.db, Number(params.id));
  if (!plan) throw notFound(`floor plan ${params.id ?? ''}`);
  const given = await pictureGiven(request);
  try {
    const revision = writeFloorPlan(store.db, plan.id, plan.revision, person.name, given);
    recordAct(store.db, person.name, 'changed the picture of a floor plan', `${plan.name} of ${plan.site}`);
    return { revision };
  } catch (error) {
    if (error instanceof StalePlanError) throw new Problem(409, 'Changed meanwhile', `${error.message}: try again.`);
    throw error;
  }
});
