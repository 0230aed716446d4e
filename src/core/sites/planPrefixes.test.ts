import { expect, test } from '@jest/globals';
import { planPrefixes } from './planPrefixes';
import type { SiteRule } from './siteRules';

const known: SiteRule[] = [
  { of: 'name', pattern: '{site}-*', site: '' },
  { of: 'prefix', pattern: '10.72.4.0/24', site: 'SGH' },
];
const lines = (...rows: string[][]) => rows.map((cells, at) => ({ line: at + 2, cells }));

test('a list of prefixes becomes rules: new ones first, the longest of them before the others; what is there keeps its place', () => {
  const plan = planPrefixes(
    ['Site', 'prefix', 'rack'],
    lines(
      ['RPW', '10.72.0.0/16', ''],
      ['LQY', '10.72.8.0/24', ''],
      ['HDP', '10.72.4.0/24', ''],
      ['LQY', '10.72.8.0/24', ''],
    ),
    known,
  );
  expect(plan.rules).toEqual([
    { of: 'prefix', pattern: '10.72.8.0/24', site: 'LQY' },
    { of: 'prefix', pattern: '10.72.0.0/16', site: 'RPW' },
    { of: 'name', pattern: '{site}-*', site: '' },
    { of: 'prefix', pattern: '10.72.4.0/24', site: 'HDP' },
  ]);
  expect([plan.named, plan.passedOver]).toEqual([3, ['rack']]);
  expect(planPrefixes(['site', 'prefix'], lines(['SGH', '10.72.4.0/24']), known).changes).toEqual([]);
});

test('nothing is taken where a line has a mistake', () => {
  const plan = planPrefixes(
    ['site', 'prefix'],
    lines(['', '10.72.9.0/24'], ['RPW', '10.72.9.1/24'], ['RPW', '10.72.10.0/24'], ['LQY', '10.72.10.0/24']),
    known,
  );
  expect(plan.mistakes.map(({ line, column }) => [line, column])).toEqual([
    [2, 'site'],
    [3, 'prefix'],
    [5, 'prefix'],
  ]);
  expect(plan.rules).toEqual(known);
  expect(planPrefixes(['name'], [], known).mistakes).toHaveLength(2);
});
