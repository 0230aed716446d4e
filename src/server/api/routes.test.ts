import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { gzipSync } from 'node:zlib';
import { eq } from 'drizzle-orm';
import { scopeDefaults } from '../../core/estate/scope';
import { selfSigned } from '../../sim/https/certificate';
import { openStore, type Store } from '../../store/base/database';
import { takeJob, updateJob } from '../../store/jobs';
import { recordAct } from '../../store/audit';
import type { TokenRole } from '../../store/people';
import { seedCatalogue } from '../../store/programFiles';
import { audit, survey } from '../../store/base/schema';
import { openCredentials } from '../../store/credentials';
import { listScopes } from '../../store/scopes';
import { readTargets } from '../../store/targets';
import { apiOf, type ApiAnswer } from '../testing/apiOf';

let folder: string;
let store: Store;
let api: ReturnType<typeof apiOf>;

interface Given {
  body?: unknown;
  params?: Record<string, string>;
  query?: string;
  headers?: Record<string, string>;
}
/** A call of a route, the names in its braces filled in. */
const call = (
  line: string,
  by: TokenRole | null,
  { body, params = {}, query = '', headers = {} }: Given = {},
): Promise<ApiAnswer> =>
  api.call(by, `${line.replace(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(params[name] ?? ''))}${query}`, {
    ...(body !== undefined && { body }),
    headers,
  });

beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-routes-'));
  store = openStore(folder);
  seedCatalogue(store);
  api = apiOf(store);
});
afterAll(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

const goodScope = { ...scopeDefaults, name: 'north', ranges: ['10.72.4.0/24'], credentials: ['core'] };

describe('what a collector delivers', () => {
  const delivered = (body: Buffer | string) =>
    call('POST /collectors/deliveries', 'collector', { body: typeof body === 'string' ? body : new Uint8Array(body) });
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
    expect(await delivered(packed({ ...whole, protocol: 3 }))).toMatchObject({
      status: 409,
      body: { detail: expect.stringContaining('protocol 2') },
    });
  });
});

describe('scopes and credentials', () => {
  beforeEach(() =>
    call('POST /credentials', 'administrator', { body: { name: 'core', kind: 'snmp2c', community: 'not-for-eyes' } }),
  );
  test('a credential is listed without its secret; a wrong one names its field', async () => {
    const listed = await call('GET /credentials', 'operator');
    expect(listed.body.rows).toMatchObject([{ name: 'core', kind: 'snmp2c' }]);
    expect(JSON.stringify(listed)).not.toContain('not-for-eyes');
    expect(
      await call('POST /credentials', 'administrator', {
        body: { name: 'x', kind: 'snmp3', user: 'u', priv: { protocol: 'AES-128', password: 'long-enough' } },
      }),
    ).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'priv', message: expect.stringContaining('authentication') }] },
    });
  });
  test('every mistake of a scope is told at its line, and nothing is saved', async () => {
    const { status, body } = await call('POST /scopes', 'operator', {
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
    // of what a form cannot judge by itself it asks beforehand
    const asked = { name: '', credentials: ['unknown'], group: 'Parts', schedule: 'now and then', authorities: '' };
    const judged = await call('POST /scopes/mistakes', 'operator', { body: asked });
    expect(judged.body.rows?.map(({ path: at }) => at)).toEqual(['schedule', 'credentials', 'group']);
    expect(await call('POST /scopes', 'operator', { body: { ...goodScope, credentials: [] } })).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'credentials' }] },
    });
  });
  test('a credential that a scope tries is not deleted; another is, and comes back by undo', async () => {
    // a script that was written before there were collectors
    const { collectors: _none, ...before } = goodScope;
    expect((await call('POST /scopes', 'operator', { body: before })).status).toBe(200);
    // nobody writes over it by its name, and that is told with whatever else is wrong
    expect(await call('POST /scopes', 'operator', { body: { ...goodScope, collectors: ['nobody'] } })).toMatchObject({
      status: 422,
      body: {
        errors: [
          { path: 'name', message: 'There is a scope “north” already' },
          { path: 'collectors', message: 'There is no collector “nobody”' },
        ],
      },
    });
    const idOf = async (name: string) =>
      String((await call('GET /credentials', 'operator')).body.rows?.find((row) => row.name === name)?.id);
    const remove = async (name: string) =>
      call('DELETE /credentials/{id}', 'administrator', { params: { id: await idOf(name) } });
    expect(await remove('core')).toMatchObject({
      status: 409,
      body: { detail: 'The scope “north” tries this credential: take it out there first.' },
    });
    await call('POST /credentials', 'administrator', {
      body: { name: 'spare', kind: 'snmp2c', community: 'spare-secret' },
    });
    const spare = await idOf('spare');
    const gone = await remove('spare');
    expect(gone.status).toBe(200);
    expect(await idOf('spare')).toBe('undefined');
    const undo = (role: TokenRole) =>
      call('POST /edits/{id}/undo', role, { body: {}, params: { id: String(gone.body.edit) } });
    expect(await undo('operator')).toMatchObject({
      status: 403,
      body: { detail: 'What is written of credentials needs the role administrator; you are operator.' },
    });
    expect((await undo('administrator')).body).toMatchObject({ back: 1, stay: 0 });
    expect((await undo('administrator')).status).toBe(409);
    expect(await idOf('spare')).toBe(spare);
    await remove('spare');
    await call('DELETE /scopes/{id}', 'operator', { params: { id: String(listScopes(store.db)[0]?.id) } });
    store.raw.exec('delete from audit');
  });
  test('where a secret is sent is for administrators: an operator approves nothing, gives no scope a secret that writes, and tries none', async () => {
    const hands = {
      name: 'hands',
      kind: 'snmp3',
      user: 'olr-hands',
      auth: { protocol: 'SHA-256', password: 'signal-lantern-71' },
      priv: { protocol: 'AES-128', password: 'harbour-bell-19' },
      purpose: 'write',
    };
    await call('POST /credentials', 'administrator', { body: hands });
    const rows = (await call('GET /credentials', 'operator')).body.rows ?? [];
    const own = rows.find(({ name }) => name === 'hands');
    // nothing is approved until an administrator says so
    expect(own?.approved).toEqual({ prefixes: [], ports: [] });
    const params = { id: String(own?.id) };
    const body = { prefixes: ['10.72.0.0/16'], ports: [161] };
    expect((await call('PUT /credentials/{id}/approved', 'operator', { params, body })).status).toBe(403);
    const wrong = { prefixes: ['10.72.4.9/24'], ports: [70_000] };
    const refused = await call('PUT /credentials/{id}/approved', 'administrator', { params, body: wrong });
    expect(refused.body.errors?.map(({ path: at }) => at)).toEqual(['prefixes[0]', 'ports[0]']);
    expect((await call('PUT /credentials/{id}/approved', 'administrator', { params, body })).status).toBe(200);
    expect(openCredentials(store, ['hands'], 'write')).toMatchObject([{ user: 'olr-hands', approved: body }]);
    expect(
      await call('POST /credentials/{id}/test', 'operator', { params, body: { address: '10.72.4.2' } }),
    ).toMatchObject({
      status: 403,
    });
    const writing = { ...goodScope, writeCredentials: ['hands'] };
    expect(await call('POST /scopes', 'operator', { body: writing })).toMatchObject({
      status: 403,
      body: { errors: [{ path: 'writeCredentials' }] },
    });
    const { body: saved } = await call('POST /scopes', 'administrator', { body: writing });
    // what an administrator took away an operator does not bring back by undoing it
    const taken = await call('PUT /scopes/{id}', 'administrator', {
      params: { id: String(saved.id) },
      body: goodScope,
    });
    const undo = (role: TokenRole) =>
      call('POST /edits/{id}/undo', role, { body: {}, params: { id: String(taken.body.edit) } });
    expect((await undo('operator')).status).toBe(403);
    expect((await undo('administrator')).status).toBe(200);
    // everything else of such a scope an operator may change
    const slower = { ...writing, timeoutMs: 2000 };
    expect(
      (await call('PUT /scopes/{id}', 'operator', { params: { id: String(saved.id) }, body: slower })).status,
    ).toBe(200);
    await call('DELETE /scopes/{id}', 'operator', { params: { id: String(saved.id) } });
    await call('DELETE /credentials/{id}', 'administrator', { params });
    store.raw.exec('delete from audit');
  });
  test('saved, run once though asked for twice, cancelled, deleted; each act is on record', async () => {
    const {
      body: { id },
    } = await call('POST /scopes', 'operator', { body: goodScope });
    expect(await call('POST /surveys', 'operator', { body: { scopeId: 999 } })).toMatchObject({ status: 404 });
    const {
      body: { jobId },
    } = await call('POST /surveys', 'operator', { body: { scopeId: id } });
    // it waits already: asked for again it is not run twice
    expect(await call('POST /surveys', 'operator', { body: { scopeId: id } })).toMatchObject({
      status: 200,
      body: { jobId },
    });
    expect((await call('GET /surveys', 'viewer')).body).toMatchObject({
      active: { jobId, state: 'queued', surveyId: null },
    });

    takeJob(store.db, 'an engine', ['survey']);
    const running = store.db
      .insert(survey)
      .values({ scopeName: 'north', scope: {}, state: 'running', startedAt: '2026-11-23T06:00:00Z' })
      .returning({ id: survey.id })
      .get();
    updateJob(store.db, Number(jobId), { surveyId: running.id });
    expect(
      (await call('POST /surveys/{id}/cancel', 'operator', { body: {}, params: { id: String(running.id) } })).status,
    ).toBe(200);
    updateJob(store.db, Number(jobId), { state: 'cancelled' });
    expect(
      await call('POST /surveys/{id}/cancel', 'operator', { body: {}, params: { id: String(running.id) } }),
    ).toMatchObject({
      status: 409,
      body: { title: 'Not running' },
    });

    expect((await call('DELETE /scopes/{id}', 'operator', { params: { id: String(id) } })).status).toBe(200);
    expect((await call('DELETE /scopes/{id}', 'operator', { params: { id: String(id) } })).status).toBe(404);
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
    expect(await call('PUT /targets', 'operator', { body: { ...known, release: '9.9' } })).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'release', message: 'The catalogue has no Kestrane K-Access release 9.9' }] },
    });
    await call('PUT /targets', 'operator', { body: known });
    expect(readTargets(store.db)).toMatchObject([{ ...known, setBy: 'token operator' }]);
    await call('PUT /targets', 'operator', { body: { ...known, release: null } });
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
    const before = (await call('GET /catalogue', 'viewer')).body.total;
    expect(
      await call('POST /catalogue', 'operator', { body: { ...release, published: 'last week', release: '7.5 beta' } }),
    ).toMatchObject({
      status: 422,
      body: {
        errors: expect.arrayContaining([
          { path: 'release', message: expect.stringContaining('digits, letters') },
          { path: 'published', message: 'Write the day like 2026-11-23' },
        ]),
      },
    });
    expect((await call('GET /catalogue', 'viewer')).body.total).toBe(before);
    expect((await call('POST /catalogue', 'operator', { body: release })).status).toBe(200);
    expect((await call('GET /catalogue', 'viewer')).body.total).toBe(Number(before) + 1);
  });
});

test('a table is grouped on at most three levels, by fields with one value each', async () => {
  const grouped = (group: string, thing = 'devices') =>
    call('GET /{thing}', 'viewer', { params: { thing }, query: `?group=${group}` });
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
    await call('POST /views', 'viewer', {
      body: { name: 'mine', path: '/estate', query: 'of=modules', shared: false },
    }),
  ).toMatchObject({ status: 403, body: { detail: expect.stringContaining('Views belong to people') } });
  expect(
    (
      await call('POST /views', 'viewer', { body: { name: ' ', path: '/elsewhere', query: 'a b', shared: false } })
    ).body.errors
      ?.map(({ path: field }) => field)
      .sort(),
  ).toEqual(['name', 'path', 'query']);
});

test('contracts: each mistake at its field, a number only once; what is entered can be changed, found and taken back', async () => {
  const enter = (body: object) => call('POST /contracts', 'operator', { body });
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
      await call('PUT /contracts/{id}', 'operator', {
        params: { id },
        body: { number: 'KS-1', kind: 'contract', serials: ['A1'] },
      })
    ).status,
  ).toBe(200);
  expect((await call('GET /contracts', 'viewer')).body.rows).toMatchObject([
    { id, number: 'KS-1', kind: 'contract', until: '', parts: true, serials: ['A1'], inService: 0 },
  ]);
  const gone = await call('DELETE /contracts/{id}', 'operator', { params: { id } });
  expect((await call('GET /contracts', 'viewer')).body.rows).toEqual([]);
  expect(
    await call('POST /edits/{id}/undo', 'operator', { body: {}, params: { id: String(gone.body.edit) } }),
  ).toMatchObject({ status: 200, body: { back: 1, stay: 0 } });
  expect((await call('GET /contracts/{id}', 'viewer', { params: { id } })).body).toMatchObject({ number: 'KS-1' });
  expect(
    (
      await call('POST /imports/{name}', 'operator', {
        params: { name: 'contracts' },
        body: { csv: 'number,kind\n"x' },
      })
    ).body.errors,
  ).toMatchObject([{ path: 'line 2' }]);
  expect(
    (
      await call('POST /imports/{name}', 'operator', {
        params: { name: 'contracts' },
        body: { csv: 'number,kind,until,serial\nX,lease,,S\n' },
      })
    ).body.errors,
  ).toMatchObject([{ path: 'line 2, kind' }]);
});

test('only people watch, and only what is there; reports and places refuse what they do not know', async () => {
  expect(await call('POST /watches', 'viewer', { body: { thing: 'ports', id: '1:1' } })).toMatchObject({
    status: 403,
    body: { detail: expect.stringContaining('Only people') },
  });
  expect((await call('POST /watches', 'viewer', { body: { thing: 'devices', id: '1' } })).body.errors).toMatchObject([
    { path: 'thing' },
  ]);
  expect((await call('DELETE /watches/{id}', 'viewer', { params: { id: '7' } })).status).toBe(404);
  expect((await call('GET /places', 'viewer', { query: '?mac=x' })).body.errors).toMatchObject([{ path: 'mac' }]);
  expect((await call('GET /reports/ports', 'viewer', { query: '?idleDays=0' })).body.errors).toMatchObject([
    { path: 'idleDays' },
  ]);
});

test('readings: refused with the place of each mistake, saved by name, taken away by name', async () => {
  const save = (body: object) => call('POST /readings', 'administrator', { body });
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
  expect((await call('GET /readings', 'viewer')).body.rows).toEqual([
    { name: 'load', where: 'role=switch', oid: '1.3.6.1.4.1.59101.2.0', devices: 0, answered: 0 },
  ]);
  expect((await call('DELETE /readings/{name}', 'administrator', { params: { name: 'heat' } })).status).toBe(404);
  expect((await call('DELETE /readings/{name}', 'administrator', { params: { name: 'load' } })).status).toBe(200);
  expect((await call('GET /readings', 'viewer')).body.rows).toEqual([]);
});

test('authorities of a scope must be certificates that can be read and have not run out', async () => {
  const mistakes = async (authorities: string) =>
    (await call('POST /scopes', 'operator', { body: { ...goodScope, authorities } })).body.errors
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
  const add = (body: object) => call('POST /people', 'administrator', { body });
  expect((await add({ name: 'osric', password: 'osric', role: 'viewer' })).body.errors).toMatchObject([
    { path: 'password' },
  ]);
  expect((await add({ name: 'osric', password: 'harbour-depot-7', role: 'chief' })).status).toBe(422);
  expect((await add({ name: 'osric', password: 'harbour-depot-7', role: 'viewer' })).status).toBe(200);
  expect((await add({ name: 'osric', password: 'harbour-depot-7', role: 'viewer' })).body.errors).toEqual([
    { path: 'name', message: 'There is a person “osric” already' },
  ]);
  const { body } = await call('GET /people', 'administrator');
  expect(Object.keys(body.rows?.[0] ?? {}).sort()).toEqual([
    'createdAt',
    'disabledAt',
    'id',
    'mustChange',
    'name',
    'role',
    'sessions',
  ]);
});

test('the list of acts is for administrators, newest first, found by words, page by page', async () => {
  for (const name of ['first', 'second', 'third']) recordAct(store.db, 'marla', 'made a group', `${name} of many`);
  expect((await call('GET /audit', 'operator')).status).toBe(403);
  const { body } = await call('GET /audit', 'administrator', { query: '?text=OF%20many&size=2' });
  expect([body.total, body.rows?.map(({ subject }) => subject)]).toEqual([3, ['third of many', 'second of many']]);
  expect(
    (
      await call('GET /audit', 'administrator', { query: `?text=many&before=${String(body.rows?.[1]?.id)}` })
    ).body.rows?.map(({ subject }) => subject),
  ).toEqual(['first of many']);
  expect((await call('GET /audit', 'administrator', { query: '?size=0' })).body.errors).toMatchObject([
    { path: 'size' },
  ]);
  expect((await call('GET /audit', 'administrator', { query: '?colour=red' })).status).toBe(422);
});

test('groups: mistakes at their fields, circles refused, nothing deleted that others are built on', async () => {
  const save = (body: object) => call('POST /groups', 'operator', { body });
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
  const ring = (await call('GET /groups', 'viewer')).body.rows?.find(({ name }) => name === 'Ring');
  const id = String(ring?.id);
  expect(
    (
      await call('PUT /groups/{id}', 'operator', {
        params: { id },
        body: { name: 'Ring', thing: 'devices', kind: 'filter', where: 'group=North' },
      })
    ).body.errors,
  ).toMatchObject([{ path: 'where', message: expect.stringContaining('circle') }]);
  expect(await call('DELETE /groups/{id}', 'operator', { params: { id } })).toMatchObject({
    status: 409,
    body: { detail: expect.stringContaining('North') },
  });
  expect((await call('DELETE /groups/{id}', 'operator', { params: { id: String(north.id) } })).status).toBe(200);
  const gone = await call('DELETE /groups/{id}', 'operator', { params: { id } });
  expect(gone.status).toBe(200);
  await call('POST /edits/{id}/undo', 'operator', { body: {}, params: { id: String(gone.body.edit) } });
  expect((await call('GET /groups/{id}', 'viewer', { params: { id } })).body).toMatchObject({ name: 'Ring' });
});

test('a group that asks for what only tables know carries no target and no scope, and none that carries one becomes so', async () => {
  const kind = { thing: 'devices', kind: 'filter' };
  const { body: plain } = await call('POST /groups', 'operator', {
    body: { ...kind, name: 'Plain', where: 'role=switch' },
  });
  await call('POST /groups', 'operator', { body: { ...kind, name: 'Parts', where: 'module.class=fan' } });
  const target = (name: string) =>
    call('PUT /targets', 'operator', {
      body: { vendor: 'Kestrane', family: 'K-Ring', release: '7.4.9', group: name },
    });
  expect((await target('None')).body.errors).toMatchObject([
    { path: 'group', message: expect.stringContaining('no group') },
  ]);
  expect((await target('Parts')).body.errors).toMatchObject([
    { path: 'group', message: expect.stringContaining('what its parts are') },
  ]);
  expect((await call('POST /scopes', 'operator', { body: { ...goodScope, group: 'Parts' } })).body.errors).toEqual(
    expect.arrayContaining([expect.objectContaining({ path: 'group' })]),
  );
  expect((await target('Plain')).status).toBe(200);
  const id = String(plain.id);
  expect(
    await call('PUT /groups/{id}', 'operator', {
      params: { id },
      body: { ...kind, name: 'Plain', where: 'state=silent' },
    }),
  ).toMatchObject({ status: 409, body: { detail: expect.stringContaining('Plain') } });
  expect((await call('GET /groups', 'viewer')).body.rows?.find(({ name }) => name === 'Plain')).toMatchObject({
    where: 'role=switch',
  });
  expect(await call('DELETE /groups/{id}', 'operator', { params: { id } })).toMatchObject({
    status: 409,
    body: { detail: expect.stringContaining('K-Ring 7.4.9') },
  });
});

test('own fields and edits: what is wrong is told at its place', async () => {
  const make = (body: object) => call('POST /fields', 'administrator', { body });
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
  const write = (body: object) => call('POST /values', 'operator', { body: { thing: 'devices', ...body } });
  expect((await write({ set: { owner: 'x' } })).body.errors).toMatchObject([{ path: 'where' }]);
  expect((await write({ where: 'rolle=x', set: { owner: 'x' } })).body.errors).toMatchObject([
    { path: 'where', message: expect.stringContaining('rolle') },
  ]);
  expect((await write({ where: '', set: { grade: 'tin' } })).body.errors).toMatchObject([
    { path: 'set.grade', message: expect.stringContaining('gold') },
  ]);
  expect((await write({ where: '', set: {} })).body.errors).toMatchObject([{ path: 'set' }]);
});

test('two people write one thing: the second is told what the first wrote, and writes over it once it was seen', async () => {
  const made = await call('POST /groups', 'operator', {
    body: { name: 'Two write', thing: 'devices', kind: 'filter', where: 'role=switch' },
  });
  const params = { id: String(made.body.id) };
  const body = { name: 'Two write', thing: 'devices', kind: 'filter', where: 'role=switch' };
  const put = (note: string, version: unknown) =>
    call('PUT /groups/{id}', 'operator', { params, body: { ...body, note }, headers: { 'if-match': `"${version}"` } });
  const { version } = (await call('GET /groups/{id}', 'viewer', { params })).body;
  expect((await put('of the first', version)).status).toBe(200);
  const second = await put('of the second', version);
  expect(second).toMatchObject({
    status: 412,
    body: {
      title: 'Changed meanwhile',
      conflict: { values: [{ mine: { note: 'of the second' }, now: { note: 'of the first' }, who: 'token operator' }] },
    },
  });
  expect((await call('GET /groups/{id}', 'viewer', { params })).body).toMatchObject({ note: 'of the first' });
  const { conflict } = second.body as unknown as { conflict: { version: number } };
  expect((await put('of the second', conflict.version)).status).toBe(200);
  expect((await put('x', 'last')).body.errors).toMatchObject([{ path: 'If-Match' }]);
});

test('what somebody may not write they neither see in the list of edits nor take back', async () => {
  const field = await call('POST /fields', 'administrator', {
    body: { thing: 'devices', label: 'Tried once', kind: 'text' },
  });
  const id = String(field.body.edit);
  const seenBy = async (role: TokenRole) =>
    (await call('GET /edits', role, { query: '?of=fields' })).body.rows?.map((row) => String(row.id)) ?? [];
  expect(await seenBy('administrator')).toContain(id);
  expect([await seenBy('operator'), await seenBy('viewer')]).toEqual([[], []]);
  for (const [role, status] of [
    ['viewer', 403],
    ['operator', 403],
    ['administrator', 200],
  ] as const) {
    expect((await call('POST /edits/{id}/undo', role, { body: {}, params: { id } })).status).toBe(status);
  }
  expect((await call('GET /edits', 'viewer', { query: '?of=secrets' })).status).toBe(422);
});
