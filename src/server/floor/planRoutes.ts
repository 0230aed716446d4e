import * as yup from 'yup';
import { line } from '../../core/values/line';
import { layoutMistakes, type PlanLayout, type Point } from '../../core/floor/floorPlan';
import type { Db } from '../../store/base/database';
import {
  addFloorPlan,
  deleteFloorPlan,
  listFloorPlans,
  readFloorPlan,
  readPicture,
  restoreFloorPlan,
  StalePlanError,
  writeFloorPlan,
} from '../../store/floorPlans';
import { recordAct } from '../../store/audit';
import { invalid, notFound, Problem } from '../access/problem';
import { atSurvey, text } from '../api/parameters';
import { megabytes, octets, route } from '../api/route';
import { surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';
import { largestPicture, pictureIn } from './picture';
import { whereabouts } from './planRows';

const longestSite = 60;
const longestName = 120;
const point = yup
  .array(yup.number().required())
  .length(2, 'A place is two numbers')
  .required() as unknown as yup.Schema<Point>;
const room = yup
  .object({ name: yup.string().required('A room needs a name'), corners: yup.array(point).max(200).required() })
  .noUnknown();
const mark = yup
  .object({
    kind: yup
      .string()
      .oneOf(['device', 'outlet'] as const)
      .required(),
    id: yup.number().integer().required(),
    at: point,
  })
  .noUnknown();
const planSchema = yup
  .object({
    site: line('The site').required('Say at which site it is').max(longestSite),
    name: line('The name').required('Give the plan a name').max(longestName),
    revision: yup
      .number()
      .integer()
      .required('Say which revision you saw')
      .meta({ description: 'the one that was seen when it was drawn on' }),
    rooms: yup.array(room).required(),
    marks: yup.array(mark).required(),
  })
  .noUnknown();
const picture = octets('image/png', 'image/jpeg');

/** Floor plans: a picture with rooms and marks over it. */
export const planRoutes = [
  route({
    method: 'GET',
    path: '/plans',
    role: 'viewer',
    summary: 'Floor plans, without their pictures',
    run: ({ store }) => {
      const rows = listFloorPlans(store.db).map(({ layout, ...plan }) => ({
        ...plan,
        rooms: layout.rooms.length,
        marks: layout.marks.length,
      }));
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'POST',
    path: '/plans',
    role: 'operator',
    summary: 'Add a floor plan; the body is its picture, PNG or JPEG',
    query: yup.object({
      site: text('at which site').trim().required('Say at which site it is').max(longestSite, tooLong(longestSite)),
      name: text('how it is called').trim().required('Give the plan a name').max(longestName, tooLong(longestName)),
    }),
    body: picture,
    largest: largestPicture,
    run: ({ store, person, query: { site, name }, body }) => {
      if (isTaken(store.db, site, name, null)) throw invalid([taken(site, name)]);
      const id = addFloorPlan(store.db, { site, name, who: person.name, ...pictureIn(body) });
      recordAct(store.db, person.name, 'added a floor plan', `${name} of ${site}`);
      return { id };
    },
  }),
  route({
    method: 'GET',
    path: '/plans/where',
    role: 'viewer',
    summary: 'The outlet a port leads to, and the plans on which it or the device stands',
    query: yup.object({ device: text('number of a device', 20), port: text('DEVICE:NAME', 300) }),
    run: ({ store, query }) => {
      const device = /^(\d+)$/.exec(query.device ?? '')?.[1];
      if (device !== undefined) return whereabouts(store, Number(device), null);
      const [, ofPort, name] = /^(\d+):(.+)$/s.exec(query.port ?? '') ?? [];
      if (name === undefined) {
        throw invalid([{ path: 'port', message: 'Say which device (device=ID) or port (port=ID:NAME)' }]);
      }
      return whereabouts(store, Number(ofPort), name);
    },
  }),
  route({
    method: 'GET',
    path: '/plans/{id}',
    role: 'viewer',
    summary: 'A floor plan, and how what stands on it is at a survey',
    query: yup.object(atSurvey),
    run: async ({ store, params, query }) => {
      const plan = planNumbered(store.db, params.id);
      const survey = surveyAsked(store, query);
      return { plan, ...(await tableAnswers(store).ask('planStanding', survey, plan.layout)), survey };
    },
  }),
  route({
    method: 'PUT',
    path: '/plans/{id}',
    role: 'operator',
    summary: 'Draw on a floor plan; places are parts of its width and height',
    body: planSchema,
    largest: megabytes(2),
    run: ({ store, person, params, body: { site, name, revision, rooms, marks } }) => {
      const { id } = planNumbered(store.db, params.id);
      const layout: PlanLayout = { rooms: rooms.map((one) => ({ ...one, name: one.name.trim() })), marks };
      const mistakes = layoutMistakes(layout);
      if (isTaken(store.db, site, name, id)) mistakes.push(taken(site, name));
      if (mistakes.length > 0) throw invalid(mistakes);
      const again = 'nothing was written. Open it again, and draw once more.';
      const written = unlessStale(again, () =>
        writeFloorPlan(store.db, id, revision, person.name, { site, name, layout }),
      );
      recordAct(store.db, person.name, 'drew on a floor plan', `${name} of ${site}`);
      return { revision: written };
    },
  }),
  route({
    method: 'DELETE',
    path: '/plans/{id}',
    role: 'operator',
    summary: 'Delete a floor plan',
    run: ({ store, person, params }) => {
      const name = deleteFloorPlan(store.db, Number(params.id));
      if (name === null) throw notFound(`floor plan ${params.id}`);
      recordAct(store.db, person.name, 'deleted a floor plan', name);
      return { name };
    },
  }),
  route({
    method: 'POST',
    path: '/plans/{id}/restore',
    role: 'operator',
    summary: 'Bring a deleted floor plan back',
    run: ({ store, person, params }) => {
      const name = restoreFloorPlan(store.db, Number(params.id));
      if (name === null) throw notFound(`deleted floor plan ${params.id}`);
      recordAct(store.db, person.name, 'brought a floor plan back', name);
      return { name };
    },
  }),
  route({
    method: 'GET',
    path: '/plans/{id}/picture',
    role: 'viewer',
    summary: 'The picture of a floor plan; its address carries the revision, so that it is fetched once for each',
    query: yup.object({ revision: text('which one is wanted, for caches', 20) }),
    file: { mediaTypes: ['image/png', 'image/jpeg'], description: 'the picture' },
    run: ({ store, params }) => {
      const found = readPicture(store.db, Number(params.id));
      if (!found) throw notFound(`floor plan ${params.id}`);
      return new Response(new Uint8Array(found.picture), {
        headers: {
          'content-type': found.mediaType,
          'cache-control': 'private, max-age=86400',
          'x-content-type-options': 'nosniff',
        },
      });
    },
  }),
  route({
    method: 'PUT',
    path: '/plans/{id}/picture',
    role: 'operator',
    summary: 'Another picture of the same floor, under what is drawn',
    body: picture,
    largest: largestPicture,
    run: ({ store, person, params, body }) => {
      const plan = planNumbered(store.db, params.id);
      const given = pictureIn(body);
      const revision = unlessStale('try again.', () =>
        writeFloorPlan(store.db, plan.id, plan.revision, person.name, given),
      );
      recordAct(store.db, person.name, 'changed the picture of a floor plan', `${plan.name} of ${plan.site}`);
      return { revision };
    },
  }),
];

function planNumbered(db: Db, id: string): NonNullable<ReturnType<typeof readFloorPlan>> {
  const plan = readFloorPlan(db, Number(id));
  if (!plan) throw notFound(`floor plan ${id}`);
  return plan;
}

function tooLong(most: number) {
  return ({ value }: { value?: unknown }) => `has ${String(value).length} characters; ${most} at most`;
}

function isTaken(db: Db, site: string, name: string, id: number | null): boolean {
  const same = (one: string, other: string) => one.toLowerCase() === other.toLowerCase();
  return listFloorPlans(db).some((plan) => plan.id !== id && same(plan.site, site) && same(plan.name, name));
}

const taken = (site: string, name: string) => ({ path: 'name', message: `${site} has a plan “${name}” already` });

function unlessStale<Answer>(whatNow: string, work: () => Answer): Answer {
  try {
    return work();
  } catch (error) {
    if (!(error instanceof StalePlanError)) throw error;
    const { message } = error;
    throw new Problem(409, 'Changed meanwhile', `${message}: ${whatNow}`, [{ path: 'revision', message }]);
  }
}
