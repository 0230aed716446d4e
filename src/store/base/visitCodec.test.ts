import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { harvestParts } from '../../core/estate/harvest';
import { outcomeOf, unheardOverHttps } from '../../collect/survey/outcome';
import { packPhases, packWords, unpackPhases, unpackWords } from './visitCodec';

test('the words for silence are short in the file and whole again when read', () => {
  const silent = outcomeOf([{ credential: 'c', fault: 'no answer', message: '' }]);
  for (const { reason, remedy } of [silent, unheardOverHttps]) {
    for (const words of [reason, remedy])
      expect([packWords(words).length, unpackWords(packWords(words))]).toEqual([2, words]);
  }
});
test('any other words stay as they are', () => {
  fc.assert(fc.property(fc.string(), (words) => unpackWords(packWords(words)) === words || /^§\d+$/.test(words)));
  expect([packWords(''), unpackWords('§99')]).toEqual(['', '§99']);
});
test('phases come back to the millisecond, also those that have no place', () => {
  fc.assert(
    fc.property(
      fc.dictionary(
        fc.oneof(fc.constantFrom('probe', 'commit', 'redfish', ...harvestParts), fc.constantFrom('later phase', 'x')),
        fc.nat(600_000),
      ),
      (milliseconds) => {
        const seconds = Object.fromEntries(Object.entries(milliseconds).map(([name, value]) => [name, value / 1000]));
        expect(unpackPhases(packPhases(seconds))).toEqual(seconds);
      },
    ),
  );
});
test('places never move: what was written by an earlier release is read by them', () => {
  const at = (place: number) => `${','.repeat(place)}1500`;
  expect([0, 4, 10, 17, 18, 22, 24, 28].map((place) => Object.keys(unpackPhases(at(place)))[0])).toEqual([
    'probe',
    'system',
    'bridge',
    'machines',
    'contexts',
    'private',
    'redfish',
    'hypervisors',
  ]);
});
test('what was written before is read as it was', () => {
  expect(unpackPhases('{"probe":0.004,"bridge":1.5}')).toEqual({ probe: 0.004, bridge: 1.5 });
  expect(unpackPhases('')).toEqual({});
});
