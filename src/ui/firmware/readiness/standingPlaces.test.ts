import { expect, test } from '@jest/globals';
import { standingPlaces } from './standingPlaces';

test('each stands beside what it is part of, as high as many it stands for, verdicts in their order', () => {
  const groups = [
    { path: ['ready', 'K-Access', 'SGH'], count: 6 },
    { path: ['blocked', 'K-Core', 'SGH'], count: 2 },
    { path: ['ready', 'K-Access', 'HDP'], count: 1 },
    { path: ['ready', 'K-Ring', ''], count: 1 },
  ];
  const parts = standingPlaces(groups, ['ready', 'blocked'], 300, 100);
  const at = (...path: string[]) => parts.find((one) => one.path.join('/') === path.join('/'));
  expect(parts.filter(({ depth }) => depth === 1).map(({ name, count }) => [name, count])).toEqual([
    ['ready', 8],
    ['blocked', 2],
  ]);
  expect(at('ready')).toMatchObject({ x: 0, y: 0 });
  expect(Math.round(at('ready')?.height ?? 0)).toBe(80);
  expect(at('ready', 'K-Access')).toMatchObject({ count: 7, x: 100 });
  // the larger part stands above
  expect(at('ready', 'K-Access', 'SGH')).toMatchObject({ x: 200, y: 0, count: 6 });
  expect(at('ready', 'K-Ring', '')).toMatchObject({ count: 1 });
  expect(standingPlaces([], ['ready'], 300, 100)).toEqual([]);
});
