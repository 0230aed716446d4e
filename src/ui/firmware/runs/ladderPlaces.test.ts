import { expect, test } from '@jest/globals';
import { ladderPlaces, mostDashes, rungWords, type Rung } from './ladderPlaces';

const rung = (release: string, count: number, more: Partial<Rung> = {}): Rung => ({
  ...{ release, count, before: null, published: null, status: null, targetOf: [] },
  ...more,
});

test('releases stand in their order and within the room there is', () => {
  const { rungs } = ladderPlaces({ rungs: ['7.2', '7.4.9', '7.4.12b', '7.6'].map((one) => rung(one, 1)) }, 600);
  const places = rungs.map(({ x }) => x);
  expect([...places].sort((x, y) => x - y)).toEqual(places);
  expect(places.every((x) => x > 0 && x < 600)).toBe(true);
  expect(rungs.every(({ isNamed }) => isNamed)).toBe(true);
});

test('a stack is never taller than it may be, and what runs is never without a dash', () => {
  const { rungs, each } = ladderPlaces({ rungs: [rung('1', 400), rung('2', 1), rung('3', 0)] }, 600);
  expect(each).toBe(50);
  expect(rungs.map(({ dashes }) => dashes)).toEqual([mostDashes, 1, 0]);
});

test('where there is no room for all names, those of what runs are kept, and none lies on another', () => {
  const many = Array.from({ length: 24 }, (_, at) => rung(`7.4.${at + 100}b`, at % 6 === 0 ? 3 : 0));
  const named = ladderPlaces({ rungs: many }, 480).rungs.filter(({ isNamed }) => isNamed);
  expect(named.length).toBeGreaterThan(1);
  expect(named.every(({ count }) => count > 0)).toBe(true);
  named.slice(1).forEach(({ x, release }, at) => expect(x - (named[at]?.x ?? 0)).toBeGreaterThan(release.length * 6));
});

test('a release in a sentence', () => {
  const ladder = {
    ...{ vendor: '', product: 'K-Access', component: 'system', scheme: null, count: 0, devices: 0, spread: 1 },
    ...{ rungs: [], older: 0 },
  };
  expect(
    rungWords(ladder, rung('7.4.12b', 12, { before: 3, published: '2026-06-16', targetOf: ['all', 'Try-out'] })),
  ).toBe('K-Access system 7.4.12b: 12 run it, 3 did before, published 2026-06-16, the target of all and “Try-out”');
  expect(rungWords(ladder, rung('7.6.1', 0))).toBe('K-Access system 7.6.1: nothing runs it');
});
