import { afterAll, beforeAll, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { gzipSync } from 'node:zlib';
import { eq } from 'drizzle-orm';
import * as yup from 'yup';
import { scopeDefaults } from '../../core/estate/scope';
import { selfSigned } from '../../sim/https/certificate';
import { openStore, type Store } from '../../store/database';
import { takeJob, updateJob } from '../../store/jobs';
import { addToken, recordAct, type TokenRole } from '../../store/people';
import { seedCatalogue } from '../../store/programFiles';
import { audit, survey } from '../../store/schema';
import { listScopes, readTargets } from '../../store/settings';
import { route } from '../access/route';
import * as auditList from './audit';
import * as catalogue from './catalogue';
import * as collector from './collector';
import * as collectorDelivery from './collectorDelivery';
import * as collectorWork from './collectorWork';
import * as collectors from './collectors';
import * as contract from './contract';
import * as contractImports from './contractImports';
import * as contractUndo from './contractUndo';
import * as contracts from './contracts';
import * as credential from './credential';
import * as credentialRestore from './credentialRestore';
import * as credentials from './credentials';
import * as edits from './edits';
import * as group from './group';
import * as groups from './groups';
import * as ownFields from './ownFields';
import * as people from './people';
import * as places from './places';
import * as portReport from './portReport';
import * as reading from './reading';
import * as readings from './readings';
import * as scope from './scope';
import * as scopes from './scopes';
import * as surveyCancel from './surveyCancel';
import * as surveys from './surveys';
import * as targets from './targets';
import * as things from './things';
import * as view from './view';
import * as views from './views';
import * as watchRoute from './watch';
import * as watches from './watches';

let folder: string;
let store: Store;
const tokens = new Map<TokenRole, string>();
type Handler = (request: Request, context: { params: Promise<Record<string, string>> }) => Promise<Response>;

interface Answer {
  status: number;
  body: Record<string, unknown> & { errors?: { path: string; message: string }[]; rows?: Record<string, unknown>[] };
}
async function call(
  handler: Handler,
  by: TokenRole | null,
  {
    body,
    params = {},
    method = body === undefined ? 'GET' : 'POST',
    query = '',
    headers = {},
  }: {
    body?: unknown;
    params?: Record<string, string>;
    method?: string;
    query?: string;
    headers?: Record<string, string>;
  } = {},
): Promise<Answer> {
  const request = new Request(`http://bolide.test/api/v1/x${query}`, {
    method,
    headers: { authorization: `Bearer ${by === null ? 'bol_nobody' : (tokens.get(by) ?? '')}`, ...headers },
    ...(body !== undefined && { body: typeof body === 'string' ? body : JSON.stringify(body) }),
  });
  const response = await handler(request, { params: Promise.resolve(params) });
  return { status: response.status, body: (await response.json()) as Answer['body'] };
}

beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-routes-'));
  store = openStore(folder);
  (globalThis as { bolideStore?: Store }).bolideStore = store;
  process.env.BOLIDE_DATA = folder;
  seedCatalogue(store);
  for (const role of ['viewer', 'operator', 'administrator', 'collector'] as const)
    tokens.set(role, addToken(store.db, role, role));
});
afterAll(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

describe('every route', () => {
  const rolesThatMay: [string, Handler, string, TokenRole[]][] = [
    ['things', things.GET, 'GET', ['viewer', 'operator', 'administrator']],
    ['surveys', surveys.GET, 'GET', ['viewer', 'operator', 'administrator']],
    ['surveys, run', surveys.POST, 'POST', ['operator', 'administrator']],
    ['survey, cancel', surveyCancel.POST, 'POST', ['operator', 'administrator']],
    ['scopes', scopes.GET, 'GET', ['viewer', 'operator', 'administrator']],
    ['scopes, save', scopes.POST, 'POST', ['operator', 'administrator']],
    ['scope, delete', scope.DELETE, 'DELETE', ['operator', 'administrator']],
    ['credentials', credentials.GET, 'GET', ['operator', 'administrator']],
    ['credentials, save', credentials.POST, 'POST', ['administrator']],
    ['credential, delete', credential.DELETE, 'DELETE', ['administrator']],
    ['credential, restore', credentialRestore.POST, 'POST', ['administrator']],
    ['catalogue', catalogue.GET, 'GET', ['viewer', 'operator', 'administrator']],
    ['catalogue, add', catalogue.POST, 'POST', ['operator', 'administrator']],
    ['targets', targets.GET, 'GET', ['viewer', 'operator', 'administrator']],
    ['targets, set', targets.PUT, 'PUT', ['operator', 'administrator']],
    ['views', views.GET, 'GET', ['viewer', 'operator', 'administrator']],
    ['views, save', views.POST, 'POST', ['viewer', 'operator', 'administrator']],
    ['view, delete', view.DELETE, 'DELETE', ['viewer', 'operator', 'administrator']],
    ['contracts', contracts.GET, 'GET', ['viewer', 'operator', 'administrator']],
    ['contracts, enter', contracts.POST, 'POST', ['operator', 'administrator']],
    ['contract, change', contract.PUT, 'PUT', ['operator', 'administrator']],
    ['contract, delete', contract.DELETE, 'DELETE', ['operator', 'administrator']],
    ['contracts, from a file', contractImports.POST, 'POST', ['operator', 'administrator']],
    ['contracts, take back', contractUndo.POST, 'POST', ['operator', 'administrator']],
    ['watches', watches.GET, 'GET', ['viewer', 'operator', 'administrator']],
    ['watches, begin', watches.POST, 'POST', ['viewer', 'operator', 'administrator']],
    ['watch, end', watchRoute.DELETE, 'DELETE', ['viewer', 'operator', 'administrator']],
    ['places', places.GET, 'GET', ['viewer', 'operator', 'administrator']],
    ['port report', portReport.GET, 'GET', ['viewer', 'operator', 'administrator']],
    ['readings', readings.GET, 'GET', ['viewer', 'operator', 'administrator']],
    ['readings, save', readings.POST, 'POST', ['administrator']],
    ['reading, delete', reading.DELETE, 'DELETE', ['administrator']],
    ['collectors', collectors.GET, 'GET', ['viewer', 'operator', 'administrator']],
    ['collectors, add', collectors.POST, 'POST', ['administrator']],
    ['collector, remove', collector.DELETE, 'DELETE', ['administrator']],
    ['collector’s work', collectorWork.POST, 'POST', ['collector']],
    ['collector’s delivery', collectorDelivery.POST, 'POST', ['collector']],
    ['people', people.GET, 'GET', ['administrator']],
    ['people, add', people.POST, 'POST', ['administrator']],
  ];
  test.each(rolesThatMay)('%s: knows who may', async (_, handler, method, may) => {
    const options = { method, params: { thing: 'devices', id: '0' }, ...(method !== 'GET' && { body: {} }) };
    expect((await call(handler, null, options)).status).toBe(401);
    for (const role of ['viewer', 'operator', 'administrator', 'collector'] as const) {
      const { status, body } = await call(handler, role, options);
      expect([role, status === 403]).toEqual([role, !may.includes(role)]);
      if (status === 403)
        expect(body).toMatchObject({
          title: 'Not allowed',
          detail: expect.stringMatching(`you are ${role}|Only a collector`),
        });
    }
  });
  test('refuses a body that is no JSON, too large, or has an unknown field, and says where', async () => {
    expect(await call(surveys.POST, 'operator', { body: '{"scopeId":' })).toMatchObject({
      status: 400,
      body: { title: 'Not JSON' },
    });
    expect(await call(surveys.POST, 'operator', { body: ' '.repeat(300 * 1024) })).toMatchObject({ status: 413 });
    expect(await call(surveys.POST, 'operator', { body: { scopeId: 1, fast: true } })).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'fast', message: 'There is no field “fast” here' }] },
    });
    expect(await call(surveys.POST, 'operator', { body: { scopeId: '1' } })).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'scopeId' }] },
    });
  });
  test('is a problem document when something breaks inside, and tells nothing of it', async () => {
    const log = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const broken = route('viewer', null, () => {
      throw new Error('secret of the inside');
    });
    const { status, body } = await call(broken, 'viewer');
    expect([status, JSON.stringify(body)]).toEqual([500, expect.not.stringContaining('secret of the inside')]);
    expect(log).toHaveBeenCalledWith(
      expect.stringContaining('GET /api/v1/x'),
      expect.stringContaining('secret of the inside'),
    );
    log.mockRestore();
  });
  test('gives the act what it read: the person, the body, the place', async () => {
    const echo = route('viewer', yup.object({ a: yup.number().required() }), ({ person, body, params, url }) => ({
      who: person.name,
      a: body.a,
      id: params.id,
      q: url.searchParams.get('q'),
    }));
    expect((await call(echo, 'operator', { body: { a: 5 }, params: { id: '7' }, query: '?q=x' })).body).toEqual({
      who: 'token operator',
      a: 5,
      id: '7',
      q: 'x',
    });
  });
});

const goodScope = { ...scopeDefaults, name: 'north', ranges: ['10.72.4.0/24'], credentials: ['core'] };

describe('what a collector delivers', () => {
  const delivered = async (body: Buffer | string) => {
    const request = new Request('http://bolide.test/api/v1/collectors/deliveries', {
      method: 'POST',
      headers: { authorization: `Bearer ${tokens.get('collector') ?? ''}` },
      body: typeof body === 'string' ? body : new Uint8Array(body),
    });
    const response = await collectorDelivery.POST(request, { params: Promise.resolve({}) });
    return { status: response.status, body: (await response.json()) as Answer['body'] };
  };
  const packed = (value: unknown) => gzipSync(JSON.stringify(value));
  const whole = {
    protocol: 1,
    id: '5a1d0e00-7200-4000-8000-000000000001',
    survey: 9,
    share: 9,
    last: true,
    visits: [],
    certificates: [],
  };
  test('is refused with its place where it is no delivery', async () => {
    expect(await delivered('plain')).toMatchObject({ status: 400, body: { title: 'Not gzip' } });
    expect(await delivered(gzipSync('{"protocol":'))).toMatchObject({ status: 400, body: { title: 'Not JSON' } });
    expect(await delivered(packed({ ...whole, id: 'seven' }))).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'id' }] },
    });
    expect(
      await delivered(
        packed({
          ...whole,
          visits: [
            {
              address: '10.72.0.1',
              outcome: { outcome: 'splendid', reason: '', remedy: '' },
              credential: '',
              answers: [],
              missing: [],
              phases: {},
              milliseconds: 1,
            },
          ],
        }),
      ),
    ).toMatchObject({ status: 422, body: { errors: [{ path: 'visits[0].outcome.outcome' }] } });
    expect(await delivered(packed(whole))).toMatchObject({ status: 422, body: { title: 'Not asked for' } });
  });
  test('in another version is told which to install', async () => {
    expect(await delivered(packed({ ...whole, protocol: 2 }))).toMatchObject({
      status: 409,
      body: { detail: expect.stringContaining('protocol 1') },
    });
  });
});

describe('scopes and credentials', () => {
  beforeEach(() =>
    call(credentials.POST, 'administrator', { body: { name: 'core', kind: 'snmp2c', community: 'not-for-eyes' } }),
  );
  test('a credential is listed without its secret; a wrong one names its field', async () => {
    const listed = await call(credentials.GET, 'operator');
    expect(listed.body.rows).toMatchObject([{ name: 'core', kind: 'snmp2c' }]);
    expect(JSON.stringify(listed)).not.toContain('not-for-eyes');
    expect(
      await call(credentials.POST, 'administrator', {
        body: { name: 'x', kind: 'snmp3', user: 'u', priv: { protocol: 'AES-128', password: 'long-enough' } },
      }),
    ).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'priv', message: expect.stringContaining('authentication') }] },
    });
  });
  test('every mistake of a scope is told at its line, and nothing is saved', async () => {
    const { status, body } = await call(scopes.POST, 'operator', {
      body: {
        ...goodScope,
        ranges: ['10.72.4.1/24', '10.0.0.0/8', '10.72.5.0/24'],
        credentials: ['core', 'unknown'],
        timeoutMs: 5,
      },
    });
    expect(status).toBe(422);
    expect(body.errors?.map(({ path: at }) => at)).toEqual(['ranges[0]', 'ranges[1]', 'timeoutMs', 'credentials']);
    expect(listScopes(store.db)).toEqual([]);
    expect(await call(scopes.POST, 'operator', { body: { ...goodScope, credentials: [] } })).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'credentials' }] },
    });
  });
  test('a credential that a scope tries is not deleted; another is, and comes back by undo', async () => {
    // a script that was written before there were collectors
    const { collectors: _none, ...before } = goodScope;
    expect((await call(scopes.POST, 'operator', { body: before })).status).toBe(200);
    expect(await call(scopes.POST, 'operator', { body: { ...goodScope, collectors: ['nobody'] } })).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'collectors', message: 'There is no collector “nobody”' }] },
    });
    await call(scopes.POST, 'operator', { body: goodScope });
    const idOf = async (name: string) =>
      String((await call(credentials.GET, 'operator')).body.rows?.find((row) => row.name === name)?.id);
    const remove = async (name: string) =>
      call(credential.DELETE, 'administrator', { method: 'DELETE', params: { id: await idOf(name) } });
    expect(await remove('core')).toMatchObject({
      status: 409,
      body: { detail: 'The scope “north” tries this credential: take it out there first.' },
    });
    await call(credentials.POST, 'administrator', {
      body: { name: 'spare', kind: 'snmp2c', community: 'spare-secret' },
    });
    const spare = await idOf('spare');
    expect((await remove('spare')).status).toBe(200);
    expect(await idOf('spare')).toBe('undefined');
    expect((await call(credentialRestore.POST, 'administrator', { body: {}, params: { id: spare } })).body).toEqual({
      name: 'spare',
    });
    expect((await call(credentialRestore.POST, 'administrator', { body: {}, params: { id: spare } })).status).toBe(404);
    expect(await idOf('spare')).toBe(spare);
    await remove('spare');
    await call(scope.DELETE, 'operator', { method: 'DELETE', params: { id: String(listScopes(store.db)[0]?.id) } });
    store.raw.exec('delete from audit');
  });
  test('saved, run once, not twice at a time, cancelled, deleted; each act is on record', async () => {
    const {
      body: { id },
    } = await call(scopes.POST, 'operator', { body: goodScope });
    expect(await call(surveys.POST, 'operator', { body: { scopeId: 999 } })).toMatchObject({ status: 404 });
    const {
      body: { jobId },
    } = await call(surveys.POST, 'operator', { body: { scopeId: id } });
    expect(await call(surveys.POST, 'operator', { body: { scopeId: id } })).toMatchObject({
      status: 409,
      body: { title: 'Busy' },
    });
    expect((await call(surveys.GET, 'viewer')).body).toMatchObject({
      active: { jobId, state: 'queued', surveyId: null },
    });

    takeJob(store.db, process.pid);
    const running = store.db
      .insert(survey)
      .values({ scopeName: 'north', scope: {}, state: 'running', startedAt: '2026-11-23T06:00:00Z' })
      .returning({ id: survey.id })
      .get();
    updateJob(store.db, Number(jobId), { surveyId: running.id });
    expect((await call(surveyCancel.POST, 'operator', { body: {}, params: { id: String(running.id) } })).status).toBe(
      200,
    );
    updateJob(store.db, Number(jobId), { state: 'cancelled' });
    expect(await call(surveyCancel.POST, 'operator', { body: {}, params: { id: String(running.id) } })).toMatchObject({
      status: 409,
      body: { title: 'Not running' },
    });

    expect((await call(scope.DELETE, 'operator', { method: 'DELETE', params: { id: String(id) } })).status).toBe(200);
    expect((await call(scope.DELETE, 'operator', { method: 'DELETE', params: { id: String(id) } })).status).toBe(404);
    const acts = store.db
      .select()
      .from(audit)
      .where(eq(audit.who, 'token operator'))
      .all()
      .map(({ act }) => act);
    expect(acts).toEqual(['saved a scope', 'ran a survey', 'cancelled a survey', 'deleted a scope']);
  });
});

describe('targets and catalogue', () => {
  const known = { vendor: 'Kestrane', family: 'K-Access', release: '7.4.12b' };
  test('a target must be in the catalogue, and can be taken away again', async () => {
    expect(await call(targets.PUT, 'operator', { method: 'PUT', body: { ...known, release: '9.9' } })).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'release', message: 'The catalogue has no Kestrane K-Access release 9.9' }] },
    });
    await call(targets.PUT, 'operator', { method: 'PUT', body: known });
    expect(readTargets(store.db)).toMatchObject([{ ...known, setBy: 'token operator' }]);
    await call(targets.PUT, 'operator', { method: 'PUT', body: { ...known, release: null } });
    expect(readTargets(store.db)).toEqual([]);
  });
  test('a release is added with all its needs, or not at all', async () => {
    const release = {
      ...known,
      release: '7.5.0',
      published: '2026-11-20',
      minimumMemoryBytes: 512 * 1024 ** 2,
      neededFlashBytes: null,
      minimumFrom: null,
      minimumBoot: null,
      excludedModels: [],
      image: '',
    };
    const before = (await call(catalogue.GET, 'viewer')).body.total;
    expect(
      await call(catalogue.POST, 'operator', { body: { ...release, published: 'last week', release: '7.5 beta' } }),
    ).toMatchObject({
      status: 422,
      body: {
        errors: expect.arrayContaining([
          { path: 'release', message: expect.stringContaining('digits, letters') },
          { path: 'published', message: 'Write the day like 2026-11-23' },
        ]),
      },
    });
    expect((await call(catalogue.GET, 'viewer')).body.total).toBe(before);
    expect((await call(catalogue.POST, 'operator', { body: release })).status).toBe(200);
    expect((await call(catalogue.GET, 'viewer')).body.total).toBe(Number(before) + 1);
  });
});

test('a table is grouped on at most three levels, by fields with one value each', async () => {
  const grouped = (group: string, thing = 'devices') =>
    call(things.GET, 'viewer', { params: { thing }, query: `?group=${group}` });
  expect(await grouped('site,family,model')).toMatchObject({ status: 200, body: { groups: [], rows: [] } });
  for (const [group, thing, words] of [
    ['site,family,model,role', 'devices', 'at most 3 levels'],
    ['colour', 'devices', 'no field “colour”'],
    ['addresses', 'devices', 'several values'],
    ['taggedVlans', 'ports', 'several values'],
  ] as const) {
    expect(await grouped(group, thing)).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'group', message: expect.stringContaining(words) }] },
    });
  }
});

test('views belong to people: a token saves none, and a wrong one is told where', async () => {
  expect(
    await call(views.POST, 'viewer', { body: { name: 'mine', path: '/estate', query: 'of=modules', shared: false } }),
  ).toMatchObject({ status: 403, body: { detail: expect.stringContaining('Views belong to people') } });
  expect(
    (
      await call(views.POST, 'viewer', { body: { name: ' ', path: '/elsewhere', query: 'a b', shared: false } })
    ).body.errors
      ?.map(({ path: field }) => field)
      .sort(),
  ).toEqual(['name', 'path', 'query']);
});

test('contracts: each mistake at its field, a number only once; what is entered can be changed, found and taken back', async () => {
  const enter = (body: object) => call(contracts.POST, 'operator', { body });
  expect(
    (await enter({ number: ' x', kind: 'lease', serials: ['a', ''], more: 1 })).body.errors
      ?.map(({ path: field }) => field)
      .sort(),
  ).toEqual(['kind', 'more', 'number', 'serials[1]']);
  expect(
    (await enter({ number: 'x', kind: 'licence', serials: ['a b', 'c', 'C'], from: '2026-03-01', until: '2026-02-30' }))
      .body.errors,
  ).toMatchObject([
    { path: 'until' },
    { path: 'serials', message: expect.stringContaining('one by one') },
    { path: 'serials', message: 'C is named twice' },
  ]);
  const { status, body } = await enter({ number: 'KS-1', kind: 'licence', serials: ['A1'], until: '2099-12-31' });
  expect([status, (await enter({ number: 'ks-1', kind: 'licence', serials: ['A2'] })).body.errors]).toEqual([
    200,
    [{ path: 'number', message: 'There is a contract “ks-1” already' }],
  ]);
  const id = String(body.id);
  expect(
    (
      await call(contract.PUT, 'operator', {
        method: 'PUT',
        params: { id },
        body: { number: 'KS-1', kind: 'contract', serials: ['A1'] },
      })
    ).status,
  ).toBe(200);
  expect((await call(contracts.GET, 'viewer')).body.rows).toMatchObject([
    { id, number: 'KS-1', kind: 'contract', until: '', parts: true, serials: ['A1'], inService: 0 },
  ]);
  const gone = await call(contract.DELETE, 'operator', { method: 'DELETE', params: { id } });
  expect((await call(contracts.GET, 'viewer')).body.rows).toEqual([]);
  expect(await call(contractUndo.POST, 'operator', { body: {}, params: { id: String(gone.body.edit) } })).toMatchObject(
    { status: 200, body: { back: 1, stay: 0 } },
  );
  expect((await call(contract.GET, 'viewer', { params: { id } })).body).toMatchObject({ number: 'KS-1' });
  expect(
    (await call(contractImports.POST, 'operator', { body: { csv: 'number,kind\n"x' } })).body.errors,
  ).toMatchObject([{ path: 'line 2' }]);
  expect(
    (await call(contractImports.POST, 'operator', { body: { csv: 'number,kind,until,serial\nX,lease,,S\n' } })).body
      .errors,
  ).toMatchObject([{ path: 'line 2, kind' }]);
});

test('only people watch, and only what is there; reports and places refuse what they do not know', async () => {
  expect(await call(watches.POST, 'viewer', { body: { thing: 'ports', id: '1:1' } })).toMatchObject({
    status: 403,
    body: { detail: expect.stringContaining('Only people') },
  });
  expect((await call(watches.POST, 'viewer', { body: { thing: 'devices', id: '1' } })).body.errors).toMatchObject([
    { path: 'thing' },
  ]);
  expect((await call(watchRoute.DELETE, 'viewer', { method: 'DELETE', params: { id: '7' } })).status).toBe(404);
  expect((await call(places.GET, 'viewer', { query: '?mac=x' })).body.errors).toMatchObject([{ path: 'mac' }]);
  expect((await call(portReport.GET, 'viewer', { query: '?idleDays=0' })).body.errors).toMatchObject([
    { path: 'idleDays' },
  ]);
});

test('readings: refused with the place of each mistake, saved by name, taken away by name', async () => {
  const save = (body: object) => call(readings.POST, 'administrator', { body });
  expect((await save({ name: 'load', where: 'rolle=switch', oid: '1.3.6.1.4.1.59101.1.0' })).body.errors).toMatchObject(
    [{ path: 'where', message: expect.stringContaining('There is no field “rolle”') }],
  );
  // how a device fares is not known before it is asked
  expect((await save({ name: 'load', where: 'state=silent', oid: '1.3.6.1.4.1.59101.1.0' })).status).toBe(422);
  expect((await save({ name: 'load', where: '', oid: 'ifDescr' })).body.errors).toMatchObject([{ path: 'oid' }]);
  expect((await save({ name: 'load', where: '' })).status).toBe(422);
  expect((await save({ name: 'load', where: '', oid: '1.3.6.1.4.1.59101.1.0', unit: '%', above: 80 })).status).toBe(
    200,
  );
  expect((await save({ name: 'load', where: 'role=switch', oid: '1.3.6.1.4.1.59101.2.0' })).status).toBe(200);
  expect((await call(readings.GET, 'viewer')).body.rows).toEqual([
    { name: 'load', where: 'role=switch', oid: '1.3.6.1.4.1.59101.2.0', devices: 0, answered: 0 },
  ]);
  expect((await call(reading.DELETE, 'administrator', { method: 'DELETE', params: { name: 'heat' } })).status).toBe(
    404,
  );
  expect((await call(reading.DELETE, 'administrator', { method: 'DELETE', params: { name: 'load' } })).status).toBe(
    200,
  );
  expect((await call(readings.GET, 'viewer')).body.rows).toEqual([]);
});

test('authorities of a scope must be certificates that can be read and have not run out', async () => {
  const mistakes = async (authorities: string) =>
    (await call(scopes.POST, 'operator', { body: { ...goodScope, authorities } })).body.errors
      ?.filter(({ path: field }) => field === 'authorities')
      .map(({ message }) => message) ?? [];
  expect(await mistakes('a certificate')).toEqual([expect.stringContaining('no list of certificates in PEM')]);
  expect(await mistakes('-----BEGIN CERTIFICATE-----\nMIIB\n-----END CERTIFICATE-----')).toEqual([
    expect.stringContaining('certificate 1 cannot be read'),
  ]);
  const { cert } = await selfSigned('authority', '10.72.0.1');
  expect(await mistakes(cert)).toEqual([]);
});

test('people: password rules, one of a name, never a hash in an answer', async () => {
  const add = (body: object) => call(people.POST, 'administrator', { body });
  expect((await add({ name: 'osric', password: 'osric', role: 'viewer' })).body.errors).toMatchObject([
    { path: 'password' },
  ]);
  expect((await add({ name: 'osric', password: 'harbour-depot-7', role: 'chief' })).status).toBe(422);
  expect((await add({ name: 'osric', password: 'harbour-depot-7', role: 'viewer' })).status).toBe(200);
  expect((await add({ name: 'osric', password: 'harbour-depot-7', role: 'viewer' })).body.errors).toEqual([
    { path: 'name', message: 'There is a person “osric” already' },
  ]);
  const { body } = await call(people.GET, 'administrator');
  expect(Object.keys(body.rows?.[0] ?? {}).sort()).toEqual(['createdAt', 'id', 'name', 'role']);
});

test('every route that writes says so in the list of acts, but for trials, preferences and what collectors deliver', () => {
  const folderOfRoutes = path.join(process.cwd(), 'src/server/routes');
  const silent = readdirSync(folderOfRoutes).filter((name) => {
    const text = readFileSync(path.join(folderOfRoutes, name), 'utf8');
    return (
      !name.includes('.test.') && /export const (POST|PUT|PATCH|DELETE)\b/.test(text) && !text.includes('recordAct(')
    );
  });
  expect(silent.sort()).toEqual([
    'checkTrial.ts',
    'collectorDelivery.ts',
    'collectorWork.ts',
    'preferences.ts',
    'signatureTrial.ts',
  ]);
});

test('the list of acts is for administrators, newest first, found by words, page by page', async () => {
  for (const name of ['first', 'second', 'third']) recordAct(store.db, 'marla', 'made a group', `${name} of many`);
  expect((await call(auditList.GET, 'operator')).status).toBe(403);
  const { body } = await call(auditList.GET, 'administrator', { query: '?text=OF%20many&size=2' });
  expect([body.total, body.rows?.map(({ subject }) => subject)]).toEqual([3, ['third of many', 'second of many']]);
  expect(
    (
      await call(auditList.GET, 'administrator', { query: `?text=many&before=${String(body.rows?.[1]?.id)}` })
    ).body.rows?.map(({ subject }) => subject),
  ).toEqual(['first of many']);
  expect((await call(auditList.GET, 'administrator', { query: '?size=0' })).body.errors).toMatchObject([
    { path: 'size' },
  ]);
  expect((await call(auditList.GET, 'administrator', { query: '?colour=red' })).status).toBe(422);
});

test('groups: mistakes at their fields, circles refused, nothing deleted that others are built on', async () => {
  const save = (body: object) => call(groups.POST, 'operator', { body });
  expect(
    (await save({ name: ' ', thing: 'devices', kind: 'filter' })).body.errors?.map(({ path: field }) => field),
  ).toEqual(expect.arrayContaining(['name']));
  expect(
    (await save({ name: 'Ring', thing: 'devices', kind: 'filter', where: 'rolle=switch' })).body.errors,
  ).toMatchObject([{ path: 'where', message: expect.stringContaining('rolle') }]);
  expect((await save({ name: 'Ring', thing: 'devices', kind: 'filter', where: 'role=switch' })).status).toBe(200);
  expect(
    (await save({ name: 'ring', thing: 'devices', kind: 'filter', where: 'role=switch' })).body.errors,
  ).toMatchObject([{ path: 'name' }]);
  const { body: north } = await save({ name: 'North', thing: 'devices', kind: 'filter', where: 'group=Ring site=LQY' });
  const ring = (await call(groups.GET, 'viewer')).body.rows?.find(({ name }) => name === 'Ring');
  const id = String(ring?.id);
  expect(
    (
      await call(group.PUT, 'operator', {
        method: 'PUT',
        params: { id },
        body: { name: 'Ring', thing: 'devices', kind: 'filter', where: 'group=North' },
      })
    ).body.errors,
  ).toMatchObject([{ path: 'where', message: expect.stringContaining('circle') }]);
  expect(await call(group.DELETE, 'operator', { method: 'DELETE', params: { id } })).toMatchObject({
    status: 409,
    body: { detail: expect.stringContaining('North') },
  });
  expect((await call(group.DELETE, 'operator', { method: 'DELETE', params: { id: String(north.id) } })).status).toBe(
    200,
  );
  expect(await call(group.DELETE, 'operator', { method: 'DELETE', params: { id } })).toMatchObject({
    status: 200,
    body: { was: { name: 'Ring' } },
  });
});

test('a group that asks for what only tables know carries no target and no scope, and none that carries one becomes so', async () => {
  const kind = { thing: 'devices', kind: 'filter' };
  const { body: plain } = await call(groups.POST, 'operator', {
    body: { ...kind, name: 'Plain', where: 'role=switch' },
  });
  await call(groups.POST, 'operator', { body: { ...kind, name: 'Parts', where: 'module.class=fan' } });
  const target = (name: string) =>
    call(targets.PUT, 'operator', {
      method: 'PUT',
      body: { vendor: 'Kestrane', family: 'K-Ring', release: '7.4.9', group: name },
    });
  expect((await target('None')).body.errors).toMatchObject([
    { path: 'group', message: expect.stringContaining('no group') },
  ]);
  expect((await target('Parts')).body.errors).toMatchObject([
    { path: 'group', message: expect.stringContaining('what its parts are') },
  ]);
  expect((await call(scopes.POST, 'operator', { body: { ...goodScope, group: 'Parts' } })).body.errors).toEqual(
    expect.arrayContaining([expect.objectContaining({ path: 'group' })]),
  );
  expect((await target('Plain')).status).toBe(200);
  const id = String(plain.id);
  expect(
    await call(group.PUT, 'operator', {
      method: 'PUT',
      params: { id },
      body: { ...kind, name: 'Plain', where: 'state=silent' },
    }),
  ).toMatchObject({ status: 409, body: { detail: expect.stringContaining('Plain') } });
  expect((await call(groups.GET, 'viewer')).body.rows?.find(({ name }) => name === 'Plain')).toMatchObject({
    where: 'role=switch',
  });
  expect(await call(group.DELETE, 'operator', { method: 'DELETE', params: { id } })).toMatchObject({
    status: 409,
    body: { detail: expect.stringContaining('K-Ring 7.4.9') },
  });
});

test('own fields and edits: what is wrong is told at its place', async () => {
  const make = (body: object) => call(ownFields.POST, 'administrator', { body });
  expect((await make({ thing: 'devices', label: 'Serial', kind: 'text' })).body.errors).toMatchObject([
    { path: 'label', message: expect.stringContaining('already') },
  ]);
  expect((await make({ thing: 'modules', label: 'Shelf', kind: 'text' })).body.errors).toMatchObject([
    { path: 'thing' },
  ]);
  expect((await make({ thing: 'devices', label: 'Grade', kind: 'choice' })).body.errors).toMatchObject([
    { path: 'choices' },
  ]);
  expect(
    (await make({ thing: 'devices', label: 'Grade', kind: 'choice', choices: ['gold', 'Gold'] })).body.errors,
  ).toMatchObject([{ path: 'choices' }]);
  expect((await make({ thing: 'devices', label: 'Grade', kind: 'choice', choices: ['gold'] })).body).toMatchObject({
    name: 'grade',
  });
  const write = (body: object) => call(edits.POST, 'operator', { body: { thing: 'devices', ...body } });
  expect((await write({ set: { owner: 'x' } })).body.errors).toMatchObject([{ path: 'where' }]);
  expect((await write({ where: 'rolle=x', set: { owner: 'x' } })).body.errors).toMatchObject([
    { path: 'where', message: expect.stringContaining('rolle') },
  ]);
  expect((await write({ where: '', set: { grade: 'tin' } })).body.errors).toMatchObject([
    { path: 'set.grade', message: expect.stringContaining('gold') },
  ]);
  expect((await write({ where: '', set: {} })).body.errors).toMatchObject([{ path: 'set' }]);
});
