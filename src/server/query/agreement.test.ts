import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { openSample, type SampleStore } from '../../../e2e/support/sampleStore';
import { kindsOfChange } from '../../core/things/comparison';
import { thingNames, things } from '../../core/things/things';
import { changesBetween } from '../../store/base/changes';
import { today } from '../estate/today';
import { Calendar, newestSealed, sealedSurvey } from './calendar';
import { queryThing, thingRows } from './query';

let sample: SampleStore;
beforeAll(async () => {
  sample = await openSample({ steps: [1, 2, 3, 8] });
});
afterAll(() => sample.close());

const pairs = [1, 2, 3].flatMap((after) =>
  [2, 3, 4].filter((upTo) => upTo > after).map((upTo) => [after, upTo] as const),
);
const marked = (name: (typeof thingNames)[number], survey: number, against: number) =>
  queryThing(sample.store, name, { survey, against, where: '', sort: [], page: 1, size: 100_000 });
const told = { added: 'added', gone: 'removed', changed: 'changed', replaced: 'replaced', silent: 'silent' } as const;

test.each(pairs)('what tables mark between %i and %i is what the list of changes tells', (after, upTo) => {
  const changes = changesBetween(sample.store.db, after, upTo);
  const isNew = kindsOfChange(changes, 'device');
  let compared = 0;
  for (const name of thingNames) {
    const word = things[name].changeWord;
    if (!word) continue;
    const marks = marked(name, upTo, after).rows.flatMap(({ id, change, deviceId }): [string, string][] => {
      // parts of a device that came as a whole are told by its own line
      const withWhole = name !== 'devices' && name !== 'endpoints' && isNew.get(String(deviceId)) === 'added';
      return change && !withWhole ? [[id, told[change]]] : [];
    });
    expect([name, Object.fromEntries(marks)]).toEqual([name, Object.fromEntries(kindsOfChange(changes, word))]);
    compared += marks.length;
  }
  expect(compared).toBeGreaterThan(0);
});

test.each(pairs)('Today tells of %i to %i what the table of devices counts', (after, upTo) => {
  const { counts } = marked('devices', upTo, after);
  const { numbers, changes } = today(sample.store, upTo, after);
  expect(numbers).toMatchObject({
    newDevices: counts?.added,
    replaced: counts?.replaced,
    changedDevices: counts?.changed,
    newlySilent: counts?.silent,
  });
  expect(changes.length).toBe(thingRows(sample.store, 'changes', upTo, after).length);
});

test('the time strip tells of each survey what its list of changes has', () => {
  const surveys = newestSealed(sample.store.db, 100)
    .reverse()
    .map((id) => sealedSurvey(sample.store.db, id));
  expect(surveys.length).toBeGreaterThan(2);
  const calendar = new Calendar(sample.store.db);
  for (const told of surveys.slice(1)) {
    if (!told) throw new Error('a sealed survey is not told');
    const { id, summary } = told;
    const step = changesBetween(sample.store.db, calendar.before(id), id);
    expect([id, summary.changes, summary.devices.changed]).toEqual([
      id,
      thingRows(sample.store, 'changes', id, calendar.before(id)).length,
      [...kindsOfChange(step, 'device').values()].filter((kind) => kind === 'changed').length,
    ]);
  }
});
