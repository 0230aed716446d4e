import * as yup from 'yup';
import { applicationSchema, type Application } from '../../core/applications/application';
import { readApplications } from '../../store/applications';
import { applicationEdits } from '../../store/edits/applications';
import { editVersion } from '../../store/edits/log';
import { notFound } from '../access/problem';
import { atSurvey, text } from '../api/parameters';
import { route, type Call } from '../api/route';
import { written } from '../edits/written';
import { surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';

const largest = 1024 * 1024;
const rulesSchema = yup
  .object({
    rules: (applicationSchema as unknown as yup.ObjectSchema<{ rules: Application['rules'] }>).fields
      .rules as yup.Schema<Application['rules']>,
  })
  .noUnknown();

/** @throws Problem where there is none */
function known({ store, params }: Pick<Call<'{id}'>, 'store' | 'params'>): Application {
  const found = applicationEdits.read(store.db, params.id, '');
  if (!found) throw notFound(`application ${params.id}`);
  return found;
}

/** Applications: what people put together of services and hosts, a round at a time. */
export const applicationRoutes = [
  route({
    method: 'GET',
    path: '/application-rules',
    role: 'viewer',
    summary: 'Applications as people wrote them, with the version they were read in',
    run: ({ store }) => {
      const rows = readApplications(store.db);
      return { rows, total: rows.length, version: editVersion(store.db) };
    },
  }),
  route({
    method: 'POST',
    path: '/applications',
    role: 'operator',
    summary: 'Begin an application',
    body: applicationSchema,
    largest,
    versioned: true,
    run: (call) => {
      const changes = [{ key: null, before: null, after: call.body }];
      const { key, edit, version } = written(call, applicationEdits, {
        act: 'began an application',
        words: call.body.name,
        changes,
      });
      return { id: Number(key), edit, version };
    },
  }),
  route({
    method: 'PUT',
    path: '/applications/{id}',
    role: 'operator',
    summary: 'Change an application: what is part of it, whose it is, how much of it must go on',
    body: applicationSchema,
    largest,
    versioned: true,
    run: (call) => {
      const before = known(call);
      const { edit, version } = written(call, applicationEdits, {
        act: 'changed an application',
        words: call.body.name,
        changes: [{ key: call.params.id, before, after: call.body }],
      });
      return { edit, version };
    },
  }),
  route({
    method: 'DELETE',
    path: '/applications/{id}',
    role: 'operator',
    summary: 'Take an application away',
    versioned: true,
    run: (call) => {
      const before = known(call);
      const { edit, version } = written(call, applicationEdits, {
        act: 'removed an application',
        words: before.name,
        changes: [{ key: call.params.id, before, after: null }],
      });
      return { edit, version };
    },
  }),
  route({
    method: 'GET',
    path: '/applications/{id}/round',
    role: 'viewer',
    summary: 'What an application is made of at a survey, and what talks with its parts and is not decided yet',
    query: yup.object(atSurvey),
    run: ({ store, query, params }) => {
      const survey = surveyAsked(store, query);
      const { rules } = known({ store, params });
      return tableAnswers(store).ask('roundOf', survey, rules);
    },
  }),
  route({
    method: 'GET',
    path: '/applications/{id}/versions',
    role: 'viewer',
    summary: 'How an application came to be what it is: by whom, when, and what was other than before',
    run: async ({ store, params }) => {
      known({ store, params });
      const rows = await tableAnswers(store).ask('applicationVersions', params.id);
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'GET',
    path: '/applications/{id}/strata',
    role: 'viewer',
    summary:
      'An application as strata: who uses it, its services, hosts, machines, and the switches and ports that carry them',
    query: yup.object(atSurvey),
    run: (call) =>
      tableAnswers(call.store).ask('strataAt', surveyAsked(call.store, call.query), call.params.id, known(call)),
  }),
  route({
    method: 'POST',
    path: '/applications/try',
    role: 'viewer',
    summary: 'What an application of these rules would be made of; nothing is saved',
    query: yup.object(atSurvey),
    body: rulesSchema,
    largest,
    run: ({ store, query, body }) => tableAnswers(store).ask('roundOf', surveyAsked(store, query), body.rules),
  }),
  route({
    method: 'GET',
    path: '/application-seeds',
    role: 'viewer',
    summary: 'Services that a word may mean: something to begin an application with',
    query: yup.object({ ...atSurvey, text: text('a word of an owner: a process, a host, what it is').default('') }),
    run: async ({ store, query }) => {
      const rows = await tableAnswers(store).ask('seedsFor', surveyAsked(store, query), query.text);
      return { rows, total: rows.length };
    },
  }),
];
