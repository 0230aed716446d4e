import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compileFilter, type FilterField } from './predicate';
import { FilterError, parseFilter } from './syntax';

const fields: FilterField[] = [
  { name: 'name', kind: 'text' },
  { name: 'address', kind: 'address' },
  { name: 'release', kind: 'release' },
  { name: 'speedBps', kind: 'bitsPerSecond' },
  { name: 'memoryBytes', kind: 'bytes' },
  { name: 'mac', kind: 'mac' },
  { name: 'vlans', kind: 'number' },
  { name: 'empty', kind: 'boolean' },
  { name: 'firstSeen', kind: 'date' },
  { name: 'state', kind: 'text', listed: true },
];
const rows = [
  {
    id: 'a',
    name: 'rpw-plat',
    address: '10.72.4.2',
    release: '7.4.12b',
    speedBps: 1e9,
    memoryBytes: 512 * 1024 ** 2,
    mac: '02:4b:45:00:00:01',
    vlans: [10, 30],
    empty: false,
    firstSeen: '2026-10-05T06:00:00.000Z',
    state: 'answering',
  },
  {
    id: 'b',
    name: 'chd ring',
    address: '10.72.5.1',
    release: '7.4.9',
    speedBps: 1e10,
    memoryBytes: null,
    mac: null,
    vlans: [],
    empty: true,
    firstSeen: '2026-11-16T06:00:00.000Z',
    state: 'silent',
  },
];
const find = (filter: string) =>
  rows
    .filter(
      compileFilter(parseFilter(filter), fields, {
        port: {
          fields: [{ name: 'speed', kind: 'bitsPerSecond' }],
          of: (row: { id: string }) => (row.id === 'a' ? [{ speed: 1e8 }] : []),
        },
      }),
    )
    .map(({ id }) => id)
    .join('');

describe('the filter language', () => {
  test.each([
    ['', 'ab'],
    ['rpw', 'a'],
    ['RPW', 'a'],
    ['"chd ring"', 'b'],
    ['name:ring', 'b'],
    ['name=rpw-plat', 'a'],
    ['name!=rpw-plat', 'b'],
    ['-rpw', 'b'],
    ['rpw or chd', 'ab'],
    ['rpw chd', ''],
    ['(rpw or chd) -vlans=10', 'b'],
    ['name:p or name:r address:10.72.5.0/24', 'ab'],
    ['address:10.72.4.0/22', 'ab'],
    ['address:10.72.4.0/24', 'a'],
    ['release<7.4.12b', 'b'],
    ['release>=7.4.10', 'a'],
    ['speedBps>1G', 'b'],
    ['speedBps<=1G', 'a'],
    ['memoryBytes>=512M', 'a'],
    ['memoryBytes<1G', 'a'],
    ['mac=024b.4500.0001', 'a'],
    ['02-4B-45-00-00-01', 'a'],
    ['vlans=30', 'a'],
    ['vlans!=30', 'b'],
    ['empty=yes', 'b'],
    ['firstSeen>2026-11-01', 'b'],
    ['port.speed<1G', 'a'],
    ['speed>1G', 'b'],
    ['memory>=512M', 'a'],
    ['-(name:rpw)', 'b'],
    // a bare word is not found in what is shown otherwise than it is kept, nor in the middle of a state
    ['ring', 'b'],
    ['answer', 'a'],
    ['state:ring', 'a'],
    ['2026', ''],
    ['false', ''],
    ['NAME=rpw-plat', 'a'],
  ])('%s', (filter, expected) => expect(find(filter)).toBe(expected));

  test.each([
    ['name:', 5, 'a value'],
    ['(rpw', 4, ')'],
    ['rpw)', 3, 'a term or the end'],
    ['rpw or', 6, 'a word or field:value'],
    ['"open', 5, '"'],
    ['-', 1, 'a word, field:value or ('],
    ['=5', 0, 'a field name'],
  ])('a mistake in %s is at its place', (filter, at, expected) => {
    expect.assertions(2);
    try {
      parseFilter(filter);
    } catch (error) {
      expect((error as FilterError).at).toBe(at);
      expect((error as FilterError).expected).toBe(expected);
    }
  });

  test('unknown fields and values that do not fit are mistakes, not empty answers', () => {
    expect(() => find('nam=x')).toThrow('There is no field “nam”');
    expect(() => find('rpw speedBps>fast')).toThrow(FilterError);
    expect(() => find('address:10.72.4.1/24')).toThrow('does not fit');
    expect(() => find('empty=perhaps')).toThrow(FilterError);
  });

  test('garbage parses or is a FilterError within the text; a parsed one compiles or is a FilterError', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (text) => {
        try {
          compileFilter(parseFilter(text), fields);
        } catch (error) {
          expect(error).toBeInstanceOf(FilterError);
          expect((error as FilterError).at).toBeLessThanOrEqual(text.length);
        }
      }),
      { numRuns: 1000 },
    );
  });

  test('not, and, or obey logic', () => {
    const word = fc.constantFrom('rpw', 'chd', 'ring', 'plat', '10.72.4', 'nothing');
    fc.assert(
      fc.property(word, word, (x, y) => {
        expect(find(`-(${x} or ${y})`)).toBe(find(`-${x} -${y}`));
        expect(find(`-(${x} ${y})`)).toBe(find(`-${x} or -${y}`));
      }),
    );
  });
});
