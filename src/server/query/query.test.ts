import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import equal from 'fast-deep-equal';
import { openSample, type SampleStore } from '../../../e2e/support/sampleStore';
import { everyRow, valueAt } from '../../core/tables/column';
import { thingOfChange } from '../../core/things/changeWords';
import { things, thingNames } from '../../core/things/things';
import { saveTarget } from '../../store/targets';
import { tablesOf } from './tables/estateTables';
import { findAnything } from './findAnything';
import { openApi } from '../api/openApi';
import { allRoutes } from '../api/routes';
import { apiOf } from '../testing/apiOf';
import { today } from '../estate/today';
import { deviceDossier } from '../estate/dossier';
import { queryThing, rowsOfDevice, thingRow, thingRows, type MarkedRow, type ThingQuery } from './query';

/** Three surveys of the story: the baseline, rpw-plat replaced, today. */
let sample: SampleStore;
let api: ReturnType<typeof apiOf>;
beforeAll(async () => {
  sample = await openSample({ steps: [1, 2, 8] });
  api = apiOf(sample.store);
});
afterAll(() => sample.close());

const query = (more: Partial<ThingQuery> = {}): ThingQuery => ({
  survey: 3,
  against: null,
  where: '',
  sort: [],
  page: 1,
  size: 1000,
  ...more,
});
const ask = (thing: Parameters<typeof queryThing>[1], more: Partial<ThingQuery> = {}) =>
  queryThing(sample.store, thing, query(more));
const names = (rows: MarkedRow[]) => rows.map(({ name }) => name);
const idOf = (name: string) => ask('devices', { where: `name=${name}` }).rows[0]?.id ?? '';
interface Page {
  rows: Record<string, unknown>[];
  total: number;
  survey: number;
  against: number | null;
  shares?: Record<string, { value: string; count: number }[]>;
  counts?: object;
}
const fetchThing = async (thing: string, parameters: string) => {
  const { status, body } = await api.call('viewer', `GET /${thing}?${parameters}`);
  expect(status).toBe(200);
  return body as unknown as Page;
};
async function problemOf(
  thing: string,
  parameters: string,
): Promise<{ status: number; errors: { path: string; message: string }[] }> {
  const { status, body } = await api.call('viewer', `GET /${thing}?${parameters}`);
  expect(status).toBeGreaterThan(399);
  return { status, errors: body.errors ?? [] };
}

describe('asking', () => {
  test('pages cut the whole into parts without loss or overlap', () => {
    const whole = names(ask('devices').rows);
    const paged = [1, 2, 3, 4, 5].flatMap((page) => names(ask('devices', { page, size: 17 }).rows));
    expect(paged).toEqual(whole);
    expect(ask('devices', { page: 9, size: 17 })).toMatchObject({ rows: [], total: whole.length });
  });
  test('sorting is by value: addresses, releases, sizes; what has no value stands last both ways', () => {
    const column = (field: string, sort: string) => ask('devices', { sort: [sort] }).rows.map((row) => row[field]);
    expect(column('address', 'address').slice(0, 3)).toEqual(['10.72.0.1', '10.72.0.2', '10.72.0.5']);
    expect(column('memoryBytes', 'memoryBytes').at(-1)).toBeNull();
    expect(column('memoryBytes', '-memoryBytes').at(-1)).toBeNull();
    const releases = ask('devices', { where: 'vendor=Kestrane', sort: ['-release', 'name'] }).rows.map(
      ({ release }) => release,
    );
    expect([...new Set(releases)]).toEqual(['7.6.2', '7.4.12b', '7.4.9']);
    expect(() => ask('devices', { sort: ['colour'] })).toThrow('no field “colour”');
  });
  test('a step over a relation asks the parts: empty supply bays, slow ports, other addresses', () => {
    expect(names(ask('devices', { where: 'module.name:Supervisor' }).rows)).toEqual(['sgh-core-1', 'sgh-core-2']);
    expect(names(ask('devices', { where: 'port.speed<100M' }).rows)).toEqual(['rpw-plat']);
    expect(names(ask('devices', { where: 'address.address=10.72.4.251' }).rows)).toEqual(['sgh-core-1']);
  });
  test('every thing answers, and its rows have an id and every field of the contract', () => {
    for (const name of thingNames) {
      for (const row of ask(name).rows.slice(0, 5)) {
        expect(row.id).not.toBe('');
        for (const field of things[name].script) expect([name, field, field in row]).toEqual([name, field, true]);
      }
    }
  });
  test('columns hold what rows hold, also where two surveys are held against each other', () => {
    for (const thing of ['devices', 'ports', 'endpoints', 'modules'] as const) {
      for (const against of [null, 1]) {
        const table = tablesOf(sample.store).table(thing, 3, against);
        const rows = table.rows(everyRow(table.size));
        const owners = table.owners();
        const otherwise = rows.flatMap((row, at) => [
          ...things[thing].fields.flatMap(({ name }) => {
            const [inColumn, inRow] = [valueAt(table.column(name), at) ?? null, row[name] ?? null];
            return equal(inColumn, inRow) ? [] : [[row.id, name, inColumn, inRow]];
          }),
          ...(thing === 'devices' || owners[at] === (row.deviceId ?? 0) ? [] : [[row.id, 'owner', owners[at]]]),
          ...(against === null || String(valueAt(table.column('change'), at)) === (row.change ?? '')
            ? []
            : [[row.id, 'change', row.change]]),
        ]);
        expect([thing, against, rows.length > 0, otherwise]).toEqual([thing, against, true, []]);
        expect(new Set(rows.map(({ id, change }) => `${id} ${change === 'gone'}`)).size).toBe(table.size);
      }
    }
  });
  test('what belongs to a device is the same, whether it is read alone or found in the whole', () => {
    for (const thing of [
      'ports',
      'modules',
      'addresses',
      'faults',
      'services',
      'software',
      'peers',
      'wlans',
      'readiness',
    ] as const) {
      const whole = thingRows(sample.store, thing, 3, null);
      for (const { id } of thingRows(sample.store, 'devices', 3, null)) {
        expect([thing, id, rowsOfDevice(sample.store, thing, 3, Number(id))]).toEqual([
          thing,
          id,
          whole.filter((row) => String(row.deviceId) === id),
        ]);
      }
    }
  });
  test('every column a table may show is a field that rows have', () => {
    const always = new Set(['state', 'change']);
    for (const name of thingNames) {
      const row = ask(name).rows[0];
      if (row)
        for (const field of things[name].fields)
          expect([name, field.name, field.name in row || always.has(field.name)]).toEqual([name, field.name, true]);
    }
  });
});

describe('another moment', () => {
  test('an earlier survey is what it was, a later one adds no knowledge to it', () => {
    const plat = (survey: number) => ask('devices', { survey, where: 'name=rpw-plat' }).rows[0];
    expect([plat(1)?.serial, plat(2)?.serial]).toEqual(['KA48-90117', 'KA48-93302']);
    expect([plat(1)?.lastAnswered, plat(3)?.firstSeen]).toEqual([plat(1)?.firstSeen, plat(1)?.firstSeen]);
    expect(ask('ledger', { survey: 1, where: 'serial=KA48-93302' }).total).toBe(0);
  });
  test('against an earlier one, what came, went and differs is marked with what it was', () => {
    const { rows, counts } = ask('devices', { against: 1 });
    expect(rows.filter(({ change }) => change === 'added').map(({ name }) => name)).toEqual(['tme-plat', 'tme-ring']);
    expect(rows.find(({ name }) => name === 'rpw-plat')).toMatchObject({
      change: 'replaced',
      before: { serial: 'KA48-90117' },
    });
    expect(rows.find(({ name }) => name === 'ofy-plat')).toMatchObject({
      change: 'silent',
      before: { state: 'answering' },
    });
    expect(counts).toEqual({
      added: 2,
      gone: 0,
      changed: rows.filter(({ change }) => change === 'changed').length,
      replaced: 1,
      silent: 1,
    });
    expect(names(ask('devices', { against: 1, where: 'change=replaced or change=silent' }).rows)).toEqual([
      'ofy-plat',
      'rpw-plat',
    ]);
    expect(names(ask('devices', { against: 1, where: 'change=added' }).rows)).toEqual(['tme-plat', 'tme-ring']);
  });
  test('looking back, what came later is gone', () => {
    expect(
      ask('devices', { survey: 1, against: 3 })
        .rows.filter(({ change }) => change === 'gone')
        .map(({ name }) => name)
        .sort(),
    ).toEqual(['tme-plat', 'tme-ring']);
  });
  test('modules and faults: a drive that was added, supplies and a memory module that failed', () => {
    const added = ask('modules', { against: 1, where: 'change=added device=sgh-srv-02' }).rows;
    expect(added).toEqual([]);
    expect(ask('modules', { against: 1, where: 'device=sgh-srv-02 name="Drive 3"' }).rows).toMatchObject([
      { change: 'changed', serial: 'BD-72400', before: { serial: '' } },
    ]);
    expect(ask('faults', { against: 1, where: 'change=added' }).rows.map(({ part }) => part)).toEqual([
      'sgh-core-1 / Supply 2',
      'sgh-edge-2 / Supply 2',
      'sgh-srv-04 / DIMM 4',
      'Processor load',
    ]);
    const { readings } = deviceDossier(sample.store, idOf('sgh-core-2'), 3) ?? { readings: [] };
    expect(readings.find(({ name }) => name === 'Processor load')).toMatchObject({
      unit: '%',
      above: 80,
      points: [{ value: 41 }, { value: 48 }, { value: 90 }],
    });
    expect(readings.find(({ name }) => name === 'Fan speed')?.points).toHaveLength(3);
  });
  test('rows of one survey against itself have no marks', () => {
    for (const name of ['devices', 'modules', 'ports', 'links', 'endpoints'] as const)
      expect([name, ask(name, { against: 3 }).rows.filter(({ change }) => change).length]).toEqual([name, 0]);
  });
});

describe('the request', () => {
  test('latest and a number name the same survey; chosen columns come alone', async () => {
    expect((await fetchThing('devices', 'survey=latest&size=1')).survey).toBe(3);
    const { rows } = await fetchThing('devices', 'survey=3&where=name%3Drpw-plat&columns=name,serial');
    expect(rows).toEqual([{ id: idOf('rpw-plat'), name: 'rpw-plat', serial: 'KA48-93302' }]);
  });
  test('shares count the filtered rows by value, most first', async () => {
    const { shares, total, rows } = await fetchThing(
      'devices',
      'where=role%3Dswitch%20vendor%3DKestrane&count=site,family&size=1',
    );
    expect([rows.length, shares?.site?.reduce((sum, { count }) => sum + count, 0)]).toEqual([1, total]);
    expect(shares?.family).toEqual([
      { value: 'K-Access', count: 7 },
      { value: 'K-Ring', count: 5 },
      { value: 'K-Core', count: 2 },
    ]);
  });
  test.each([
    ['size=0', 'size', 422],
    ['size=2000', 'size', 422],
    ['page=x', 'page', 422],
    ['sort=colour', 'sort', 422],
    ['columns=name,colour', 'columns', 422],
    ['survey=99', 'survey', 422],
    ['against=zero', 'against', 422],
    ['format=pdf', 'format', 422],
    ['wher=x', 'wher', 422],
    ['where=sit%3DRPW', 'where', 422],
  ])('%s is refused at %s', async (parameters, at, status) => {
    const problem = await problemOf('devices', parameters);
    expect([problem.status, problem.errors[0]?.path]).toEqual([status, at]);
  });
  test('a filter mistake tells its character and what was expected; an unknown thing is not found', async () => {
    expect((await problemOf('devices', 'where=role%3Dswitch+sit%3DRPW')).errors[0]).toMatchObject({
      at: 12,
      expected: expect.stringContaining('site'),
    });
    expect((await problemOf('cables', '')).status).toBe(404);
  });
  test('a file has all rows whatever the page, and a name that says what it is', async () => {
    const response = await api.send('viewer', 'GET /devices?format=csv&columns=name&size=3&page=2');
    expect(response.headers.get('content-disposition')).toContain('bolide-devices-survey-3.csv');
    expect((await response.text()).trim().split('\r\n')).toHaveLength(70);
  });
});

describe('a dossier', () => {
  test('has everything of one device and nothing of another', () => {
    const dossier = deviceDossier(sample.store, idOf('sgh-core-1'), 3);
    expect(dossier?.modules.every(({ device }) => device === 'sgh-core-1')).toBe(true);
    expect(dossier?.links.every(({ from, to }) => from === 'sgh-core-1' || to === 'sgh-core-1')).toBe(true);
    expect([dossier?.modules.filter(({ empty }) => empty).length, dossier?.addresses.length]).toEqual([2, 9]);
  });
  test('tells its history newest first, in words with values, up to the moment viewed', () => {
    const history = (survey: number) =>
      deviceDossier(sample.store, idOf('rpw-plat'), survey)?.history.map(({ survey: at, words, before, after }) => [
        at,
        words,
        before,
        after,
      ]);
    expect(history(1)).toEqual([[1, 'first seen', null, null]]);
    expect(history(2)).toContainEqual([2, 'chassis replaced', 'KA48-90117', 'KA48-93302']);
    expect(history(3)?.[0]?.[0]).toBe(3);
    expect(history(3)).toContainEqual([3, 'release changed', '7.4.9', '7.4.12b']);
  });
  test('says what depends on the device: what would be lost with it, at that moment', () => {
    const dependants = (name: string, survey = 3) => deviceDossier(sample.store, idOf(name), survey)?.dependants;
    const ring = dependants('rpw-ring');
    // the line to CHD is down now; while it was up, the stops behind it hung on this one, for the other half of the ring was not asked
    expect([ring?.devices.map(({ name }) => name), ring?.spared]).toEqual([['rpw-ap-01', 'rpw-ap-02', 'rpw-plat'], 0]);
    expect(
      dependants('rpw-ring', 1)
        ?.devices.filter(({ name }) => name.endsWith('-ring'))
        .map(({ name }) => name),
    ).toEqual(['chd-ring', 'ofy-ring']);
    const point = dependants('rpw-ap-01');
    expect(point).toMatchObject({ devices: [], spared: 0 });
    const passedOn = ask('endpoints', { where: point?.endpoints.where ?? '' });
    // who is on the air is heard at the port the access point is plugged into
    expect([point?.endpoints.total, new Set(passedOn.rows.map(({ via }) => via)), passedOn.total > 0]).toEqual([
      passedOn.total,
      new Set(['wireless']),
      true,
    ]);
    const { total } = queryThing(sample.store, 'endpoints', {
      survey: 3,
      against: null,
      where: ring?.endpoints.where ?? '',
      sort: [],
      page: 1,
      size: 5,
    });
    expect([ring?.endpoints.total, total > 0]).toEqual([total, true]);
    const [machine] = thingRows(sample.store, 'machines', 3, null);
    const onOneHost = thingRows(sample.store, 'machines', 3, null).filter(({ host }) => host === machine?.host).length;
    const ofHost = dependants(String(machine?.host));
    expect([ofHost?.machines, onOneHost > 0]).toEqual([onOneHost, true]);
    // the other host of the cluster has room for those that are switched on
    expect(dependants('sgh-srv-03')).toMatchObject({ restarted: 3, services: { total: 0 } });
  });
  test('what tables say is cut off is what a dossier says is lost by its links', () => {
    const cutting = thingRows(sample.store, 'devices', 3, null).filter(({ cutsDevices }) => Number(cutsDevices) > 0);
    expect(cutting.length).toBeGreaterThan(5);
    for (const { id, cutsDevices, role } of cutting)
      if (role !== 'hypervisor' && role !== 'server')
        expect([id, deviceDossier(sample.store, id, 3)?.dependants.devices.length]).toEqual([id, cutsDevices]);
    const links = thingRows(sample.store, 'links', 3, null).filter(({ cutsDevices }) => Number(cutsDevices) > 0);
    expect(links.length).toBeGreaterThan(5);
  });
  test('there is none of a device before it was found, nor of one that never was', () => {
    expect(deviceDossier(sample.store, idOf('tme-plat'), 1)).toBeNull();
    expect(deviceDossier(sample.store, '9999', 3)).toBeNull();
  });
});

test('modules read device by device are those of the table, in its order', () => {
  for (const survey of [1, 3]) {
    const all = thingRows(sample.store, 'modules', survey, null);
    const devices = [...new Set(all.map(({ deviceId }) => Number(deviceId)))];
    expect(devices.flatMap((deviceId) => rowsOfDevice(sample.store, 'modules', survey, deviceId))).toEqual(
      all.map(({ group: _group, ...row }) => row),
    );
    expect(all.some(({ holds }) => holds === 'memory')).toBe(true);
  }
});

test('an access point says the switch port it hangs on, which a bare word does not look for', () => {
  expect(
    ask('devices', { where: 'pluggedInto="rpw-plat 20"' }).rows.map(({ name, pluggedInto }) => [name, pluggedInto]),
  ).toEqual([['rpw-ap-01', 'rpw-plat 20']]);
  expect(names(ask('devices', { where: 'rpw-plat' }).rows)).toEqual(['rpw-plat']);
});

test('every change leads to what changed, unless it is gone', () => {
  const changes = thingRows(sample.store, 'changes', 3, 1) as unknown as { id: string; kind: string }[];
  expect(new Set(changes.map(({ id }) => id)).size).toBe(changes.length);
  const lost = changes.filter(({ id, kind }) => {
    const of = thingOfChange(id);
    return !of || (kind !== 'removed' && !thingRow(sample.store, of.thing, 3, null, of.id));
  });
  expect([lost, changes.length > 20]).toEqual([[], true]);
});

describe('readiness', () => {
  test('follows the target at once, with every reason', () => {
    expect([ask('readiness').total, ask('readiness', { against: 1 }).total]).toEqual([0, 0]);
    saveTarget(sample.store.db, {
      vendor: 'Kestrane',
      family: 'K-Access',
      release: '7.4.12b',
      group: '',
      setBy: 'marla',
      setAt: '',
    });
    const verdicts = Object.fromEntries(ask('readiness').rows.map(({ device, verdict }) => [device, verdict]));
    expect(verdicts).toMatchObject({
      'ofy-plat': 'blocked',
      'rpw-plat': 'already there',
      'chd-plat': expect.stringMatching(/^ready after/),
    });
    // also where it is held against another survey
    expect(ask('readiness', { against: 1 }).total).toBeGreaterThanOrEqual(Object.keys(verdicts).length);
    expect(ask('readiness', { where: 'device=ofy-plat' }).rows[0]?.why).toContain(
      'memory is 256 MB, 7.4.12b needs 384 MB',
    );
  });
});

describe('today', () => {
  test('what needs a person is told in words, each with a remedy and the place of its proof', () => {
    const { attention, numbers } = today(sample.store, 3, null);
    expect(numbers).toMatchObject({ devices: 69, answering: 68, partial: 1, newDevices: 2, silent: 1 });
    expect(attention.map(({ words }) => words)).toEqual(
      expect.arrayContaining([
        'ofy-plat does not answer, last on 10.72.6.2',
        'duplex differs: lqy-plat U1 has full, lqy-ring 3 has half',
        'sgh-acc-2 does not hear sgh-core-2 on U2',
      ]),
    );
    for (const { remedy, href } of attention)
      expect([remedy.endsWith('.'), /^\/(estate|survey|map|firmware)\?/.test(href)]).toEqual([true, true]);
  });
  test('compares with the survey before, or with the one that is asked for', () => {
    const replaced = (survey: number, against: number | null) =>
      today(sample.store, survey, against)
        .changes.filter(({ kind }) => kind === 'replaced')
        .map(({ before, after }) => `${before} → ${after}`);
    expect(replaced(2, null)).toContain('KA48-90117 → KA48-93302');
    expect(replaced(3, 1)).toContain('KA48-90117 → KA48-93302');
    expect(replaced(3, null)).not.toContain('KA48-90117 → KA48-93302');
  });
  test('before any survey there is nothing, and no error', () => {
    expect(today(sample.store, 0, null)).toMatchObject({
      numbers: { devices: 0, answering: 0, silent: 0 },
      attention: [],
      changes: [],
    });
  });
});

test('the description of the API names every thing, with its fields', () => {
  const text = JSON.stringify(openApi(allRoutes));
  for (const name of thingNames) expect(text).toContain(`"/${name}"`);
  expect(JSON.parse(text)).toMatchObject({ openapi: '3.1.0' });
});

test('rows of a sealed survey are made once', () => {
  expect(thingRows(sample.store, 'devices', 1, null)[0]).toBe(thingRows(sample.store, 'devices', 1, null)[0]);
});

describe('finding anything', () => {
  const found = (text: string, survey = 3) =>
    findAnything(sample.store, survey, text, 8).map(
      ({ thing, row, rank }) => `${thing} ${String(row.name ?? row.host ?? row.id)} ${rank}`,
    );
  const guest = () =>
    ask('endpoints', { where: 'via=direct -host=""' }).rows.find(({ ownDevice }) => ownDevice === null);
  test('a name, whole, begun, anywhere in it, and with letters wrong', () => {
    expect(found('sgh-core-1')[0]).toBe('devices sgh-core-1 0');
    expect(found('core').slice(0, 2)).toEqual(['devices sgh-core-1 2', 'devices sgh-core-2 2']);
    expect([found('sgh-croe-1')[0], found('rpwplat')[0], found('rpw-palt')[0]]).toEqual([
      'devices sgh-core-1 4',
      'devices rpw-plat 4',
      'devices rpw-plat 4',
    ]);
  });
  test('an address, a serial, a VLAN by number and by name', () => {
    const serial = ask('devices', { where: 'name=sgh-core-1' }).rows[0]?.serial;
    expect([found('10.72.4.251')[0], found(String(serial).toLowerCase())[0]]).toEqual([
      'devices sgh-core-1 0',
      'devices sgh-core-1 0',
    ]);
    const named = ask('vlans').rows.find((row) => row.name);
    const [vlan, name] = [named?.vlan, named?.name];
    expect([found(`vlan ${String(vlan)}`)[0], found(String(name))[0]]).toEqual([
      `vlans ${String(name)} 0`,
      `vlans ${String(name)} 0`,
    ]);
    expect(found('10.72.4.252')).not.toContain('devices sgh-core-1 4');
  });
  test('a MAC in any notation, whole or begun', () => {
    const mac = String(guest()?.mac);
    const digits = mac.replaceAll(':', '');
    for (const written of [
      mac,
      mac.toUpperCase().replaceAll(':', '-'),
      `${digits.slice(0, 4)}.${digits.slice(4, 8)}.${digits.slice(8)}`,
      digits,
      mac.slice(0, 14),
    ]) {
      expect([written, findAnything(sample.store, 3, written, 20).map(({ row }) => row.mac)]).toEqual([
        written,
        expect.arrayContaining([mac]),
      ]);
    }
  });
  test('only what the survey looked at knew, and nothing before any', () => {
    const [later] = ask('devices', { against: 1, where: 'change=added' }).rows;
    expect(found(String(later?.name))[0]).toBe(`devices ${String(later?.name)} 0`);
    expect(found(String(later?.name), 1)).not.toContain(`devices ${String(later?.name)} 0`);
    expect(found('sgh', 0)).toEqual([]);
  });
});
