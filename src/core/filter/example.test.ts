import { expect, test } from '@jest/globals';
import { exampleFields, exampleWith } from './example';

const hint = 'a name or serial; role={role} site={site}';

test('an example speaks of what is there', () => {
  expect(exampleFields(hint)).toEqual(['role', 'site']);
  const values = new Map([
    ['role', 'access-point'],
    ['site', 'North Quay'],
  ]);
  expect(exampleWith(hint, values)).toBe('a name or serial; role=access-point site="North Quay"');
});

test('and of nothing else', () => {
  expect(exampleWith(hint, new Map([['site', 'A']]))).toBe('a name or serial; site=A');
  expect(exampleWith(hint, new Map())).toBe('a name or serial');
  expect(exampleWith('vlan={vlan}; a guest', new Map())).toBe('a guest');
  expect(exampleWith('site={site}, or a group', new Map())).toBe('or a group');
});
