import { expect, test } from '@jest/globals';
import { standingPlaces } from './standingPlaces';

test('each stands beside what it is part of, as high as many it stands for, verdicts in their order', () => {
  const groups = [
    // as the table tells them: outer groups with their sums too
    { path: ['ready'], count: 8 },
    { path: ['ready', 'K-Access'], count: 7 },
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
  const [ready, blocked, access, sgh, hdp] = [
    at('ready'),
    at('blocked'),
    at('ready', 'K-Access'),
    at('ready', 'K-Access', 'SGH'),
    at('ready', 'K-Access', 'HDP'),
  ];
  expect([ready?.x, access?.x, sgh?.x].map((x) => Math.round(x ?? -1))).toEqual([0, 100, 200]);
  expect((ready?.height ?? 0) / (blocked?.height ?? 1)).toBeGreaterThan(3);
  expect(blocked?.y).toBeGreaterThan((ready?.y ?? 0) + (ready?.height ?? 0));
  expect(access?.count).toBe(7);
  // the larger part stands above
  expect(hdp?.y).toBeGreaterThan(sgh?.y ?? Infinity);
  for (const { x, width, y, height } of parts) {
    expect(x + width).toBeLessThanOrEqual(300.001);
    expect(y + height).toBeLessThanOrEqual(100.001);
  }
  expect(at('ready', 'K-Ring', '')).toMatchObject({ count: 1 });
  expect(standingPlaces([], ['ready'], 300, 100)).toEqual([]);
});
