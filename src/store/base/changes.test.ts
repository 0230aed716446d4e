import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { harvestOf, interfaceRow } from '../../core/estate/testHarvest';
import { harvestParts, type Harvest, type HarvestPart } from '../../core/estate/harvest';
import { interpret } from '../../core/estate/interpret';
import type { DeviceFacts, ModuleFacts } from '../../core/estate/facts';
import type { PhysicalRow } from '../../core/mib/entity';
import type { Signature } from '../../core/signatures/signature';
import { changesBetween } from './changes';
import { latestOutcomes } from './latestOutcomes';
import { commitReport } from '../commitReport';
import { Identities } from '../identities';
import { latestSealed } from './sealedSurveys';
import { sightingsOf } from '../sightings';
import { openStore, type Store } from './database';
import { factHistory, factsAsOf } from './facts';
import { device, survey, visit } from './schema';

/** Surveys of one or two devices, written as a survey writes them, but without a network. */
let folder: string;
let store: Store;
let surveyId: number;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-changes-'));
  store = openStore(folder);
  surveyId = 0;
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

const generic: Signature[] = [{ id: 'generic', order: 1, match: {}, vendor: '', role: 'unknown' }];
const all = new Set<HarvestPart>(harvestParts);
const part = (index: number, name: string, serial: string): PhysicalRow => ({
  entPhysicalIndex: index,
  containedIn: index === 1 ? 0 : 1,
  position: index,
  class: index === 1 ? 'chassis' : 'powerSupply',
  name,
  description: name,
  vendor: 'Kestrane',
  model: 'K',
  assetId: '',
  serial,
  hardwareRevision: '',
  firmwareRevision: '',
  softwareRevision: '7.4.9',
  replaceable: true,
});
const plat = (more: Partial<Harvest> = {}) =>
  harvestOf({
    modules: [part(1, 'rpw-plat', 'KA48-1'), part(2, 'Supply 1', 'KP-1')],
    interfaces: [interfaceRow(1, '1'), interfaceRow(2, '2')],
    ...more,
  });
const named = (name: string, address: string, more: Partial<Harvest> = {}) => {
  const harvest = harvestOf({ address, ...more });
  return { ...harvest, system: { ...harvest.system, name } };
};

function inSurvey(harvests: Harvest[], { covered = all, silent = [] as { address: string; deviceId: number }[] } = {}) {
  surveyId = store.db
    .insert(survey)
    .values({
      scopeName: 's',
      scope: {},
      state: 'sealed',
      startedAt: `2026-10-0${surveyId + 1}T06:00:00Z`,
      sealedAt: `2026-10-0${surveyId + 1}T06:00:02Z`,
    })
    .returning({ id: survey.id })
    .get().id;
  const identities = new Identities(store.db, surveyId);
  const answered = new Set<number>();
  const committed = harvests.map((harvest) => {
    const result = commitReport(
      store.db,
      surveyId,
      identities,
      { kind: 'snmp', report: interpret(harvest, generic), covered, asked: all },
      (id) => answered.has(id),
    );
    answered.add(result.deviceId);
    store.db
      .insert(visit)
      .values({
        surveyId,
        address: harvest.address,
        state: 'done',
        outcome: 'answered',
        deviceId: result.deviceId,
        seq: 1,
      })
      .onConflictDoNothing()
      .run();
    return result;
  });
  for (const { address, deviceId } of silent)
    store.db.insert(visit).values({ surveyId, address, state: 'done', outcome: 'silent', deviceId, seq: 1 }).run();
  return committed;
}
const told = (after: number, upTo: number) =>
  changesBetween(store.db, after, upTo).map(({ kind, thing, subject, field, before, after: now }) =>
    [kind, thing, subject, field, before, now].join('|'),
  );

describe('committing a report', () => {
  test('the same twice in one survey, and again in the next, leaves one version of everything', () => {
    inSurvey([plat(), plat()]);
    inSurvey([plat()]);
    expect(factHistory(store.db, 'device')).toHaveLength(1);
    expect(factHistory(store.db, 'module')).toHaveLength(2);
    expect(store.db.select().from(device).all()).toHaveLength(1);
  });
  test('another chassis under the same name and address is the same role, replaced', () => {
    expect(inSurvey([plat()])).toEqual([{ deviceId: 1, kind: 'new' }]);
    expect(inSurvey([plat({ modules: [part(1, 'rpw-plat', 'KA48-2')] })])).toEqual([{ deviceId: 1, kind: 'replaced' }]);
    expect(told(1, 2)).toEqual(
      expect.arrayContaining([
        'replaced|device|rpw-plat|serial|KA48-1|KA48-2',
        'removed|module|rpw-plat / Supply 1||rpw-plat / Supply 1|',
      ]),
    );
  });
  test('a second address of a device that answered already changes nothing', () => {
    const other = plat({ address: '10.72.4.251' });
    expect(inSurvey([plat(), other]).map(({ deviceId, kind }) => [deviceId, kind])).toEqual([
      [1, 'new'],
      [1, 'known'],
    ]);
    expect(factsAsOf<DeviceFacts>(store.db, 'device', 1).map(({ content }) => content.address)).toEqual(['10.72.4.2']);
  });
  test('in whatever order its addresses answer, it is known under one of them: the lowest at first, and that as long as it has it', () => {
    const at = (address: string, own = ['10.72.4.2', '10.72.4.17', '10.72.4.251']) =>
      plat({ address, addresses: own.map((mine, place) => ({ address: mine, ifIndex: place + 1, prefixLength: 24 })) });
    const known = (survey: number) =>
      factsAsOf<DeviceFacts>(store.db, 'device', survey).map(({ content }) => content.address);
    inSurvey([at('10.72.4.251'), at('10.72.4.17'), at('10.72.4.2')]);
    inSurvey([at('10.72.4.17'), at('10.72.4.2'), at('10.72.4.251')]);
    // one of them alone, and not even the one it is known under
    inSurvey([at('10.72.4.251')]);
    expect([known(1), known(2), known(3)]).toEqual([['10.72.4.2'], ['10.72.4.2'], ['10.72.4.2']]);
    expect(factHistory(store.db, 'device')).toHaveLength(1);
    // a lower one that came later is no reason to call it otherwise; losing its own is
    inSurvey([at('10.72.4.1', ['10.72.4.1', '10.72.4.2'])]);
    inSurvey([at('10.72.4.1', ['10.72.4.1'])]);
    expect([known(4), known(5)]).toEqual([['10.72.4.2'], ['10.72.4.1']]);
  });
  test('a part that was not covered closes nothing, and writes where nothing is known yet', () => {
    inSurvey([plat()]);
    const half = new Set([...all].filter((name) => name !== 'modules'));
    inSurvey([plat({ modules: [part(1, 'rpw-plat', 'KA48-1')] })], { covered: half });
    expect(factsAsOf<ModuleFacts>(store.db, 'module', 2).map(({ content }) => content.name)).toEqual([
      'rpw-plat',
      'Supply 1',
    ]);
    inSurvey([named('new-one', '10.72.9.9', { modules: [part(1, 'new-one', 'KA48-9')] })], { covered: half });
    expect(factsAsOf<ModuleFacts>(store.db, 'module', 3, [2])).toHaveLength(1);
  });
  test('forwarding tables are kept as they were last seen whole', () => {
    const bridge: Harvest['bridge'] = {
      address: '02:4b:45:00:00:01',
      ifIndexByBridgePort: new Map([[1, 1]]),
      pvid: new Map(),
      vlans: [],
      stp: { root: null, rootBridgePort: null, ports: [] },
      forwarding: [{ mac: '02:43:41:00:00:01', bridgePort: 1, vlan: 10 }],
    };
    inSurvey([plat({ bridge })]);
    inSurvey([plat()], {
      covered: new Set([...all].filter((name) => name !== 'bridge' && name !== 'neighbourAddresses')),
    });
    expect(sightingsOf(store.db, 1).forwarding).toEqual([{ mac: '02:43:41:00:00:01', port: '1', vlan: 10 }]);
  });
});

describe('what changed between two surveys', () => {
  test('one row a changed field, with both values', () => {
    inSurvey([plat()]);
    inSurvey([
      plat({ interfaces: [interfaceRow(1, '1', { alias: 'camera 4' }), interfaceRow(2, '2', { oper: 'down' })] }),
    ]);
    expect(told(1, 2)).toEqual([
      'changed|port|rpw-plat 1|alias||camera 4',
      'changed|port|rpw-plat 2|oper|up|down',
      'changed|port|rpw-plat 2|speedBps|1000000000|',
    ]);
  });
  test('a device that is new is one row, its parts are none of their own', () => {
    inSurvey([plat()]);
    inSurvey([
      plat(),
      named('tme-plat', '10.72.17.2', { modules: [part(1, 'tme-plat', 'KA24-1')], interfaces: [interfaceRow(1, '1')] }),
    ]);
    expect(told(1, 2)).toEqual(['added|device|tme-plat|||tme-plat']);
  });
  test('what changed and changed back between the two is no change', () => {
    const blinked = plat({ interfaces: [interfaceRow(1, '1', { alias: 'x' }), interfaceRow(2, '2')] });
    for (const harvest of [plat(), blinked, plat()]) inSurvey([harvest]);
    expect([told(1, 3), told(1, 2).length, told(2, 3).length]).toEqual([[], 1, 1]);
  });
  test('a module that came and went again in between is none', () => {
    const more = plat({
      modules: [part(1, 'rpw-plat', 'KA48-1'), part(2, 'Supply 1', 'KP-1'), part(3, 'Supply 2', 'KP-2')],
    });
    for (const harvest of [plat(), more, plat()]) inSurvey([harvest]);
    expect([told(1, 2), told(1, 3)]).toEqual([['added|module|rpw-plat / Supply 2|||rpw-plat / Supply 2'], []]);
  });
  test('silence is a change of its own, told once, and nothing is removed by it', () => {
    inSurvey([plat()]);
    inSurvey([], { silent: [{ address: '10.72.4.2', deviceId: 1 }] });
    inSurvey([], { silent: [{ address: '10.72.4.2', deviceId: 1 }] });
    expect([told(1, 2), told(2, 3)]).toEqual([['silent|device|rpw-plat|state|answering|silent'], []]);
    expect(factsAsOf(store.db, 'device', 3)).toHaveLength(1);
  });
  test('an answer on one address outweighs silence on another of the same device', () => {
    inSurvey([plat()], { silent: [{ address: '10.72.4.251', deviceId: 1 }] });
    expect(latestOutcomes(store.db, 1).get(1)).toMatchObject({ outcome: 'answered', address: '10.72.4.2' });
  });
});

test('a survey that runs is not the latest one', () => {
  inSurvey([plat()]);
  store.db
    .insert(survey)
    .values({ scopeName: 's', scope: {}, state: 'running', startedAt: '2026-11-23T06:00:00Z' })
    .run();
  expect(latestSealed(store.db)).toBe(1);
});
