import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { openSample, type SampleStore } from '../../../e2e/support/sampleStore';
import { thingNames } from '../../core/things/things';
import { changesBetween } from '../../store/base/changes';
import { thinSurvey } from '../../store/thinning';
import { newestSealed } from './calendar';
import { queryThing } from './query';

let sample: SampleStore;
beforeAll(async () => {
  sample = await openSample({ steps: [1, 2, 3, 8] });
});
afterAll(() => sample.close());

/** Since when, when last, in how many surveys, and how many since the survey before: told by what is left. */
const sinceWhen = new Set(['firstSeen', 'lastSeen', 'samples', 'history', 'errors', 'discards']);
/** The table of changes tells of those since another survey, which may be the one that went. */
const names = thingNames.filter((name) => name !== 'changes');

/** All that can be asked of some surveys, and of what changed between any two of them. */
function allOf(surveys: readonly number[]): Map<string, string> {
  const { store } = sample;
  const told = new Map<string, string>();
  for (const survey of surveys) {
    for (const name of names) {
      const { rows } = queryThing(store, name, { survey, against: null, where: '', sort: [], page: 1, size: 100_000 });
      const shown = rows.map((row) =>
        Object.fromEntries(Object.entries(row).filter(([field]) => !sinceWhen.has(field))),
      );
      told.set(`${name} at ${survey}`, JSON.stringify(shown));
    }
    for (const upTo of surveys.filter((other) => other > survey))
      told.set(
        `changes from ${survey} to ${upTo}`,
        JSON.stringify(changesBetween(store.db, survey, upTo).map(({ survey: _, ...change }) => change)),
      );
  }
  return told;
}

test.each([
  [2, [1, 3, 4]],
  [3, [1, 4]],
])('without survey %i every other one says what it said, and every difference', (thinned, left) => {
  const before = allOf(left);
  const rows = () =>
    (
      sample.store.raw.prepare('select (select count(*) from port_fact) + (select count(*) from visit) as n').get() as {
        n: number;
      }
    ).n;
  const had = rows();
  thinSurvey(sample.store, thinned);
  expect(newestSealed(sample.store.db, 10)).toEqual([...left].reverse());
  const after = allOf(left);
  for (const [what, told] of before) expect([what, after.get(what)]).toEqual([what, told]);
  expect(rows()).toBeLessThan(had);
});

test('the newest says what there is, and stays', () => {
  thinSurvey(sample.store, 4);
  expect(newestSealed(sample.store.db, 10)).toEqual([4, 1]);
});
