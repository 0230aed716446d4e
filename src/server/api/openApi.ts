import type * as yup from 'yup';
import answers from './answers.json' with { type: 'json' };
import type { JsonSchema } from './jsonSchema';
import type { MayCall, Route } from './route';
import { schemaOf } from './yupSchema';

/** What `scripts/describe-answers.mjs` found of the types that routes return: by route, and the named types they are made of. */
interface DescribedAnswers {
  routes: Record<string, JsonSchema>;
  types: Record<string, JsonSchema>;
}
const { routes: answerOf, types } = answers as unknown as DescribedAnswers;

const problem = (description: string) => ({
  description,
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
});
const problems = {
  400: problem('the request is not what it says: no JSON, no gzip'),
  401: problem('nobody is signed in'),
  403: problem('whoever asks may not, or the write came from a foreign page'),
  404: problem('there is no such thing'),
  409: problem('it is in use, was changed meanwhile, or is busy'),
  413: problem('the body is too large'),
  422: problem('mistakes, each at its field'),
};

const changedMeanwhile = problem('others wrote since it was read: `conflict` has both');

/** The API's description, OpenAPI 3.1, made from the table of routes. */
export function openApi(routes: readonly Route[]) {
  const paths: Record<string, Record<string, object>> = {};
  for (const route of routes) (paths[route.path] ??= {})[route.method.toLowerCase()] = operation(route);
  return {
    openapi: '3.1.0',
    info: {
      title: 'Bolide',
      version: '1',
      description: 'Everything the interface shows comes through these calls.',
      license: { name: 'Apache License 2.0', identifier: 'Apache-2.0' },
    },
    servers: [{ url: '/api/v1' }],
    paths,
    components: {
      securitySchemes: {
        bearer: { type: 'http', scheme: 'bearer' },
        cookie: { type: 'apiKey', in: 'cookie', name: 'bolide-session' },
      },
      schemas: { ...types, Problem: problemSchema },
    },
    security: [{ bearer: [] }, { cookie: [] }],
  };
}

const versionSeen = {
  name: 'If-Match',
  in: 'header',
  description: 'the `version` with which it was read: what others wrote since is not written over',
  schema: { type: 'string', pattern: '^(\\*|(W/)?"[0-9]+")$' },
};

const sentKey = {
  name: 'Idempotency-Key',
  in: 'header',
  description:
    'a key of one’s own for this write: sent again with it within ten minutes, it is not done again but gets the same answer',
  schema: { type: 'string', pattern: '^[A-Za-z0-9_-]{8,100}$' },
};

/** How a route is called in the description: `getContractsId`. */
const operationId = ({ method, path }: Route) =>
  method.toLowerCase() +
  path
    .split(/[^A-Za-z]+/)
    .map((word) => word.charAt(0).toUpperCase() + word.slice(1))
    .join('');

function operation(route: Route): object {
  const { method, summary, role, path } = route;
  const body = bodyOf(route);
  return {
    operationId: operationId(route),
    summary: `${summary} (${whoMay(role)})`,
    tags: [path.split('/')[1] ?? ''],
    'x-role': role,
    ...(role === 'anyone' && { security: [] }),
    parameters: [
      ...pathParameters(path),
      ...queryParameters(route.query),
      ...(route.versioned ? [versionSeen] : []),
      ...(method !== 'GET' && role !== 'anyone' ? [sentKey] : []),
    ],
    ...(body && { requestBody: body }),
    responses: { 200: answered(route), ...problemsOf(method, role), ...(route.versioned && { 412: changedMeanwhile }) },
  };
}

const whoMay = (role: MayCall) => (role === 'collector' ? 'collectors alone' : role);

function problemsOf(method: Route['method'], role: MayCall) {
  const { 401: signIn, 403: refused, 404: missing, 422: mistaken, ...ofWrites } = problems;
  const always = { 404: missing, 422: mistaken, ...(role !== 'anyone' && { 401: signIn, 403: refused }) };
  return method === 'GET' ? always : { ...always, 403: refused, ...ofWrites };
}

function pathParameters(path: string): object[] {
  return [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
    name,
    in: 'path',
    required: true,
    schema: { type: 'string' },
  }));
}

function queryParameters(query: Route['query']): object[] {
  if (!query) return [];
  const { properties = {}, required = [] } = schemaOf(query as yup.Schema);
  return Object.entries(properties).map(([name, { description, ...schema }]) => ({
    name,
    in: 'query',
    ...(description !== undefined && { description }),
    ...(required.includes(name) && { required: true }),
    schema,
  }));
}

function bodyOf({ body, bodySchema }: Route): object | null {
  if (!body) return null;
  if ('into' in body) {
    // octets have no schema but their media type (OpenAPI 3.1, “Considerations for Binary Data”)
    return { required: true, content: Object.fromEntries(body.mediaTypes.map((type) => [type, {}])) };
  }
  return { required: true, content: { 'application/json': { schema: bodySchema ?? schemaOf(body) } } };
}

function answered({ method, path, answer, file }: Route): object {
  const schema = answer ?? answerOf[`${method} ${path}`];
  const json = schema && { 'application/json': { schema } };
  const files = file && Object.fromEntries(file.mediaTypes.map((type) => [type.split(';')[0] ?? type, {}]));
  return { description: file?.description ?? 'done', content: { ...files, ...json } };
}

const problemSchema: JsonSchema = {
  type: 'object',
  description: 'a problem document (RFC 9457)',
  properties: {
    type: { type: 'string' },
    title: { type: 'string' },
    status: { type: 'integer' },
    detail: { type: 'string' },
    errors: {
      type: 'array',
      items: {
        type: 'object',
        properties: {
          path: { type: 'string', description: 'the field or parameter it is in' },
          message: { type: 'string' },
          at: { type: 'integer', description: 'in a filter: how many letters stand before the mistake' },
          expected: { type: 'string', description: 'in a filter: what would be right there' },
        },
        required: ['path', 'message'],
      },
    },
    conflict: {
      type: 'object',
      description: 'what others wrote meanwhile, beside what would have been written',
      properties: {
        version: { type: 'integer', description: 'the version that has what is told here' },
        values: {
          type: 'array',
          items: {
            type: 'object',
            properties: {
              key: { type: 'string' },
              field: { type: 'string' },
              called: { type: 'string' },
              mine: { description: 'what would have been written; null for nothing' },
              now: { description: 'what stands there; null for nothing' },
              who: { type: 'string' },
              at: { type: 'string' },
            },
            required: ['key', 'field', 'called', 'mine', 'now', 'who', 'at'],
          },
        },
      },
      required: ['version', 'values'],
    },
  },
  required: ['type', 'title', 'status', 'detail', 'errors'],
};
