import * as yup from 'yup';
import { actWords } from '../../core/acting/portAct';
import { watchedName, watchedThings, type WatchedThing } from '../../core/watch/watchedChanges';
import type { Store } from '../../store/base/database';
import { recordAct } from '../../store/audit';
import { PortBusyError, queuePortAct, queuePortLook, readPortAct, recentPortActs } from '../../store/portActs';
import { addWatch, removeWatch, watchesOf } from '../../store/watches';
import { wayIn } from '../../store/wayIn';
import { invalid, notFound, Problem } from '../access/problem';
import { actOf, portActSchema } from './actSchema';
import { verdictOn, type HangingThere } from './hanging';
import { atMoments, atSurvey, text, whole } from '../api/parameters';
import { route } from '../api/route';
import { momentsAsked, newestSurvey, surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';
import { longestFilter } from '../query/tablePage';

const mostActs = 500;
const longestPort = 300;
const lookSchema = yup.object({ port: yup.string().required('Say which port').max(longestPort) }).noUnknown();
const unwatched = ({ value }: { value?: unknown }) =>
  `“${String(value)}” cannot be watched: use ${watchedThings.join(', ')}`;
const watchSchema = yup
  .object({
    thing: yup.string().oneOf(watchedThings, unwatched).required(),
    id: yup.string().required('Say which one').max(longestPort),
  })
  .noUnknown();

/** A port as it hangs in the newest survey. @throws Problem where there is none, or no way to act on its device */
async function portThere(store: Store, port: string): Promise<HangingThere> {
  const there = await tableAnswers(store).ask('hangingAt', port);
  if (!there) throw notFound(`port “${port}” in the newest survey`);
  const way = wayIn(store.db, there.deviceId);
  if ('reason' in way) {
    throw new Problem(
      409,
      'No way to act',
      `${way.reason.charAt(0).toUpperCase()}${way.reason.slice(1)}. ${way.remedy}`,
    );
  }
  return there;
}

/** Ports: where something is plugged in, reports, what is done to them, which are watched. */
export const portRoutes = [
  route({
    method: 'GET',
    path: '/places',
    role: 'viewer',
    summary: 'On which ports something is and was: a MAC in any notation, an address, a host or a serial',
    query: yup.object({ ...atSurvey, text: text('what is looked for').default('') }),
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      return { ...(await tableAnswers(store).ask('findPort', survey, query.text)), survey };
    },
  }),
  route({
    method: 'GET',
    path: '/reports/ports',
    role: 'viewer',
    summary: 'Ports of the switches that fit: how many are used, free and idle, what is attached, and how it is known',
    query: yup.object({
      ...atSurvey,
      where: text('which devices, in the filter language', longestFilter).default(''),
      idleDays: whole(
        'from how many days on a port that is down counts as idle',
        1,
        3650,
        'must be a whole number of days from 1 to 3650',
      ).default(30),
    }),
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      return { survey, ...(await tableAnswers(store).ask('portReport', survey, query.where, query.idleDays)) };
    },
  }),
  route({
    method: 'GET',
    path: '/acts',
    role: 'viewer',
    summary: 'What people did to ports, or to one of them, newest first',
    query: yup.object({
      port: text('only of this port: DEVICE:NAME', longestPort),
      size: whole('how many at most', 1, mostActs).default(20),
    }),
    run: ({ store, query: { port, size } }) => {
      const [, deviceId, name] = port === undefined ? [] : (/^(\d+):(.*)$/s.exec(port) ?? []);
      if (port !== undefined && name === undefined)
        throw invalid([{ path: 'port', message: `“${port}” is no port: write it as DEVICE:NAME` }]);
      const rows = recentPortActs(store.db, name === undefined ? {} : { deviceId: Number(deviceId), port: name }, size);
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'POST',
    path: '/acts/look',
    role: 'operator',
    summary:
      'What hangs on a port, and a job that asks the device how the port is now, by the credential that would act on it',
    body: lookSchema,
    run: async ({ store, person, body }) => {
      const there = await portThere(store, body.port);
      recordAct(store.db, person.name, 'looked at a port to act on it', `${there.device} ${there.port}`);
      return { jobId: queuePortLook(store.db, { deviceId: there.deviceId, port: there.port }), there };
    },
  }),
  route({
    method: 'POST',
    path: '/acts',
    role: 'operator',
    summary:
      'Act on a port: sent only if it still is as a look found it (seen); its name is typed where something hangs on it, force is for administrators and uplinks',
    body: portActSchema,
    run: async ({ store, person, body }) => {
      const act = actOf(body.act);
      const there = await portThere(store, body.port);
      const { refused, nameToType } = verdictOn(act, there);
      const forced = Boolean(body.force) && person.role === 'administrator';
      if (refused !== null && !forced)
        throw new Problem(403, 'An uplink', refused, [{ path: 'force', message: refused }]);
      if (nameToType !== null && body.name !== nameToType) {
        throw invalid([{ path: 'name', message: `Something hangs there: type “${nameToType}” to go on` }]);
      }
      if (body.undoes) {
        const undone = readPortAct(store.db, body.undoes);
        const same = undone && undone.deviceId === there.deviceId && undone.port === there.port;
        if (!same) throw invalid([{ path: 'undoes', message: 'That act was not done to this port' }]);
      }
      const words = `${there.device} ${there.port}: ${actWords(act)}${refused !== null ? ', though it is an uplink' : ''}`;
      recordAct(store.db, person.name, 'asked for an act on a port', words);
      const { deviceId, device, port } = there;
      try {
        return queuePortAct(store.db, {
          who: person.name,
          deviceId,
          device,
          port,
          act,
          forced: refused !== null,
          seen: body.seen,
          undoes: body.undoes ?? null,
        });
      } catch (error) {
        if (error instanceof PortBusyError) throw new Problem(409, 'Somebody is at work', `${error.message}.`);
        throw error;
      }
    },
  }),
  route({
    method: 'GET',
    path: '/acts/{id}',
    role: 'viewer',
    summary: 'One act on a port: what was sent, how it was read back, what came of it',
    run: ({ store, params }) => {
      const act = readPortAct(store.db, Number(params.id));
      if (!act) throw notFound(`act ${params.id}`);
      return act;
    },
  }),
  route({
    method: 'GET',
    path: '/watches',
    role: 'viewer',
    summary: 'What one watches, and what became of it since the survey before',
    query: yup.object(atMoments),
    run: async ({ store, person, query }) => {
      const { survey, against } = momentsAsked(store, query);
      const rows = await tableAnswers(store).ask('watchedNow', survey, against, watchesOf(store.db, person.id));
      return { rows, total: rows.length, survey };
    },
  }),
  route({
    method: 'POST',
    path: '/watches',
    role: 'viewer',
    summary: 'Watch a port or an endpoint',
    body: watchSchema,
    run: async ({ store, person, body }) => {
      // a token belongs to no person
      if (person.id === 0) throw new Problem(403, 'Not allowed', 'Only people watch: sign in.');
      const thing = body.thing as WatchedThing;
      const row = await tableAnswers(store).ask('row', thing, newestSurvey(store), null, body.id);
      if (!row) throw notFound(`${thing.replace(/s$/, '')} “${body.id}”`);
      const name = watchedName(thing, row);
      const id = addWatch(store.db, person.id, { thing, rowId: body.id, name });
      recordAct(store.db, person.name, 'watches', name);
      return { id };
    },
  }),
  route({
    method: 'DELETE',
    path: '/watches/{id}',
    role: 'viewer',
    summary: 'Watch it no more',
    run: ({ store, person, params }) => {
      const was = removeWatch(store.db, person.id, Number(params.id));
      if (!was) throw notFound(`watch ${params.id} of yours`);
      recordAct(store.db, person.name, 'watches no more', was.name);
      return { was: { thing: was.thing, id: was.rowId } };
    },
  }),
];
