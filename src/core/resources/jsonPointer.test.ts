import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Json } from './json';
import { splitResource, valueAtPointer } from './jsonPointer';

/** The document and its pointers of RFC 6901 section 5. */
const standard: Json = {
  foo: ['bar', 'baz'],
  '': 0,
  'a/b': 1,
  'c%d': 2,
  'e^f': 3,
  'g|h': 4,
  'i\\j': 5,
  'k"l': 6,
  ' ': 7,
  'm~n': 8,
};

test.each<[string, Json | undefined]>([
  ['', standard],
  ['/foo', ['bar', 'baz']],
  ['/foo/0', 'bar'],
  ['/', 0],
  ['/a~1b', 1],
  ['/c%d', 2],
  ['/e^f', 3],
  ['/g|h', 4],
  ['/i\\j', 5],
  ['/k"l', 6],
  ['/ ', 7],
  ['/m~0n', 8],
  ['/foo/2', undefined],
  ['/foo/-', undefined],
  ['/foo/00', undefined],
  ['/nothing/at/all', undefined],
  ['foo', undefined],
  ['/constructor', undefined],
  ['/foo/length', undefined],
])('%j', (pointer, value) => {
  expect(valueAtPointer(standard, pointer)).toEqual(value);
});

test('every value of any document is found by the pointer to it', () => {
  const pointers = (value: Json, so: string): [string, Json][] => [
    [so, value],
    ...(value !== null && typeof value === 'object'
      ? Object.entries(value).flatMap(([name, item]) =>
          pointers(item as Json, `${so}/${name.replaceAll('~', '~0').replaceAll('/', '~1')}`),
        )
      : []),
  ];
  fc.assert(
    fc.property(fc.jsonValue({ maxDepth: 3 }), (value) => {
      for (const [pointer, item] of pointers(value as Json, ''))
        expect(valueAtPointer(value as Json, pointer)).toEqual(item);
    }),
  );
});

test('a resource and the place in it are taken apart', () => {
  expect(splitResource('/redfish/v1/Chassis/1/Power#/PowerControl/0/PowerConsumedWatts')).toEqual({
    path: '/redfish/v1/Chassis/1/Power',
    pointer: '/PowerControl/0/PowerConsumedWatts',
  });
  for (const text of ['/redfish/v1', 'redfish#/a', '/a#b', '/a b#/c', '', '#/a'])
    expect([text, splitResource(text)]).toEqual([text, null]);
});
