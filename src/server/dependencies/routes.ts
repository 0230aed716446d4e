import * as yup from 'yup';
import { serviceRuleSchema, ServiceRules, type ServiceRule } from '../../core/services/serviceRule';
import { editVersion } from '../../store/edits/log';
import { serviceRuleEdits } from '../../store/edits/serviceRules';
import { deliveredServiceRules, ownServiceRules } from '../../store/serviceRules';
import { invalid, notFound } from '../access/problem';
import { atSurvey, oneOf, text, whole } from '../api/parameters';
import { route } from '../api/route';
import { written } from '../edits/written';
import { newestSurvey, surveyAsked } from '../query/momentsAsked';
import { longestFilter } from '../query/tablePage';
import { tableAnswers } from '../query/thread/tableAnswers';
import { matrixGroups } from './matrixGroups';

const mostNamed = 200;
const longestNames = 8000;
const longestName = 400;
const namesWords =
  'names of devices, machines, services, endpoints or applications, MACs or addresses; device:NUMBER, site:CODE, group:NAME or a network, with commas between them';

/** Names as a request writes them. @throws Problem where there is none, or very many */
function namesAsked(path: string, written: string): string[] {
  const names = written
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean);
  if (names.length === 0) throw invalid([{ path, message: 'name at least one thing' }]);
  if (names.length > mostNamed) throw invalid([{ path, message: `no more than ${mostNamed} at once` }]);
  return names;
}

/** The name of one thing; it may have commas in it. @throws Problem where there is none */
function nameAsked(path: string, written: string): string {
  const name = written.trim();
  if (!name) throw invalid([{ path, message: 'name one thing' }]);
  return name;
}

/** An answer, or a problem with each mistake at its parameter. */
function orInvalid<Answer extends object>(path: string, answer: Answer | { mistakes: string[] }): Answer {
  if ('mistakes' in answer) throw invalid(answer.mistakes.map((message) => ({ path, message })));
  return answer;
}

/** Who rests on whom: what an outage would cost, what one comes from, and what services are. */
export const dependencyRoutes = [
  route({
    method: 'GET',
    path: '/rehearsal',
    role: 'viewer',
    summary: 'What is lost, what loses its spare and what is untouched if some things go down',
    query: yup.object({
      ...atSurvey,
      down: text(namesWords, longestNames).default(''),
      endpoints: oneOf(['yes', 'no'], 'whether endpoints are told one by one').default('yes'),
    }),
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      const down = namesAsked('down', query.down);
      const answer = orInvalid('down', await tableAnswers(store).ask('rehearsalOf', survey, down));
      if (query.endpoints === 'yes') return answer;
      const rest = <Row extends { kind: string }>(rows: Row[]) => rows.filter(({ kind }) => kind !== 'endpoint');
      return { ...answer, lost: rest(answer.lost), degraded: rest(answer.degraded) };
    },
  }),
  route({
    method: 'GET',
    path: '/suspects',
    role: 'viewer',
    summary: 'Ranked common causes of what is down or slow',
    query: yup.object({
      ...atSurvey,
      down: text(namesWords, longestNames).default(''),
      slow: text('what goes on, but badly; named likewise', longestNames).default(''),
    }),
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      const slow = query.slow.trim() === '' ? [] : namesAsked('slow', query.slow);
      const down = query.down.trim() === '' && slow.length > 0 ? [] : namesAsked('down', query.down);
      const answer = orInvalid('down', await tableAnswers(store).ask('suspicionOf', survey, down, slow));
      return { ...answer, total: answer.rows.length };
    },
  }),
  route({
    method: 'GET',
    path: '/single-stops',
    role: 'viewer',
    summary:
      'What stands alone over the whole estate, what costs most if it goes first: by application and criticality, then by devices and endpoints',
    query: yup.object(atSurvey),
    run: async ({ store, query }) => {
      const answer = await tableAnswers(store).ask('singleStopRows', surveyAsked(store, query));
      return { ...answer, total: answer.rows.length };
    },
  }),
  route({
    method: 'GET',
    path: '/stoppers',
    role: 'viewer',
    summary: 'The smallest sets whose loss stops one thing: alone, and in pairs',
    query: yup.object({ ...atSurvey, of: text('the thing, named as in a rehearsal', longestName).default('') }),
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      const of = nameAsked('of', query.of);
      return orInvalid('of', await tableAnswers(store).ask('stoppersNamed', survey, of));
    },
  }),
  route({
    method: 'GET',
    path: '/rests-on',
    role: 'viewer',
    summary:
      'What one thing rests on, one step far: in which way, how many of whom, how each is known and when that was seen last',
    query: yup.object({ ...atSurvey, of: text('the thing, named as in a rehearsal', longestName).default('') }),
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      const of = nameAsked('of', query.of);
      return orInvalid('of', await tableAnswers(store).ask('restsOnTold', survey, of));
    },
  }),
  route({
    method: 'GET',
    path: '/talk-matrix',
    role: 'viewer',
    summary:
      'Who asks whom, by site, network, kind, application, circle or group, in an order that brings what belongs together near',
    query: yup.object({
      ...atSurvey,
      by: oneOf(matrixGroups, 'by what both ends are put together').default('site'),
      where: text('which conversations, in the filter language', longestFilter).default(''),
      days: whole('only those heard within so many days before the survey', 1, 3650),
    }),
    run: ({ store, query }) =>
      tableAnswers(store).ask('matrixOf', surveyAsked(store, query), query.by, query.where, query.days ?? null),
  }),
  route({
    method: 'GET',
    path: '/talk-days',
    role: 'viewer',
    summary: 'On each of the last 64 days: how many conversations were heard, of those that a filter holds',
    query: yup.object({
      ...atSurvey,
      where: text('which conversations, in the filter language', longestFilter).default(''),
    }),
    run: async ({ store, query }) => {
      const rows = await tableAnswers(store).ask('talkDays', surveyAsked(store, query), query.where);
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'GET',
    path: '/talk-circles',
    role: 'viewer',
    summary: 'Hosts that belong together because they talk, with what they say, and what everybody asks',
    query: yup.object(atSurvey),
    run: ({ store, query }) => tableAnswers(store).ask('circlesTold', surveyAsked(store, query)),
  }),
  route({
    method: 'GET',
    path: '/service-groups',
    role: 'viewer',
    summary: 'Services with all their instances, listeners and clients; those that no rule explains first',
    query: yup.object(atSurvey),
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      return { ...(await tableAnswers(store).ask('serviceGroups', survey)), survey };
    },
  }),
  route({
    method: 'GET',
    path: '/service-rules',
    role: 'viewer',
    summary: 'Rules by which services are recognised, in their order, with how many listeners each knows now',
    run: async ({ store }) => {
      const version = editVersion(store.db);
      const own = new Map(ownServiceRules(store.db).map((rule) => [rule.id, rule]));
      const delivered = deliveredServiceRules().filter(({ id }) => !own.has(id));
      const page = await tableAnswers(store).ask('servicesByRule', newestSurvey(store));
      const counts = new Map(page);
      const rows = new ServiceRules([...delivered, ...own.values()]).rules.map((rule) => ({
        ...rule,
        isOwn: own.has(rule.id),
        listeners: counts.get(rule.id) ?? 0,
      }));
      return { rows, total: rows.length, unexplained: counts.get('') ?? 0, version };
    },
  }),
  route({
    method: 'PUT',
    path: '/service-rules/{id}',
    role: 'operator',
    summary: 'Write a rule; it takes the place of the program’s own of that id',
    body: serviceRuleSchema,
    versioned: true,
    run: (call) => {
      const { store, params, body } = call;
      if (body.id !== params.id) throw invalid([{ path: 'id', message: 'must be the id in the address' }]);
      const before = serviceRuleEdits.read(store.db, body.id, '');
      const { edit, version } = written(call, serviceRuleEdits, {
        act: before ? 'changed a service rule' : 'wrote a service rule',
        words: body.name,
        changes: [{ key: before ? body.id : null, before, after: body }],
      });
      return { id: body.id, edit, version };
    },
  }),
  route({
    method: 'DELETE',
    path: '/service-rules/{id}',
    role: 'operator',
    summary: 'Take a rule of one’s own away; the program’s own of that id holds again',
    versioned: true,
    run: (call) => {
      const before = serviceRuleEdits.read(call.store.db, call.params.id, '');
      if (!before) throw notFound(`service rule ${call.params.id}`);
      const changes = [{ key: before.id, before, after: null }];
      const { edit, version } = written(call, serviceRuleEdits, {
        act: 'removed a service rule',
        words: before.name,
        changes,
      });
      return { edit, version };
    },
  }),
  route({
    method: 'POST',
    path: '/service-rules/try',
    role: 'operator',
    summary: 'Which known listeners a rule fits; nothing is saved',
    body: serviceRuleSchema as yup.Schema<ServiceRule>,
    run: ({ store, body }) => tableAnswers(store).ask('ruleTrial', newestSurvey(store), body),
  }),
];
