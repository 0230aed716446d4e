import { expect, test } from '@jest/globals';
import { targetOf } from './target';

test('a target of a group goes before that of the family; of several groups the first by name', () => {
  const target = (release: string, group = '', family = 'K-Ring') => ({ vendor: 'Kestrane', family, release, group });
  const targets = [target('1'), target('3', 'South'), target('2', 'North'), target('9', 'North', 'K-Core')];
  const of = (...groups: string[]) =>
    targetOf(targets, { vendor: 'Kestrane', family: 'K-Ring' }, (group) => groups.includes(group))?.release;
  expect([of(), of('South'), of('South', 'North'), of('East')]).toEqual(['1', '3', '2', '1']);
  expect(targetOf([target('2', 'North')], { vendor: 'Kestrane', family: 'K-Ring' }, () => false)).toBeUndefined();
  expect(targetOf(targets, { vendor: 'Orrery', family: 'K-Ring' }, () => true)).toBeUndefined();
});
