import { expect, test } from '@jest/globals';
import { NameIndex } from './nameIndex';

const index = new NameIndex(
  ['core.east.example', 'core.west.example', 'sgh-core-1', 'lodge.east.example', 'twice', 'twice', '10.72.0.1'].map(
    (name, at) => [name, at],
  ),
);

test.each([
  ['whole, in any case', 'Core.East.Example', 0],
  ['with the dot of the root', 'core.west.example.', 1],
  ['half a name that two share', 'core', undefined],
  ['half a name of another domain', 'core.north.example', undefined],
  ['half a name that one has', 'lodge', 3],
  ['another domain than the one it has', 'lodge.west.example', undefined],
  ['a domain, where the device tells none', 'sgh-core-1.ostermere.example', 2],
  ['a name that two have', 'twice', undefined],
  ['an address, which has no half', '10.9.9.9', undefined],
  ['an address as a name', '10.72.0.1', 6],
  ['nothing', '', undefined],
])('%s', (_, name, expected) => {
  expect(index.get(name)).toBe(expected);
});
