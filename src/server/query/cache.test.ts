import { expect, test } from '@jest/globals';
import { Cache } from './cache';

test('what was asked for longest ago is given up, what is pinned stays', () => {
  let made: string[] = [];
  const kept = new Cache<string>(2, (key) => key.endsWith(' 9'));
  const ask = (key: string) =>
    kept.get(key, () => {
      made.push(key);
      return key;
    });
  for (const key of ['ports 9', 'devices 9', 'ports 1', 'ports 2', 'ports 1', 'ports 3', 'ports 4']) ask(key);
  expect(made).toEqual(['ports 9', 'devices 9', 'ports 1', 'ports 2', 'ports 3', 'ports 4']);
  made = [];
  for (const key of ['ports 9', 'devices 9', 'ports 3', 'ports 4', 'ports 1']) ask(key);
  expect(made).toEqual(['ports 1']);
  kept.clear();
  expect(ask('ports 9')).toBe('ports 9');
  expect(made).toEqual(['ports 1', 'ports 9']);
});

test('what was made at another stamp gives way, though it is pinned: nothing piles up', () => {
  const kept = new Cache<string>(2, () => true);
  const ask = (stamp: string) => kept.get('services 9', () => `made at ${stamp}`, stamp);
  expect([ask('one'), ask('one'), ask('two'), ask('one')]).toEqual([
    'made at one',
    'made at one',
    'made at two',
    'made at one',
  ]);
});
