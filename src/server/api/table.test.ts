import { afterAll, beforeAll, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { Validator } from '@seriousme/openapi-schema-validator';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import * as yup from 'yup';
import { addPerson, type TokenRole } from '../../store/people';
import { listActs } from '../../store/audit';
import { openStore, type Store } from '../../store/base/database';
import { seedCatalogue } from '../../store/programFiles';
import { signedIn } from '../access/session';
import { apiOf } from '../testing/apiOf';
import { openApi } from './openApi';
import { route, usualLargest, type MayCall, type Route } from './route';
import { allRoutes } from './routes';
import { schemaOf } from './yupSchema';

let folder: string;
let store: Store;
let api: ReturnType<typeof apiOf>;

beforeAll(() => {
  process.env.BOLIDE_ORIGINS = 'http://bolide.test';
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-table-'));
  store = openStore(folder);
  seedCatalogue(store);
  api = apiOf(store);
});
afterAll(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

const named = allRoutes.map((one) => [`${one.method} ${one.path}`, one] as const);
const writing = named.filter(([, { method }]) => method !== 'GET');
/** An address of the route at which there is nothing. */
const lineOf = ({ method, path: at, query }: Route) => {
  const needed = query ? (schemaOf(query).required ?? []) : [];
  return `${method} ${at.replace(/\{\w+\}/g, '0')}?${needed.map((name) => `${name}=x`).join('&')}`;
};
/** A body that no route takes, so that nothing is done. */
const nothing = ({ method, body }: Route) => (method === 'GET' || !body ? {} : { body: {} });

const mayOf: Record<MayCall, TokenRole[]> = {
  anyone: ['viewer', 'operator', 'administrator', 'collector'],
  viewer: ['viewer', 'operator', 'administrator'],
  operator: ['operator', 'administrator'],
  administrator: ['administrator'],
  collector: ['collector'],
};

describe('every route', () => {
  test('there are enough of them, each once', () => {
    expect(named.length).toBeGreaterThan(150);
    expect(new Set(named.map(([name]) => name)).size).toBe(named.length);
  });
  test.each(named)('%s: knows who may', async (_, one) => {
    const line = lineOf(one);
    const unknown = await api.call(null, line, nothing(one));
    expect(unknown.status === 401).toBe(one.role !== 'anyone');
    for (const role of ['viewer', 'operator', 'administrator', 'collector'] as const) {
      const response = await api.send(role, line, nothing(one));
      expect([role, response.status === 403]).toEqual([role, !mayOf[one.role].includes(role)]);
      if (response.status !== 403) continue;
      const words = expect.stringMatching(`you are ${role}|Only a collector`);
      expect(await response.json()).toMatchObject({ title: 'Not allowed', detail: words });
    }
  });
  test.each(named)('%s: refuses a parameter it does not know, by name', async (_, one) => {
    const [role] = mayOf[one.role].slice(-1);
    const { status, body } = await api.call(role ?? null, `${lineOf(one)}&colour=red`, nothing(one));
    expect([status, body.errors?.[0]]).toEqual([
      422,
      { path: 'colour', message: expect.stringMatching(/^is no parameter: /) },
    ]);
  });
});

describe('every route that writes', () => {
  let cookie: string;
  let id: number;
  beforeAll(async () => {
    ({ id } = await addPerson(store.db, 'marla', 'ostermere-lights', 'administrator'));
  });
  // some of the routes end the session
  beforeEach(async () => {
    cookie = (await signedIn(id, new Request('http://bolide.test'))).split(';')[0] ?? '';
  });
  const byCookie = (one: Route, headers: Record<string, string>) =>
    api.call(null, lineOf(one), { ...nothing(one), headers: { authorization: '', cookie, ...headers } });

  test.each(writing.filter(([, { role }]) => role !== 'collector'))(
    '%s: comes from a page of ours, where a cookie lets it in',
    async (_, one) => {
      const host = 'bolide.test';
      const foreign: Record<string, string>[] = [
        { host },
        { host, origin: 'http://elsewhere.test' },
        { host, origin: 'null' },
        { host, origin: 'http://bolide.test.elsewhere.test' },
        { host, origin: 'http://bolide.test:8080' },
      ];
      for (const headers of foreign) {
        expect(await byCookie(one, headers)).toMatchObject({ status: 403, body: { title: 'Foreign origin' } });
      }
      const own = await byCookie(one, { host, origin: 'http://bolide.test' });
      expect(own.body.title).not.toBe('Foreign origin');
    },
  );
});

describe('every body', () => {
  const withBody = named.filter(([, { body }]) => body);
  const json = withBody.filter(([, { body }]) => body && !('into' in body));
  const by = (one: Route) => mayOf[one.role].slice(-1)[0] ?? null;
  /** A kind of the body where it depends on what it holds. */
  const known = ({ bodySchema }: Route): object => {
    const kinds = bodySchema?.anyOf?.[0]?.properties?.kind?.enum;
    return kinds ? { kind: kinds[0] } : {};
  };

  test.each(json)('%s: refuses a field it does not know, by name', async (_, one) => {
    const { status, body } = await api.call(by(one), lineOf(one), { body: { ...known(one), colour: 'red' } });
    expect(status).toBe(422);
    expect(body.errors).toContainEqual({ path: 'colour', message: 'There is no field “colour” here' });
  });
  test.each(json)('%s: refuses what is no JSON', async (_, one) => {
    const answer = await api.call(by(one), lineOf(one), { body: '{"colour":' });
    expect(answer).toMatchObject({ status: 400, body: { title: 'Not JSON' } });
  });
  test.each(withBody)('%s: refuses a body that says it is too large before a letter of it', async (_, one) => {
    const headers = { 'content-length': String((one.largest ?? usualLargest) + 1) };
    const answer = await api.call(by(one), lineOf(one), { body: '', headers });
    expect(answer).toMatchObject({
      status: 413,
      body: { title: 'Too large', detail: expect.stringMatching(/\d [kM]B/) },
    });
  });
  // those of hundreds of megabytes go the same way
  const small = withBody.filter(([, { largest = usualLargest }]) => largest <= 4 * 1024 * 1024);
  test.each(small)('%s: refuses a body that grows too large while it arrives', async (_, one) => {
    const largest = one.largest ?? usualLargest;
    let sent = 0;
    const part = new Uint8Array(64 * 1024).fill(32);
    const endless = new ReadableStream<Uint8Array>({
      pull(controller) {
        sent += part.length;
        controller.enqueue(part);
      },
    });
    const request = new Request(`http://bolide.test/api/v1${lineOf(one).split(' ')[1] ?? ''}`, {
      method: one.method,
      headers: { authorization: `Bearer ${api.tokens[by(one) ?? 'administrator']}` },
      body: endless,
      duplex: 'half',
    } as RequestInit);
    const { answerRequest } = await import('./answer');
    expect((await answerRequest(request)).status).toBe(413);
    expect(sent).toBeLessThanOrEqual(largest + 3 * part.length);
  });
  test('whose sender goes away is no failure of ours, and nothing is logged', async () => {
    const log = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const request = new Request('http://bolide.test/api/v1/session', {
      method: 'POST',
      headers: { origin: 'http://bolide.test' },
      body: new ReadableStream({
        pull: (sink) => {
          sink.error(new Error('aborted'));
        },
      }),
      duplex: 'half',
    } as RequestInit);
    const { answerRequest } = await import('./answer');
    const answer = await answerRequest(request);
    expect([answer.status, await answer.json()]).toMatchObject([400, { title: 'Broken off' }]);
    expect(log).not.toHaveBeenCalled();
    log.mockRestore();
  });
});

describe('the gate', () => {
  const own = [
    route({
      method: 'GET',
      path: '/broken',
      role: 'viewer',
      summary: 'Breaks',
      run: () => {
        throw new Error('secret of the inside');
      },
    }),
    route({
      method: 'POST',
      path: '/echo/{id}',
      role: 'viewer',
      summary: 'Says what it was given',
      query: yup.object({ q: yup.string() }),
      body: yup.object({ a: yup.number().required() }),
      run: ({ person, body, params, query }) => ({ who: person.name, a: body.a, id: params.id, q: query.q }),
    }),
    route({ method: 'GET', path: '/echo/fixed', role: 'viewer', summary: 'Fixed', run: () => ({ id: 'by name' }) }),
    route({
      method: 'GET',
      path: '/echo/{id}',
      role: 'viewer',
      summary: 'By id',
      run: ({ params }) => ({ id: params.id }),
    }),
  ];
  const small = () => {
    const other = openStore(mkdtempSync(path.join(folder, 'small-')));
    return apiOf(other, own);
  };
  test('tells nothing of what breaks inside, and logs it', async () => {
    const log = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const { status, body } = await small().call('viewer', 'GET /broken');
    expect([status, JSON.stringify(body)]).toEqual([500, expect.not.stringContaining('secret of the inside')]);
    const line = expect.stringContaining('GET /api/v1/broken');
    expect(log).toHaveBeenCalledWith(line, expect.stringContaining('secret of the inside'));
    log.mockRestore();
  });
  test('gives a route what it read: the person, the body, the place', async () => {
    const { body } = await small().call('operator', 'POST /echo/7?q=x', { body: { a: 5 } });
    expect(body).toEqual({ who: 'token operator', a: 5, id: '7', q: 'x' });
  });
  test('finds a path by name before one with a name in braces, and decodes what stands there', async () => {
    const { call } = small();
    expect((await call('viewer', 'GET /echo/fixed')).body).toEqual({ id: 'by name' });
    expect((await call('viewer', 'GET /echo/12%3A1%2F0%2F3')).body).toEqual({ id: '12:1/0/3' });
    expect((await call('viewer', 'GET /echo/%E0%A4')).status).toBe(400);
  });
  test('says which methods a path takes, and what there is where nothing is', async () => {
    const { call } = small();
    const { status, headers, body } = await call('viewer', 'DELETE /echo/7');
    expect([status, headers.get('allow'), body.title]).toEqual([405, 'GET, POST', 'Not done here']);
    const nowhere = await call('viewer', 'GET /cables');
    expect(nowhere).toMatchObject({ status: 404, body: { detail: expect.stringContaining('devices') } });
  });
});

describe('the description of the API', () => {
  test('is OpenAPI 3.1, by the schema of the OpenAPI Initiative', async () => {
    const description = JSON.parse(JSON.stringify(openApi(allRoutes))) as Record<string, unknown>;
    const { valid, errors } = await new Validator().validate(description);
    expect(errors ?? []).toEqual([]);
    expect(valid).toBe(true);
  });
  test('names every route once, with the bodies it takes and how it answers', () => {
    const { paths } = openApi(allRoutes);
    const operations = Object.entries(paths).flatMap(([at, methods]) =>
      Object.entries(methods).map(([method, operation]) => [`${method.toUpperCase()} ${at}`, operation] as const),
    );
    expect(operations.map(([name]) => name).sort()).toEqual(named.map(([name]) => name).sort());
    const ids = operations.map(([, operation]) => (operation as { operationId: string }).operationId);
    expect(new Set(ids).size).toBe(ids.length);
    for (const [name, operation] of operations) {
      const { requestBody, responses } = operation as { requestBody?: object; responses: Record<string, object> };
      const one = allRoutes.find(({ method, path: at }) => `${method} ${at}` === name);
      expect([name, requestBody !== undefined]).toEqual([name, one?.body !== undefined]);
      const { content = {} } = responses[200] as { content?: Record<string, object> };
      // a route that answers nothing but “done” says so with an empty object
      expect([name, Object.keys(content).length > 0]).toEqual([name, true]);
    }
  });
});

test('whatever writes says so in the list of acts, but for trials, preferences and what collectors deliver', () => {
  const silent = allRoutes.filter(
    ({ method, run }) => method !== 'GET' && !/recordAct|\brecord|\bwritten\b|undoEdit|savedScope/.test(run.toString()),
  );
  expect(silent.map(({ method, path: at }) => `${method} ${at}`).sort()).toEqual([
    'POST /applications/try',
    'POST /captures/batches',
    'POST /checks/trial',
    'POST /collectors/deliveries',
    'POST /collectors/work',
    // by the functions that decide
    'POST /identities',
    // only judges
    'POST /scopes/mistakes',
    'POST /service-rules/try',
    'POST /signatures/try',
    'POST /sites/preview',
    'POST /waves',
    'POST /waves/check',
    'PUT /preferences',
  ]);
  expect(listActs(store.db, { text: '', before: null, most: 1 }).total).toBeGreaterThan(0);
});
