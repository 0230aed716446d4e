import * as yup from 'yup';
import { layoutMistakes, type Point, type PlanLayout } from '../../core/floor/floorPlan';
import { deleteFloorPlan, listFloorPlans, readFloorPlan, StalePlanError, writeFloorPlan } from '../../store/floorPlans';
import { recordAct } from '../../store/people';
import { line } from '../access/line';
import { invalid, notFound, Problem } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { surveyNumber } from '../things/moment';

const point = yup
  .array(yup.number().required())
  .length(2, 'A place is two numbers')
  .required() as unknown as yup.Schema<Point>;
const planSchema = yup
  .object({
    site: line('The site').required('Say at which site it is').max(60),
    name: line('The name').required('Give the plan a name').max(120),
    /** the one that was seen when it was drawn on */
    revision: yup.number().integer().required('Say which revision you saw'),
    rooms: yup
      .array(
        yup
          .object({ name: yup.string().required('A room needs a name'), corners: yup.array(point).max(200).required() })
          .noUnknown(),
      )
      .required(),
    marks: yup
      .array(
        yup
          .object({
            kind: yup
              .string()
              .oneOf(['device', 'outlet'] as const)
              .required(),
            id: yup.number().integer().required(),
            at: point,
          })
          .noUnknown(),
      )
      .required(),
  })
  .noUnknown();

/** A plan, and how what stands on it is at a survey. */
export const GET = route('viewer', null, async ({ store, params, url }) => {
  const plan = readFloorPlan(store.db, Number(params.id));
  if (!plan) throw notFound(`floor plan ${params.id ?? ''}`);
  const survey = surveyNumber(store.db, url.searchParams.get('survey'));
  if (survey === null)
    throw invalid([{ path: 'survey', message: `There is no sealed survey “${url.searchParams.get('survey') ?? ''}”` }]);
  return { plan, ...(await tableAnswers(store).ask('planStanding', survey, plan.layout)), survey };
});

export const PUT = route(
  'operator',
  planSchema,
  ({ store, person, params, body: { site, name, revision, rooms, marks } }) => {
    const id = Number(params.id);
    if (!readFloorPlan(store.db, id)) throw notFound(`floor plan ${params.id ?? ''}`);
    const layout: PlanLayout = { rooms: rooms.map((room) => ({ ...room, name: room.name.trim() })), marks };
    const mistakes = layoutMistakes(layout);
    if (
      listFloorPlans(store.db).some(
        (plan) =>
          plan.id !== id &&
          plan.site.toLowerCase() === site.toLowerCase() &&
          plan.name.toLowerCase() === name.toLowerCase(),
      )
    )
      mistakes.push({ path: 'name', message: `${site} has a plan “${name}” already` });
    if (mistakes.length > 0) throw invalid(mistakes);
    try {
      const written = writeFloorPlan(store.db, id, revision, person.name, { site, name, layout });
      recordAct(store.db, person.name, 'drew on a floor plan', `${name} of ${site}`);
      return { revision: written };
    } catch (error) {
      if (error instanceof StalePlanError)
        throw new Problem(
          409,
          'Changed meanwhile',
          `${error.message}: nothing was written. Open it again, and draw once more.`,
          [{ path: 'revision', message: error.message }],
        );
      throw error;
    }
  },
  { largest: 2 * 1024 * 1024 },
);

export const DELETE = route('operator', null, ({ store, person, params }) => {
  const name = deleteFloorPlan(store.db, Number(params.id));
  if (name === null) throw notFound(`floor plan ${params.id ?? ''}`);
  recordAct(store.db, person.name, 'deleted a floor plan', name);
  return { name };
});
