import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compileFilter } from '../filter/predicate';
import { parseFilter } from '../filter/syntax';
import { things } from './things';
import type { ThingField } from './thing';
import { columnsOfRows } from '../tables/column';
import { filterOfGroup, groupRows, TooManyGroupsError } from './grouping';

const fieldsOf = (...names: string[]): ThingField[] =>
  names.map((name) => things.devices.fields.find((field) => field.name === name) as ThingField);
const group = (rows: Record<string, unknown>[], by: ThingField[], summed: ThingField[]) =>
  groupRows(Uint32Array.from(rows.keys()), columnsOfRows(rows), by, summed);
const device = (site: string, family: string, release: string, memoryBytes: number | null = null) => ({
  site,
  family,
  release,
  memoryBytes,
});

test('groups stand before what is within them, in the order of their values, with counts and sums', () => {
  const rows = [
    device('RPW', 'K-Access', '7.4.12b', 4),
    device('LQY', 'K-Access', '7.4.9', 1),
    device('LQY', 'K-Access', '7.4.12b', 2),
    device('LQY', 'K-Ring', '7.4.9'),
    device('', 'K-Core', '7.6.4', 8),
  ];
  expect(
    group(rows, fieldsOf('site', 'family', 'release'), fieldsOf('memoryBytes')).map(({ path, count, sums }) => [
      path.join(' › '),
      count,
      sums.memoryBytes,
    ]),
  ).toEqual([
    ['LQY', 3, 3],
    ['LQY › K-Access', 2, 3],
    ['LQY › K-Access › 7.4.9', 1, 1],
    ['LQY › K-Access › 7.4.12b', 1, 2],
    ['LQY › K-Ring', 1, 0],
    ['LQY › K-Ring › 7.4.9', 1, 0],
    ['RPW', 1, 4],
    ['RPW › K-Access', 1, 4],
    ['RPW › K-Access › 7.4.12b', 1, 4],
    ['', 1, 8],
    [' › K-Core', 1, 8],
    [' › K-Core › 7.6.4', 1, 8],
  ]);
  expect(group([], fieldsOf('site'), [])).toEqual([]);
});

test('the filter of a group holds its rows and no others, whatever they are called', () => {
  const value = fc.oneof(
    fc.constantFrom('', 'LQY', 'K-Access 48', '(odd)', 'a or b', '-x', '7.4.12b', 'ä'),
    fc.string({ maxLength: 5 }).filter((text) => !text.includes('"') && text.trim() === text),
  );
  const by = fieldsOf('site', 'family');
  fc.assert(
    fc.property(fc.array(fc.record({ site: value, family: value }), { maxLength: 12 }), (rows) => {
      for (const { path, count } of group(rows, by, [])) {
        const holds = compileFilter<{ site: string; family: string }>(
          parseFilter(filterOfGroup(by, path)),
          things.devices.fields,
        );
        const same = (row: { site: string; family: string }) =>
          [row.site, row.family]
            .slice(0, path.length)
            .every((text, level) => text.toLowerCase() === path[level]?.toLowerCase());
        expect(rows.filter(holds)).toEqual(rows.filter(same));
        expect(count).toBe(rows.filter(holds).length);
      }
    }),
  );
});

test('of numbers the order is theirs, and a field with a value of its own in every row is no grouping', () => {
  expect(
    group(
      [9, 80, 7].map((memoryBytes) => ({ memoryBytes })),
      fieldsOf('memoryBytes'),
      [],
    ).map(({ path }) => path[0]),
  ).toEqual(['7', '9', '80']);
  expect(() =>
    group(
      Array.from({ length: 20_001 }, (_, at) => ({ serial: `KA-${at}` })),
      fieldsOf('serial'),
      [],
    ),
  ).toThrow(TooManyGroupsError);
});
