import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { columnsOfRows } from '../../../core/tables/column';
import { things } from '../../../core/things/things';
import type { ThingField } from '../../../core/things/thing';
import { groupRows } from '../../../core/things/grouping';
import { groupKey, Lines } from './lines';

const all = (lines: Lines) => Array.from({ length: lines.length }, (_, at) => lines.at(at));
const by = ['site', 'family'].map((name) => things.devices.fields.find((field) => field.name === name) as ThingField);
const rows = [
  ['LQY', 'K-Access'],
  ['LQY', 'K-Access'],
  ['LQY', 'K-Ring'],
  ['RPW', 'K-Ring'],
].map(([site, family]) => ({ site, family }));
const groups = groupRows(Uint32Array.from(rows.keys()), columnsOfRows(rows), by, []);
const shown = (open: string[][]) =>
  all(new Lines(groups, 2, rows.length, (key) => open.map(groupKey).includes(key))).map((line) =>
    line?.kind === 'group'
      ? `${line.open ? '▾' : '▸'} ${line.group.path.join(' › ')}`
      : `${line?.path.join(' › ') ?? ''} #${line?.at ?? ''}`,
  );

test('without groups every row is a line', () => {
  expect(all(new Lines(null, 0, 3, () => false))).toEqual([0, 1, 2].map((at) => ({ kind: 'row', path: [], at })));
  expect([new Lines(null, 0, 0, () => false).at(0), new Lines(null, 0, 3, () => false).at(3)]).toEqual([
    undefined,
    undefined,
  ]);
});

test('what is within a closed group is no line, even if it is open itself', () => {
  expect(shown([])).toEqual(['▸ LQY', '▸ RPW']);
  expect(shown([['LQY']])).toEqual(['▾ LQY', '▸ LQY › K-Access', '▸ LQY › K-Ring', '▸ RPW']);
  expect(shown([['LQY'], ['LQY', 'K-Access']])).toEqual([
    '▾ LQY',
    '▾ LQY › K-Access',
    'LQY › K-Access #0',
    'LQY › K-Access #1',
    '▸ LQY › K-Ring',
    '▸ RPW',
  ]);
  expect(shown([['LQY', 'K-Access'], ['RPW'], ['RPW', 'K-Ring']])).toEqual([
    '▸ LQY',
    '▾ RPW',
    '▾ RPW › K-Ring',
    'RPW › K-Ring #0',
  ]);
});

test('with all open there is a line for every group and every row, each once', () => {
  const text = fc.constantFrom('', 'a', 'b', 'c');
  fc.assert(
    fc.property(fc.array(fc.record({ site: text, family: text }), { maxLength: 30 }), (given) => {
      const made = groupRows(Uint32Array.from(given.keys()), columnsOfRows(given), by, []);
      const lines = all(new Lines(made, 2, given.length, () => true));
      expect(lines).not.toContain(undefined);
      expect(lines.filter((line) => line?.kind === 'group')).toHaveLength(made.length);
      expect(lines.filter((line) => line?.kind === 'row')).toHaveLength(given.length);
    }),
  );
});
