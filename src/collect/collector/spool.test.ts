import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { existsSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Spool } from './spool';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-spool-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));
const contents = (spool: Spool) => {
  const list: string[] = [];
  for (let next = spool.oldest(); next; next = spool.oldest()) {
    list.push(next.body.toString());
    spool.remove(next);
  }
  return list;
};

test('gives what was put in, in order, also to the one who comes after', () => {
  const spool = new Spool(folder);
  for (let count = 1; count <= 12; count++) spool.add(Buffer.from(`visit ${count}`));
  const first = spool.oldest();
  if (first) spool.remove(first);
  const later = new Spool(folder);
  later.add(Buffer.from('visit 13'));
  expect(later.size()).toEqual({ files: 12, bytes: 8 * 7 + 4 * 8 });
  expect(contents(later)).toEqual(Array.from({ length: 12 }, (_, at) => `visit ${at + 2}`));
});
test('what a crash cut short is not there; other files are left alone', () => {
  writeFileSync(path.join(folder, '0000000004.delivery.part'), 'half');
  writeFileSync(path.join(folder, 'notes.txt'), 'mine');
  const spool = new Spool(folder);
  expect([spool.oldest(), spool.size().files]).toEqual([null, 0]);
  expect([
    existsSync(path.join(folder, '0000000004.delivery.part')),
    existsSync(path.join(folder, 'notes.txt')),
  ]).toEqual([false, true]);
});
test('a number that was delivered and removed is not used for another while one is left', () => {
  const spool = new Spool(folder);
  spool.add(Buffer.from('a'));
  spool.add(Buffer.from('b'));
  const a = spool.oldest();
  if (a) spool.remove(a);
  spool.add(Buffer.from('c'));
  expect(contents(spool)).toEqual(['b', 'c']);
});
test('what the server will never take is kept aside and stands in nobody’s way', () => {
  const spool = new Spool(folder);
  spool.add(Buffer.from('odd'));
  spool.add(Buffer.from('good'));
  const odd = spool.oldest();
  if (odd) spool.refuse(odd);
  expect(contents(spool)).toEqual(['good']);
  expect(readdirSync(path.join(folder, 'refused'))).toHaveLength(1);
});
