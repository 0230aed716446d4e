import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compareReleases } from '../firmware/release';
import { compileFilter } from '../filter/predicate';
import type { FilterField } from '../filter/filterField';
import { FilterError } from '../filter/filterNode';
import { parseFilter } from '../filter/syntax';
import { compareNaturally } from '../values/naturalOrder';
import { columnsOfRows } from './column';
import { orderRows } from './order';
import { rowsThatFit, selectRows } from './select';

const fields: FilterField[] = [
  { name: 'name', kind: 'text' },
  { name: 'address', kind: 'address' },
  { name: 'release', kind: 'release' },
  { name: 'speedBps', kind: 'bitsPerSecond' },
  { name: 'mac', kind: 'mac' },
  { name: 'vlans', kind: 'number' },
  { name: 'empty', kind: 'boolean' },
  { name: 'state', kind: 'text', listed: true },
];
const row = fc.record({
  name: fc.constantFrom('rpw-plat', 'RPW-core', 'port 2', 'port 10', '', 'ä'),
  address: fc.oneof(fc.constantFrom('10.72.4.1', '10.72.5.200', 'fd00::1'), fc.constant(null)),
  release: fc.constantFrom('7.4.9', '7.4.12b', ''),
  speedBps: fc.constantFrom(null, 1e9, 1e10),
  mac: fc.constantFrom('02:4b:45:00:00:01', '02:4b:45:00:00:1a', null),
  vlans: fc.array(fc.constantFrom(1, 10, 30), { maxLength: 3 }),
  empty: fc.boolean(),
  state: fc.constantFrom('reporting', 'Port lost', ''),
});
const rows = fc.array(row, { maxLength: 20 });
const terms = fc.constantFrom(
  'rpw',
  'PORT',
  '10',
  '"port 1"',
  '',
  'name=rpw-plat',
  'name!=""',
  'name=""',
  'name:p',
  'address:10.72.4.0/23',
  'address:72.5',
  'address>10.72.4.9',
  'release<7.4.10',
  'speed>1G',
  '02-4b-45-00-00-1A',
  'mac:024b.4500.0001',
  'mac:00:1a',
  'vlans=30',
  'vlans!=30',
  'vlans>9',
  'empty=yes',
  'empty!=yes',
  '1000000000',
);
const filter = fc.oneof(
  terms,
  fc.tuple(terms, terms).map((both) => both.join(' ')),
  fc
    .tuple(terms, terms)
    .filter((both) => both.every(Boolean))
    .map((both) => both.join(' or ')),
  fc
    .tuple(terms, terms)
    .filter(([first]) => first !== '')
    .map(([first, second]) => `-(${first}) ${second}`),
);

describe('a filter over columns', () => {
  test('holds the rows that it holds one by one', () => {
    fc.assert(
      fc.property(rows, filter, (list, text) => {
        const tree = parseFilter(text);
        const held = rowsThatFit(selectRows(tree, { table: columnsOfRows(list), fields, related: {} }));
        expect([text, [...held]]).toEqual([
          text,
          list.flatMap((one, at) => (compileFilter<object>(tree, fields)(one) ? [at] : [])),
        ]);
      }),
      { numRuns: 2000 },
    );
  });
  test('goes one step to what is related, and tells mistakes at their place', () => {
    const table = columnsOfRows([{ name: 'a' }, { name: 'b' }]);
    const related = {
      port: () => ({
        fields: [{ name: 'speed', kind: 'bitsPerSecond' as const }],
        table: columnsOfRows([{ speed: 1e8 }, { speed: 1e9 }, { speed: null }]),
        spread: (found: Uint8Array) => Uint8Array.of(found[0] ?? 0, (found[1] ?? 0) | (found[2] ?? 0)),
      }),
    };
    const held = (text: string) => [...selectRows(parseFilter(text), { table, fields, related })];
    expect([held('port.speed<1G'), held('port.speed>=1G'), held('-port.speed<1G')]).toEqual([
      [1, 0],
      [0, 1],
      [0, 1],
    ]);
    expect(() => held('name=a or port.colour=red')).toThrow(FilterError);
    expect(() => held('sped>1')).toThrow('There is no field “sped”');
  });
});

test('rows are ordered by several keys, alike ones stay as they were, empty ones come last either way', () => {
  fc.assert(
    fc.property(rows, fc.boolean(), fc.boolean(), (list, byRelease, byName) => {
      const table = columnsOfRows(list);
      const ordered = orderRows(Uint32Array.from(list.keys()), [
        { column: table.column('release'), kind: 'release', descending: byRelease },
        { column: table.column('name'), kind: 'text', descending: byName },
      ]);
      const by = (x: string, y: string, order: (x: string, y: string) => number, descending: boolean) =>
        x === '' || y === '' ? Number(x === '') - Number(y === '') : order(x, y) * (descending ? -1 : 1);
      const expected = [...list.keys()].sort(
        (x, y) =>
          by(list[x]?.release ?? '', list[y]?.release ?? '', compareReleases, byRelease) ||
          by(list[x]?.name ?? '', list[y]?.name ?? '', compareNaturally, byName),
      );
      expect([...ordered]).toEqual(expected);
    }),
  );
});
