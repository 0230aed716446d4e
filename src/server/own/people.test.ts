import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { openSample, type SampleStore } from '../../../e2e/support/sampleStore';
import type { OwnedThing } from '../../core/own/ownField';
import type { FieldEdit, OwnChange } from '../../core/own/planEdit';
import type { DeviceFacts } from '../../core/estate/facts';
import type { ReadingRule } from '../../core/signatures/reading';
import { factsAsOf } from '../../store/base/facts';
import { readingsWanted, saveReadingRule } from '../../store/readingRules';
import { readTargets, saveTarget } from '../../store/targets';
import { editables } from '../../store/edits/editables';
import { groupEdits } from '../../store/edits/groups';
import { StaleEditError, writeEdit } from '../../store/edits/log';
import { maintenanceEdits } from '../../store/edits/maintenance';
import { ownFieldEdits } from '../../store/edits/ownFields';
import { ownValueChanges, ownValueEdits } from '../../store/edits/ownValues';
import { place } from '../../store/edits/place';
import { undoEdit } from '../../store/edits/undo';
import { readGroups } from '../../store/groups';
import { ownHistory } from '../../store/ownValues';
import { exportParts } from '../query/thread/answers';
import { readingList } from '../settings/readings';
import { tablesOf } from '../query/tables/estateTables';
import { queryThing, type MarkedRow, type ThingQuery } from '../query/query';
import { plannedEdit, plannedImport, type RowsMeant } from './planned';

let sample: SampleStore;
beforeAll(async () => {
  sample = await openSample({ steps: [1, 8] });
});
afterAll(() => sample.close());

const ask = (thing: Parameters<typeof queryThing>[1], where: string, more: Partial<ThingQuery> = {}) =>
  queryThing(sample.store, thing, { survey: 2, against: null, where, sort: [], page: 1, size: 1000, ...more });
const names = (rows: MarkedRow[]) => rows.map(({ name }) => name);
const edit = (thing: OwnedThing, meant: Omit<RowsMeant, 'survey'>, edits: Record<string, FieldEdit>) =>
  write(thing, plannedEdit(sample.store, thing, { survey: 2, ...meant }, edits).changes);
const write = (thing: OwnedThing, changes: OwnChange[]) =>
  writeEdit(sample.store.db, ownValueEdits[thing], {
    who: 'marla',
    act: 'wrote own fields',
    words: 'a trial',
    changes: ownValueChanges(changes),
  }).edit;

describe('own fields', () => {
  test('of many rows are written at once, and stand in rows, filters, orders, groups and files', async () => {
    edit('devices', { where: 'site=RPW' }, { owner: { set: 'Osric' }, tags: { add: ['ring', 'north'], remove: [] } });
    expect(names(ask('devices', 'owner=osric').rows)).toEqual(names(ask('devices', 'site=RPW').rows));
    expect(ask('devices', 'tags=north', { group: ['owner'] }).groups).toEqual([
      expect.objectContaining({ path: ['Osric'], count: ask('devices', 'site=RPW').total }),
    ]);
    expect(ask('devices', 'osric').rows[0]).toMatchObject({
      owner: 'Osric',
      tags: ['ring', 'north'],
      assetNumber: null,
    });
    expect(ask('modules', 'device.owner=Osric class=powerSupply').rows.map(({ device }) => device)).toEqual(
      ask('modules', 'site=RPW class=powerSupply').rows.map(({ device }) => device),
    );
    const parts: string[] = [];
    for await (const part of exportParts(sample.store, {
      thing: 'devices',
      wanted: { survey: 2, against: null, where: 'name=rpw-plat', sort: [] },
      format: 'csv',
      columns: undefined,
    }))
      parts.push(String(part));

    const [head, line] = parts.join('').split('\r\n');
    expect([head?.endsWith(',owner,assetNumber,tags,notes'), line?.includes(',Osric,')]).toEqual([true, true]);
  });
  test('of ports and endpoints stay at them, also looking back and compared', () => {
    const port = ask('ports', 'device=rpw-plat name=1').rows[0];
    const mac = String(ask('endpoints', 'vlan=30').rows[0]?.mac);
    edit('ports', { ids: [String(port?.id)] }, { notes: { set: 'behind the cabinet' } });
    edit('endpoints', { ids: [mac] }, { owner: { set: 'Workshop' } });
    expect(ask('ports', 'notes:cabinet', { survey: 1 }).rows.map(({ id }) => id)).toEqual([port?.id]);
    expect(ask('ports', 'notes:cabinet', { against: 1 }).rows.map(({ id }) => id)).toEqual([port?.id]);
    expect(ask('endpoints', 'owner=Workshop', { against: 1 }).rows.map((row) => row.mac)).toEqual([mac]);
  });
  test('an edit that others have overtaken is refused as a whole; one that is taken back leaves what was written since', () => {
    const { changes } = plannedEdit(
      sample.store,
      'devices',
      { survey: 2, where: 'site=LQY' },
      { owner: { set: 'Marla' } },
    );
    const first = ask('devices', 'site=LQY').rows[0];
    const id = edit('devices', { ids: [String(first?.id)] }, { owner: { set: 'Osric' } });
    expect(() => write('devices', changes)).toThrow(StaleEditError);
    expect(ask('devices', 'owner=Marla').total).toBe(0);
    const all = edit('devices', { where: 'site=LQY' }, { owner: { set: 'Marla' } });
    expect(undoEdit(sample.store.db, editables, id, 'marla')).toMatchObject({ back: 0, stay: 1 });
    edit('devices', { ids: [String(first?.id)] }, { owner: { set: null } });
    expect(undoEdit(sample.store.db, editables, all, 'marla')).toMatchObject({
      back: ask('devices', 'site=LQY').total - 1,
      stay: 1,
    });
    expect([ask('devices', 'owner=Marla').total, undoEdit(sample.store.db, editables, all, 'marla')]).toEqual([
      0,
      null,
    ]);
    expect(
      ownHistory(sample.store.db, 'devices', String(first?.id)).map(({ before, after }) => [before, after]),
    ).toEqual([
      ['Marla', null],
      ['Osric', 'Marla'],
      [null, 'Osric'],
    ]);
  });
  test('a new field is there at once; a file is taken by serial or name', () => {
    place(sample.store.db, ownFieldEdits, {
      thing: 'devices',
      name: 'bought',
      label: 'Bought',
      kind: 'date',
      choices: [],
    });
    const { changes, mistakes } = plannedImport(
      sample.store,
      'devices',
      2,
      ['serial', 'Bought', 'asset number'],
      [{ line: 2, cells: ['KA48-93302', '2024-03-01', 'A-17'] }],
    );
    expect([mistakes, changes.map(({ row, field, after }) => [row, field, after])]).toEqual([
      [],
      [
        ['rpw-plat', 'bought', '2024-03-01'],
        ['rpw-plat', 'assetNumber', 'A-17'],
      ],
    ]);
    write('devices', changes);
    expect(names(ask('devices', 'bought<2025-01-01 bought!=""').rows)).toEqual(['rpw-plat']);
    expect(
      plannedImport(sample.store, 'devices', 2, ['name', 'owner'], [{ line: 2, cells: ['nobody', 'x'] }]).mistakes,
    ).toMatchObject([{ line: 2, column: 'name' }]);
  });
});

describe('groups', () => {
  const group = (name: string, more: object) =>
    Number(
      place(sample.store.db, groupEdits, {
        ...{ name, thing: 'devices', kind: 'filter', where: '', members: [], within: null, note: '' },
        ...more,
      }),
    );
  test('by filter, by name and within each other are a field of their rows', () => {
    const plat = String(ask('devices', 'name=rpw-plat').rows[0]?.id);
    group('Stops', { where: 'site=LQY or site=RPW' });
    group('Spares', { kind: 'fixed', members: [plat, '99999'], within: 'Field' });
    group('Field', { where: 'group=Stops role=switch' });
    group('Far ports', { thing: 'ports', where: 'device.group=Spares oper=up' });
    expect(names(ask('devices', 'group=Stops').rows)).toEqual(names(ask('devices', 'site=LQY or site=RPW').rows));
    expect(names(ask('devices', 'group=spares').rows)).toEqual(['rpw-plat']);
    expect(names(ask('devices', 'group=Field').rows)).toEqual(
      names(ask('devices', '(site=LQY or site=RPW) role=switch').rows),
    );
    expect(ask('devices', 'name=rpw-plat').rows[0]?.group).toEqual(['Field', 'Spares', 'Stops']);
    expect(ask('ports', 'group="Far ports"').total).toBe(ask('ports', 'device=rpw-plat oper=up').total);
    expect(ask('devices', 'port.group="Far ports"').total).toBe(1);
    expect(ask('devices', 'group=Stops', { against: 1 }).total).toBe(ask('devices', 'site=LQY or site=RPW').total);
  });
  test('whose filter cannot be read any more are empty and say so', () => {
    const id = group('Broken', { where: 'colour=red' });
    expect(ask('devices', 'group=Broken').total).toBe(0);
    expect(
      tablesOf(sample.store).membersTold(
        {
          id,
          name: 'Broken',
          thing: 'devices',
          kind: 'filter',
          where: 'colour=red',
          members: [],
          within: null,
          note: '',
        },
        2,
      ),
    ).toMatchObject({ rows: 0, mistake: expect.stringContaining('colour') });
    place(sample.store.db, groupEdits, null, String(id));
  });
});

test('a target for a group goes before that of the family; readings go by groups and own fields too', () => {
  const { db } = sample.store;
  const target = { vendor: 'Kestrane', family: 'K-Ring', setBy: 'marla', setAt: '' };
  saveTarget(db, { ...target, release: '7.4.9', group: '' });
  saveTarget(db, { ...target, release: '7.4.12b', group: 'Stops' });
  const targets = Object.fromEntries(
    ask('readiness', 'family=K-Ring').rows.map(({ device, target }) => [device, target]),
  );
  expect(targets).toMatchObject({ 'lqy-ring': '7.4.12b', 'rpw-ring': '7.4.12b', 'chd-ring': '7.4.9' });
  saveReadingRule(db, {
    name: 'load',
    where: 'group=Spares or owner=Osric role=router',
    oid: '1.3.6.1.4.1.59101.1.0',
  } as ReadingRule);
  expect(readingList(sample.store).rows).toMatchObject([{ name: 'load', devices: 1 }]);
  const facts = factsAsOf<DeviceFacts>(db, 'device', 2);
  expect(
    facts
      .filter(({ deviceId, content }) => readingsWanted(db)(deviceId, content).length > 0)
      .map(({ content }) => content.name),
  ).toEqual(['rpw-plat']);
  // what is named by a filter keeps its name
  const field = readGroups(db).find(({ name }) => name === 'Field');
  if (field) {
    const { id, ...before } = field;
    place(db, groupEdits, { ...before, where: 'role=switch' }, String(id));
  }
  const group = readGroups(db).find(({ name }) => name === 'Stops');
  if (group) {
    const { id, ...before } = group;
    place(db, groupEdits, { ...before, name: 'Two stops' }, String(id));
  }
  expect(
    readTargets(db)
      .map((target) => target.group)
      .sort(),
  ).toEqual(['', 'Two stops']);
});

test('maintenance is a state of the devices it is for, from its start to its end', () => {
  const now = Date.now();
  const at = (minutes: number) => new Date(now + minutes * 60_000).toISOString();
  const id = place(sample.store.db, maintenanceEdits, {
    where: 'site=RPW role=switch',
    reason: 'new supplies',
    from: at(-60),
    until: at(60),
    by: 'marla',
  });
  place(sample.store.db, maintenanceEdits, {
    where: 'site=LQY',
    reason: 'later',
    from: at(60),
    until: null,
    by: 'marla',
  });
  expect(names(ask('devices', 'maintenance=yes').rows)).toEqual(names(ask('devices', 'site=RPW role=switch').rows));
  expect(ask('devices', 'maintenance=yes').rows[0]?.maintenanceUntil).toBe(at(60));
  // the first survey was before it began
  expect(ask('devices', 'maintenance=yes', { survey: 1 }).total).toBe(
    Date.parse(String(ask('devices', '', { survey: 1 }).rows[0]?.lastAnswered)) < now - 3_600_000
      ? 0
      : ask('devices', 'maintenance=yes', { survey: 1 }).total,
  );
  const set = maintenanceEdits.read(sample.store.db, id, '');
  if (!set) throw new Error('no such maintenance');
  place(sample.store.db, maintenanceEdits, { ...set, until: new Date().toISOString() }, id);
  expect(ask('devices', 'maintenance=yes').total).toBe(0);
});

test('a scope of a group asks its devices alone; what was not asked is not silent', async () => {
  await sample.fleet.moveTo(8);
  const summary = await sample.survey({}, { group: 'Two stops' });
  const members = ask('devices', 'group="Two stops"').rows;
  const inRanges = new Set(ask('visits', '').rows.map(({ address }) => address));
  expect(summary.addresses.asked).toBe(
    members.flatMap(({ addresses }) => addresses as string[]).filter((address) => inRanges.has(address)).length,
  );
  expect(summary.addresses.asked).toBeGreaterThan(3);
  expect(summary.devices.silent).toBe(0);
  expect(ask('devices', 'state=answering', { survey: 3 }).total).toBe(ask('devices', 'state=answering').total);
  expect((await sample.survey({}, { group: 'No such group' })).addresses.asked).toBe(0);
});
