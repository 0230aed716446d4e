import { describe, expect, test } from '@jest/globals';
import { placeInSort, sortedAnew } from './sorting';

describe('a press on a head', () => {
  test('sorts by that column alone, turns it round, and lets it go', () => {
    expect([
      sortedAnew('', 'site', false),
      sortedAnew('site', 'site', false),
      sortedAnew('-site', 'site', false),
    ]).toEqual(['site', '-site', '']);
    expect([sortedAnew('role', 'site', false), sortedAnew('site,-name', 'site', false)]).toEqual(['site', 'site']);
  });
  test('with Shift takes it beside the others', () => {
    const presses = ['site', 'name', 'name', 'role', 'name'];
    let sort = '';
    const seen = presses.map((name) => (sort = sortedAnew(sort, name, true)));
    expect(seen).toEqual(['site', 'site,name', 'site,-name', 'site,-name,role', 'site,role']);
  });
});

test('a column tells which way it goes, and as which of several', () => {
  expect([placeInSort('site,-name', 'name'), placeInSort('-name', 'name'), placeInSort('site', 'name')]).toEqual([
    { isDescending: true, rank: 2 },
    { isDescending: true, rank: null },
    null,
  ]);
});
