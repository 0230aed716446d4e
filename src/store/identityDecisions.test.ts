import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { openSample, type SampleStore } from '../../e2e/support/sampleStore';
import { thingNames } from '../core/things/things';
import { queryThing, type MarkedRow } from '../server/query/query';
import { tablesOf } from '../server/query/tables/estateTables';
import {
  decisionsAbout,
  doubtfulSurveys,
  IdentityDecisionError,
  joinCandidates,
  joinDevices,
  splitDevice,
  undoDecision,
} from './identityDecisions';

/** Three surveys: the baseline, rpw-plat replaced under its name and address, new releases. */
let sample: SampleStore;
beforeAll(async () => {
  sample = await openSample({ steps: [1, 2, 3] });
});
afterAll(() => sample.close());

const rows = (thing: (typeof thingNames)[number], survey: number, where = '', against: number | null = null) =>
  queryThing(sample.store, thing, { survey, against, where, sort: [], page: 1, size: 5000 }).rows;
const idOf = (survey: number) => Number(rows('devices', survey, 'name=rpw-plat')[0]?.id);
/** All that is known at every survey, without the numbers of devices and what follows from the surveys before. */
const known = () =>
  [1, 2, 3].map((survey) =>
    thingNames
      .filter((thing) => thing !== 'changes' && thing !== 'ledger')
      .map((thing) => [
        thing,
        rows(thing, survey).map(
          ({
            id: _id,
            deviceId: _device,
            a: _a,
            b: _b,
            fromId: _from,
            toId: _to,
            hostId: _host,
            client: _client,
            server: _server,
            firstSeen: _first,
            errors: _errors,
            discards: _discards,
            lastSeen: _last,
            ...row
          }: MarkedRow) => row,
        ),
      ]),
  );

test('a chassis that was replaced is parted from the one before it; every survey still tells what it told', () => {
  const before = known();
  const whole = idOf(1);
  expect(doubtfulSurveys(sample.store.db, whole)).toEqual([{ survey: 2, words: 'serial KA48-90117 → KA48-93302' }]);
  const other = splitDevice(sample.store.db, 'marla', whole, 2);
  expect([idOf(1), idOf(2), idOf(3)]).toEqual([whole, other, other]);
  expect(known()).toEqual(before);
  // what was one device with another serial is one that went and one that came
  expect(rows('devices', 2, 'name=rpw-plat', 1).map(({ change, serial }) => [change, serial])).toEqual([
    ['added', 'KA48-93302'],
    ['gone', 'KA48-90117'],
  ]);
  expect(rows('ports', 2, 'device=rpw-plat', 1).every(({ change }) => change === 'added' || change === 'gone')).toBe(
    true,
  );
  for (const survey of [2, 3])
    expect(
      rows('links', survey, 'from=rpw-plat or to=rpw-plat').every((row) =>
        [row.a, row.b].some((end) => (end as { deviceId: number }).deviceId === other),
      ),
    ).toBe(true);
  const [decision] = decisionsAbout(sample.store.db, other);
  expect(decision).toMatchObject({ kind: 'split', words: 'rpw-plat is another device from survey 2 on' });
  undoDecision(sample.store.db, decision?.id ?? 0);
  expect([idOf(1), idOf(3), undoDecision(sample.store.db, decision?.id ?? 0)]).toEqual([whole, whole, null]);
  expect(known()).toEqual(before);
  expect(rows('devices', 2, 'name=rpw-plat', 1).map(({ change, before: was }) => [change, was?.serial])).toEqual([
    ['replaced', 'KA48-90117'],
  ]);
});

test('what was decided holds at the next survey; the two put together again are one, back through all surveys', async () => {
  const whole = idOf(1);
  const other = splitDevice(sample.store.db, 'marla', whole, 2);
  await sample.survey();
  expect(Number(rows('devices', 4, 'name=rpw-plat')[0]?.id)).toBe(other);
  expect(rows('devices', 4, 'name=rpw-plat')).toHaveLength(1);
  expect(joinCandidates(sample.store.db, other)).toEqual([]);
  joinDevices(sample.store.db, 'marla', whole, other);
  expect([1, 2, 3, 4].map((survey) => idOf(survey))).toEqual([whole, whole, whole, whole]);
  expect(tablesOf(sample.store).table('ports', 4, null).owners().includes(other)).toBe(false);
  const [decision] = decisionsAbout(sample.store.db, whole);
  undoDecision(sample.store.db, decision?.id ?? 0);
  expect([1, 2, 3, 4].map((survey) => idOf(survey))).toEqual([whole, other, other, other]);
  joinDevices(sample.store.db, 'marla', whole, other);
});

test('two that answered in one survey are two; a device is not parted where it begins, nor where it did not answer', () => {
  const [first, second] = [
    Number(rows('devices', 3, 'name=sgh-core-1')[0]?.id),
    Number(rows('devices', 3, 'name=sgh-core-2')[0]?.id),
  ];
  expect(() => joinDevices(sample.store.db, 'marla', first, second)).toThrow('Both answered in survey 1');
  expect(() => joinDevices(sample.store.db, 'marla', first, first)).toThrow(IdentityDecisionError);
  expect(() => splitDevice(sample.store.db, 'marla', first, 1)).toThrow('found it first');
  expect(() => splitDevice(sample.store.db, 'marla', first, 9)).toThrow('did not answer');
});
