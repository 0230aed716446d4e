import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { chosenTerm, withTerm } from './terms';

test.each([
  ['', 'site', 'LQY', 'site=LQY'],
  ['role=switch', 'site', 'LQY', 'role=switch site=LQY'],
  ['site=RPW role=switch', 'site', 'LQY', 'role=switch site=LQY'],
  ['site="Old Foundry" role=switch', 'site', null, 'role=switch'],
  ['site=RPW', 'site', null, ''],
  ['name:core', 'model', 'K-Core 8', 'name:core model="K-Core 8"'],
  ['maker:x', 'maker', '', 'maker:x maker=""'],
  ['site=RPW or site=LQY', 'role', 'switch', '(site=RPW or site=LQY) role=switch'],
  ['(site=RPW or site=LQY) role=switch', 'role', null, '(site=RPW or site=LQY)'],
])('%s with %s %s is %s', (where, field, value, expected) => {
  expect(withTerm(where, field, value)).toBe(expected);
});

test('only what every row must fit is chosen', () => {
  expect([chosenTerm('role=switch site="Old Foundry"', 'site'), chosenTerm('site=RPW or site=LQY', 'site'), chosenTerm('-site=RPW', 'site'), chosenTerm('site!=RPW', 'site'), chosenTerm('site=', 'site'), chosenTerm('', 'site')]).toEqual(['Old Foundry', null, null, null, null, null]);
});

test('what was put in is chosen, and taken out leaves what was there', () => {
  const value = fc.string({ maxLength: 8 }).filter((text) => !text.includes('"'));
  fc.assert(fc.property(fc.constantFrom('', 'core', 'role=switch', 'a or b', '(a or b) -c'), value, (where, given) => {
    const narrowed = withTerm(where, 'site', given);
    expect(chosenTerm(narrowed, 'site')).toBe(given);
    expect(withTerm(narrowed, 'site', null).replace(/^\((a or b)\)$/, '$1')).toBe(where);
  }));
});
