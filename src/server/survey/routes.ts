import { rmSync } from 'node:fs';
import path from 'node:path';
import * as yup from 'yup';
import {
  BusyError,
  queueSurveyInTurn,
  waitingSurveys,
  readJob,
  requestCancel,
  requestJobCancel,
} from '../../store/jobs';
import { recordAct } from '../../store/audit';
import { listScopes } from '../../store/scopes';
import { unpackUpload, uploadFolder, UploadError } from '../../store/uploads';
import { notFound, Problem } from '../access/problem';
import { oneOf, text } from '../api/parameters';
import { asFile, megabytes, route } from '../api/route';
import { collectorRoutes } from './collectorRoutes';
import { credentialRoutes } from './credentialRoutes';
import { surveyEvents } from './events';
import { engineProblem } from '../health/health';
import { surveyList, surveyProgress } from './progress';
import { scopeRoutes } from './scopeRoutes';

const runSchema = yup.object({ scopeId: yup.number().integer().required('Say which scope') }).noUnknown();

/** One survey at a time: another one is told to wait. */
function queued(work: () => number): { jobId: number } {
  try {
    return { jobId: work() };
  } catch (error) {
    if (error instanceof BusyError) throw new Problem(409, 'Busy', error.message);
    throw error;
  }
}

/** Asking the equipment: what is asked, with which credentials, from where, and how it goes. */
export const surveyRoutes = [
  route({
    method: 'GET',
    path: '/surveys',
    role: 'viewer',
    summary: 'Surveys, newest first, and the one that is waiting or at work',
    run: ({ store }) => ({ ...surveyList(store.db), stopped: engineProblem(store) }),
  }),
  route({
    method: 'POST',
    path: '/surveys',
    role: 'operator',
    summary: 'Run a survey of a scope',
    body: runSchema,
    run: ({ store, person, body: { scopeId } }) => {
      const found = listScopes(store.db).find(({ id }) => id === scopeId);
      if (!found) throw notFound(`scope ${scopeId}`);
      const waited = waitingSurveys(store.db).map(({ id }) => id);
      const answer = queued(() => queueSurveyInTurn(store.db, { scopeId }));
      // asked for again while it waits, it runs once
      if (!waited.includes(answer.jobId)) recordAct(store.db, person.name, 'ran a survey', found.scope.name);
      return answer;
    },
  }),
  route({
    method: 'GET',
    path: '/surveys/{id}',
    role: 'viewer',
    summary: 'How far a survey is',
    run: ({ store, params }) => {
      const progress = surveyProgress(store.db, Number(params.id));
      if (!progress) throw notFound(`survey ${params.id}`);
      return progress;
    },
  }),
  route({
    method: 'GET',
    path: '/surveys/{id}/events',
    role: 'viewer',
    summary: 'Progress as server-sent events: `visits` with the rows that changed, `progress` with the whole',
    file: { mediaTypes: ['text/event-stream'], description: 'events until the survey ends' },
    run: ({ store, params, request }) => surveyEvents(store, Number(params.id), request),
  }),
  route({
    method: 'POST',
    path: '/surveys/{id}/cancel',
    role: 'operator',
    summary: 'Cancel a running survey',
    run: ({ store, person, params }) => {
      if (!requestCancel(store.db, Number(params.id)))
        throw new Problem(409, 'Not running', 'This survey is not running any more.');
      recordAct(store.db, person.name, 'cancelled a survey', params.id);
      return {};
    },
  }),
  route({
    method: 'POST',
    path: '/harvests',
    role: 'operator',
    summary: 'Survey files instead of the wire: a zip archive of walks or of Redfish trees',
    query: yup.object({
      format: oneOf(['walks', 'trees'], 'what the archive holds').default('walks'),
      name: text('how the survey is called').default(''),
    }),
    body: asFile('application/zip'),
    largest: megabytes(512),
    run: async ({ store, person, query: { format, name: wanted }, body: { file } }) => {
      const name = wanted.trim().slice(0, 60) || 'files';
      let upload: string;
      try {
        upload = await unpackUpload(store.folder, file);
      } catch (error) {
        if (!(error instanceof UploadError)) throw error;
        throw new Problem(422, 'No usable archive', `The file ${error.message}.`);
      }
      try {
        const answer = queued(() => queueSurveyInTurn(store.db, { upload, format, name }));
        recordAct(store.db, person.name, 'surveyed files', name);
        return answer;
      } catch (error) {
        rmSync(path.join(uploadFolder(store.folder), upload), { recursive: true, force: true });
        throw error;
      }
    },
  }),
  route({
    method: 'GET',
    path: '/jobs/{id}',
    role: 'operator',
    summary: 'How a job stands, and what it found out',
    run: ({ store, params }) => {
      const job = readJob(store.db, Number(params.id));
      if (!job) throw notFound(`job ${params.id}`);
      const { id, kind, state, error, result, surveyId, attempts, cancelRequested } = job;
      return { id, kind, state, error, result, surveyId, attempts, cancelRequested };
    },
  }),
  route({
    method: 'POST',
    path: '/jobs/{id}/cancel',
    role: 'operator',
    summary: 'Cancel a job; what is being sent to equipment is ended, not broken off',
    run: ({ store, person, params }) => {
      const id = Number(params.id);
      if (!requestJobCancel(store.db, id)) throw new Problem(409, 'Not running', 'This job is not running any more.');
      recordAct(store.db, person.name, 'cancelled a job', `${readJob(store.db, id)?.kind ?? ''} ${id}`);
      return {};
    },
  }),
  ...scopeRoutes,
  ...credentialRoutes,
  ...collectorRoutes,
];
