import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from '@jest/globals';
import { schemesIn } from './releaseOrders';

function folderWith(files: Record<string, unknown>): string {
  const folder = mkdtempSync(path.join(tmpdir(), 'bolide-schemes-'));
  mkdirSync(path.join(folder, 'schemes'));
  for (const [name, content] of Object.entries(files))
    writeFileSync(path.join(folder, 'schemes', name), typeof content === 'string' ? content : JSON.stringify(content));
  return folder;
}
const own = {
  id: 'winter',
  name: 'Winters',
  form: 'w<year:2>.<number>',
  train: ['year'],
  examples: ['w25.3', 'w26.1'],
};
const ids = (folder: string) => schemesIn(folder).orders.map(({ scheme }) => scheme?.id);

test('the program’s own schemes are read without a mistake', () => {
  const { orders, mistakes } = schemesIn(folderWith({}));
  expect(mistakes).toEqual([]);
  expect(orders.length).toBeGreaterThan(4);
});

test('a scheme beside the data is tried first, one with an id of the program’s takes its place', () => {
  const usual = ids(folderWith({}));
  expect(ids(folderWith({ 'winter.json': own }))).toEqual(['winter', ...usual]);
  const replaced = schemesIn(folderWith({ 'mine.json': { ...own, id: usual[0] } }));
  expect(replaced.orders).toHaveLength(usual.length);
  expect(replaced.orders[0]?.scheme?.form).toBe(own.form);
});

test.each([
  ['no JSON', '{', 'is no JSON'],
  ['a field that is not there', { ...own, train: ['month'] }, '“month” of the train is no field'],
  ['a form that is not closed', { ...own, form: 'w<year' }, '“<” is not closed'],
  ['an example that is written otherwise', { ...own, examples: ['w25.3', '26.1'] }, '26.1 is not written as'],
  ['examples out of order', { ...own, examples: ['w26.1', 'w25.3'] }, 'w25.3 does not come after w26.1'],
  ['a word too much', { ...own, colour: 'red' }, 'knows no colour'],
  ['nothing of a scheme', { id: 'x' }, 'say what it is called'],
])('%s: it is told with its file, and the others hold', (_, content, words) => {
  const { orders, mistakes } = schemesIn(folderWith({ 'wrong.json': content }));
  expect(mistakes).toHaveLength(1);
  expect(`${mistakes[0]?.file} ${mistakes[0]?.words}`).toContain(words);
  expect(orders.length).toBeGreaterThan(4);
});
