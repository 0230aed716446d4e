import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  completeTarget,
  isSameTarget,
  targetKey,
  TargetIndex,
  targetPlace,
  targetWords,
  type ReleaseTarget,
} from './target';

const told = { vendor: 'Kestrane', family: 'K-Ring', setBy: 'osric', setAt: '' };
const target = (release: string, more: Partial<ReleaseTarget> = {}) => completeTarget({ ...told, release, ...more });
const ring = { vendor: 'Kestrane', family: 'K-Ring', component: 'system', model: 'K-Ring 8' } as const;

test('a target of a group goes before that of the family; of several groups the first by name', () => {
  const targets = [
    target('1'),
    target('3', { group: 'South' }),
    target('2', { group: 'North' }),
    target('9', { group: 'North', family: 'K-Core' }),
  ];
  const of = (...groups: string[]) => new TargetIndex(targets).of(ring, ({ group }) => groups.includes(group))?.release;
  expect([of(), of('South'), of('South', 'North'), of('East')]).toEqual(['1', '3', '2', '1']);
  expect(new TargetIndex([target('2', { group: 'North' })]).of(ring, () => false)).toBeUndefined();
  expect(new TargetIndex(targets).of({ ...ring, vendor: 'Orrery' }, () => true)).toBeUndefined();
});

test('the more particular goes first: a filter, then the model, then a group', () => {
  const targets = [
    target('1'),
    target('2', { group: 'North' }),
    target('3', { model: 'K-Ring 8' }),
    target('4', { where: 'site=RPW' }),
    target('5', { component: 'boot code' }),
  ];
  const all = () => true;
  expect(new TargetIndex(targets).of(ring, all)?.release).toBe('4');
  expect(new TargetIndex(targets).of(ring, () => false)?.release).toBe('3');
  expect(new TargetIndex(targets).of({ ...ring, model: 'K-Ring 16' }, ({ group }) => group !== '')?.release).toBe('2');
  expect(new TargetIndex(targets).of({ ...ring, component: 'boot code' }, all)?.release).toBe('5');
  expect(new TargetIndex(targets).of({ ...ring, component: 'BIOS' }, all)).toBeUndefined();
});

test('a key says what it is of, whatever stands in it', () => {
  const text = fc.string({ maxLength: 12 }).map((one) => one.replaceAll('\t', ' '));
  const place = fc.record({
    vendor: text.map((one) => one.replace(/^\[/, '')),
    family: text,
    component: fc.constantFrom('system' as const, 'BIOS' as const),
    group: text,
    model: text,
    where: text,
    draft: text,
  });
  fc.assert(
    fc.property(place, place, (one, other) => {
      expect(completeTarget({ ...told, release: '1', ...targetPlace(targetKey(one)) })).toMatchObject(one);
      expect(targetKey(one) === targetKey(other)).toBe(JSON.stringify(one) === JSON.stringify(other));
    }),
  );
  // as they were kept before there were parts, models and drafts
  expect(targetKey({ vendor: 'Kestrane', family: 'K-Ring', group: 'North' })).toBe('Kestrane\tK-Ring\tNorth');
});

test('who set it and when makes no other target of it; its words say for whom it is', () => {
  const one = target('7.4.9', { group: 'North', why: 'mends the ring' });
  expect(isSameTarget(one, { ...one, setBy: 'wenna', setAt: '2026-11-23' })).toBe(true);
  expect(isSameTarget(one, { ...one, why: 'x' })).toBe(false);
  expect(targetWords(one)).toBe('Kestrane K-Ring 7.4.9 in North');
  expect(targetWords(target('2', { component: 'BIOS', where: 'site=RPW', draft: 'spring' }))).toBe(
    'Kestrane K-Ring BIOS 2 site=RPW in the draft spring',
  );
});
