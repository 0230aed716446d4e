import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { placeSpans, type PlaceVersion } from './placeSpans';

const version = (
  fromSurvey: number,
  untilSurvey: number | null,
  deviceId: number | null,
  port: string | null,
  more: Partial<PlaceVersion['content']> = {},
): PlaceVersion => ({
  fromSurvey,
  untilSurvey,
  content: { deviceId, port, vlan: 10, via: 'direct', addresses: [], ...more },
});
const before = (survey: number) => survey - 1;
const told = (versions: PlaceVersion[], at: number) =>
  placeSpans(versions, at, before).map(({ deviceId, port, fromSurvey, lastSurvey, holds }) => [
    deviceId,
    port,
    fromSurvey,
    lastSurvey,
    holds,
  ]);

test('versions on one port are one stay, whatever else changed; a move and an absence end it', () => {
  const life = [
    version(1, 3, 4, '7', { addresses: ['10.72.4.9'] }),
    version(3, 5, 4, '7', { vlan: 20, basis: 'remembered', addresses: ['10.72.4.10'] }),
    version(5, 6, 5, '1'),
    version(8, null, 4, '7'),
  ];
  expect(told(life, 9)).toEqual([
    [4, '7', 1, 4, false],
    [5, '1', 5, 5, false],
    [4, '7', 8, 9, true],
  ]);
  expect(placeSpans(life, 9, before)[0]).toMatchObject({
    vlan: 20,
    basis: 'remembered',
    addresses: ['10.72.4.9', '10.72.4.10'],
  });
  // looking back, what came later is not known
  expect(told(life, 4)).toEqual([[4, '7', 1, 4, true]]);
  expect(told(life, 7)).toEqual([
    [4, '7', 1, 4, false],
    [5, '1', 5, 5, false],
  ]);
});
test('a place that nobody knows is a stay of its own', () => {
  expect(told([version(1, 2, 4, '7'), version(2, null, null, null)], 3)).toEqual([
    [4, '7', 1, 1, false],
    [null, null, 2, 3, true],
  ]);
});
test('stays lie behind each other and cover every survey that saw the machine, once', () => {
  const life = fc
    .array(fc.tuple(fc.integer({ min: 1, max: 3 }), fc.integer({ min: 0, max: 2 }), fc.constantFrom('1', '2')), {
      minLength: 1,
      maxLength: 8,
    })
    .map((steps) => {
      let at = 1;
      return steps.map(([length, gap, port]): PlaceVersion => {
        const one = version(at, at + length, 1, port);
        at += length + gap;
        return one;
      });
    });
  fc.assert(
    fc.property(life, fc.integer({ min: 1, max: 40 }), (versions, at) => {
      const spans = placeSpans(versions, at, before);
      const seen = (survey: number) =>
        versions.some(({ fromSurvey, untilSurvey }) => fromSurvey <= survey && survey < (untilSurvey ?? Infinity));
      for (let survey = 1; survey <= at; survey++)
        expect(spans.filter(({ fromSurvey, lastSurvey }) => fromSurvey <= survey && survey <= lastSurvey)).toHaveLength(
          seen(survey) ? 1 : 0,
        );
      spans.forEach(({ fromSurvey }, nth) => expect(fromSurvey > (spans[nth - 1]?.lastSurvey ?? 0)).toBe(true));
    }),
  );
});
