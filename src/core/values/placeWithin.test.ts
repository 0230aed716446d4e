import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { placeWithin } from './placeWithin';

describe('a place that somebody asked to be taken to', () => {
  test('is within the application, its query with it', () => {
    for (const place of ['/', '/today', '/estate?where=role%3Dswitch&sel=device:72', '/settings/you#password'])
      expect(placeWithin(place)).toBe(place);
  });
  test.each([
    '//elsewhere.invalid/estate',
    '/\\elsewhere.invalid',
    '/\t/elsewhere.invalid',
    '/\n\\elsewhere.invalid',
    '/.//elsewhere.invalid',
    'https://elsewhere.invalid/today',
    'javascript:alert(1)',
    'today',
    '',
    '/login?to=/login',
    '/api/v1/session',
    ['/today', '//elsewhere.invalid'],
    undefined,
  ])('is none: %j', (asked) => expect(placeWithin(asked)).toBeNull());

  test('never leads a browser elsewhere, whatever is asked', () => {
    const letters = fc.string({ unit: fc.constantFrom('/', '\\', '\t', '\n', '.', '@', ':', 'a', '%5c', '?') });
    fc.assert(
      fc.property(letters, (rest) => {
        const place = placeWithin(`/${rest}`);
        if (place !== null) expect(new URL(place, 'http://here.invalid').host).toBe('here.invalid');
      }),
    );
  });
});
