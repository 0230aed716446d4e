import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compileFilter } from './predicate';
import type { FilterField } from './filterField';
import { FilterError } from './filterNode';
import { parseFilter } from './syntax';

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
  { name: 'role', kind: 'text', isSpoken: true },
  { name: 'what', kind: 'text', shownAs: { memoryBytes: ['Memory'] } },
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
    role: 'access-point',
    what: 'memoryBytes',
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
    role: 'switch',
    what: 'model',
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
    // habits of other query languages
    ['rpw and vlans=10', 'a'],
    ['rpw AND NOT vlans=10', ''],
    ['not rpw', 'b'],
    ['name=rpw-plat and not (vlans=30 or chd)', ''],
    ['name==rpw-plat', 'a'],
    ['name = rpw-plat', 'a'],
    ['name= "chd ring" or speed >= 100 G', 'b'],
    ['name=rpw-plat,"chd ring"', 'ab'],
    ['name!=rpw-plat,x', 'b'],
    ['name:plat,ring', 'ab'],
    ['rpw,chd', 'ab'],
    ['vlans=20,30', 'a'],
    ['name=rpw*', 'a'],
    ['name=*plat', 'a'],
    ['name=r*-*t', 'a'],
    ['name=pw*', ''],
    ['name!=rpw*', 'b'],
    ['rpw*', 'a'],
    ['plat*', ''],
    ['name="rpw*"', ''],
    ['memory=*', 'a'],
    ['memory!=*', 'b'],
    ['memoryBytes<=512 MB', 'a'],
    ['memory<=511 MB', ''],
    ['speed = 10 Gbit/s', 'b'],
    ['memory=512mb', 'a'],
    ['firstSeen=2026-10-05', 'a'],
    ['firstSeen>2026-10-05', 'b'],
    ['firstSeen<=2026-10-05', 'a'],
    // what a cell shows
    ['"access point"', 'a'],
    ['access point', 'a'],
    ['role="access point"', 'a'],
    ['role!="access point"', 'b'],
    ['role:"ss po"', 'a'],
    ['role=access*', 'a'],
    ['witch', ''],
    ['what=memory', 'a'],
    ['memory', 'a'],
  ])('%s', (filter, expected) => expect(find(filter)).toBe(expected));

  test.each([
    ['name:', 5, 'a value'],
    ['(rpw', 4, ')'],
    ['rpw)', 3, 'a term or the end'],
    ['rpw or', 6, 'a word or field:value'],
    ['"open', 5, '"'],
    ['-', 1, 'a word, field:value or ('],
    ['=5', 0, 'a field name'],
    ['and rpw', 0, 'a term before it, or "and" for the word'],
    ['rpw and', 4, 'a term after it, or "and" for the word'],
    ['rpw and or chd', 4, 'a term after it, or "and" for the word'],
    ['rpw and and chd', 8, 'a term before it, or "and" for the word'],
    ['not', 3, 'a word, field:value or (; "not" for the word'],
    ['name=a,', 7, 'a value'],
    ['name=,a', 5, 'a value'],
    ['mtu>1,2', 5, 'one value, or = in place of >'],
    ['up name~acc*', 7, 'name:part or name=beginning*'],
    ['name =~ acc', 5, 'name:part or name=beginning*'],
    ['name!~acc', 4, '-name:part'],
    ['name<>acc', 4, 'name!=value'],
    ['mtu=>1500', 3, 'mtu>=value'],
    ['name===a', 4, 'name=value'],
    ['a && b', 2, 'and'],
    ['a || b', 2, 'or'],
    ['!name=a', 0, 'not, or -name=a'],
    ["name='chd ring'", 5, '"chd" in double quotation marks'],
    ['site=A|B', 6, 'A,B, or "A|B" as it stands'],
    ['role in (a, b)', 5, 'field=one,other'],
    ['name= role=x', 5, 'a value'],
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
    expect(() => find('name=10 MB')).toThrow('“MB” is read as a unit, and name has none');
    expect(() => find('vlans=10 k')).toThrow('“k” is read as a unit');
    expect(() => find('vlans=1*')).toThrow('“*” stands for letters, and vlans has none');
    expect(() => find('name>a*')).toThrow('“*” has no order');
    expect(() => find('state is silent')).toThrow('“is” is a word here, no relation');
    expect(find('is rpw')).toBe('');
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
