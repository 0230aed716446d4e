import * as yup from 'yup';
import { thingNames, things, type ThingName } from '../../core/things/things';
import { tableFormats, mediaTypes } from '../../deliver/table';
import { notFound } from '../access/problem';
import { atMoments, atSurvey, oneOf, text, whole } from '../api/parameters';
import { route, type Route } from '../api/route';
import { momentsAsked, surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';
import { answerTable, largestPage, longestFilter } from '../query/tablePage';
import { dossierSchema, pageSchema, rowSchema } from './thingSchemas';

const most = 1e9;
const pageQuery = yup.object({
  ...atMoments,
  where: text('filter, in the language of tables', longestFilter).default(''),
  columns: text('fields, separated by commas', 2000),
  sort: text('fields, separated by commas; -field for descending', 2000).default(''),
  first: whole('only so many rows, in the order they are sorted', 1, most),
  page: whole('page, from 1', 1, most).default(1),
  size: whole('rows a page', 1, largestPage).default(100),
  count: text('fields whose values are to be counted', 2000),
  group: text('up to three fields, the outermost first: groups come with their counts and sums', 2000),
  format: oneOf(tableFormats, 'all rows as a file'),
  headings: oneOf(
    ['names', 'shown'] as const,
    'of CSV and XLSX: the names of the fields, or their headings as tables show them, with cells in one unit',
  ),
});
export type PageQuery = yup.InferType<typeof pageQuery>;

const oneWord = (name: ThingName) => name.replace(/s$/, '');
const missing = (name: ThingName, id: string, survey: number) =>
  notFound(`${oneWord(name)} “${id}” at survey ${survey}`);

const routesOf = (name: ThingName): Route[] => [
  route({
    method: 'GET',
    path: `/${name}`,
    role: 'viewer',
    summary: `${things[name].title} as of a survey`,
    query: pageQuery,
    answer: pageSchema(name),
    file: { mediaTypes: Object.values(mediaTypes), description: 'all rows that fit, where a format is asked for' },
    run: ({ store, query }) => answerTable(store, name, query),
  }) as Route,
  route({
    method: 'GET',
    path: `/${name}/{id}`,
    role: 'viewer',
    summary: `One of ${name}`,
    query: yup.object(atMoments),
    answer: rowSchema(name),
    run: async ({ store, params, query }) => {
      const { survey, against } = momentsAsked(store, query);
      const found = await tableAnswers(store).ask('row', name, survey, against, params.id);
      if (!found) throw missing(name, params.id, survey);
      return found;
    },
  }) as Route,
  route({
    method: 'GET',
    path: `/${name}/{id}/dossier`,
    role: 'viewer',
    summary: `One of ${name} with what is near it, what happened to it, and the checks it fails`,
    query: yup.object(atSurvey),
    answer: dossierSchema(name),
    run: async ({ store, params, query }) => {
      const survey = surveyAsked(store, query);
      const found = await tableAnswers(store).ask('thingDossier', name, survey, params.id);
      if (!found) throw missing(name, params.id, survey);
      return found;
    },
  }) as Route,
];

const deviceRoute = route({
  method: 'GET',
  path: '/devices/{id}',
  role: 'viewer',
  summary: 'A device with all that belongs to it',
  query: yup.object(atMoments),
  run: async ({ store, params, query }) => {
    const { survey } = momentsAsked(store, query);
    const found = await tableAnswers(store).ask('dossier', params.id, survey);
    if (!found) throw missing('devices', params.id, survey);
    return found;
  },
});

/** Every thing has the same three routes; one device is told with all that belongs to it. */
export const thingRoutes: Route[] = [
  deviceRoute,
  ...thingNames.flatMap(routesOf).filter(({ path }) => path !== deviceRoute.path),
];
