import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { readWalkFolder } from './walkFolder';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-walks-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));
const put = (file: string, ...lines: string[]) => writeFileSync(path.join(folder, file), lines.join('\n'));

const walk = [
  '.1.3.6.1.2.1.1.5.0 = STRING: "mlr-ring"',
  '.1.3.6.1.2.1.2.2.1.1.1 = INTEGER: 1',
  '.1.3.6.1.2.1.2.2.1.1.10 = INTEGER: 10',
  '.1.3.6.1.2.1.2.2.1.10.1 = Counter32: 7',
  '.1.3.6.1.2.1.2.2.1.2.1 = STRING: "1"',
];

test('a walk answers as an agent: scalars by name, columns without their neighbours of like beginning', async () => {
  put('10.72.9.1.walk', ...walk);
  const { walks, problems } = readWalkFolder(folder);
  expect([walks.map(({ address }) => address), problems]).toEqual([['10.72.9.1'], []]);
  const source = walks[0]?.source;
  expect(await source?.get(['1.3.6.1.2.1.1.5.0', '1.3.6.1.2.1.1.6.0'])).toMatchObject([{ oid: '1.3.6.1.2.1.1.5.0' }]);
  expect(
    (await source?.columns('1.3.6.1.2.1.2.2.1', [1, 2]))?.map(({ index, cells }) => [
      ...index,
      cells.get(1) !== undefined,
      cells.get(2) !== undefined,
      cells.get(10) !== undefined,
    ]),
  ).toEqual([
    [1, true, true, false],
    [10, true, false, false],
  ]);
});
test('one file that cannot be read is told with its place, and the others are kept', () => {
  put('10.72.9.1.walk', ...walk);
  put('10.72.9.2', walk[0] ?? '', 'Timeout: No Response from 10.72.9.2');
  put('notes.txt', 'nothing');
  put('.hidden', 'nothing');
  mkdirSync(path.join(folder, '10.72.9.3'));
  const { walks, problems } = readWalkFolder(folder);
  expect(walks.map(({ address }) => address)).toEqual(['10.72.9.1']);
  expect(problems.map(({ file }) => file)).toEqual(['10.72.9.2', 'notes.txt']);
  expect(problems[0]?.reason).toContain('line 2');
  expect(problems[1]?.reason).toContain('call it like 10.72.4.1.walk');
});
test('IPv6 addresses name files too', () => {
  put('2001-db8--1.walk', ...walk);
  put('fd00::9.walk', ...walk);
  expect(readWalkFolder(folder).walks.map(({ address }) => address)).toEqual(['fd00::9']);
});
