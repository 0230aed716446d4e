import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { appendFileSync, mkdirSync, mkdtempSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { openStore, type Store } from '../../store/base/database';
import { imagesFolder, readImages } from '../../store/images';
import { lastOfKind } from '../../store/jobs';
import { keepHouse } from '../jobs/housekeeping';
import { readNewImages, settledMs } from './readImages';

let folder: string;
let store: Store;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-images-'));
  store = openStore(folder);
  mkdirSync(imagesFolder(folder), { recursive: true });
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

const at = (name: string) => path.join(imagesFolder(folder), name);
const later = () => Date.now() + settledMs + 1000;
const hashes = () => Object.fromEntries(readImages(store.db).map(({ name, hash }) => [name, hash]));
/** As the system's own program tells it. */
const sumOf = (name: string) => execFileSync('sha256sum', [at(name)], { encoding: 'utf8' }).slice(0, 64);

test('what is put into the folder is read once, and again when it is another', async () => {
  writeFileSync(at('k-access-7.4.12b.img'), Buffer.alloc(9_000_001, 'bolide'));
  writeFileSync(at('empty.bin'), '');
  expect(await readNewImages(store, later)).toBe(2);
  expect(hashes()).toEqual({
    'empty.bin': sumOf('empty.bin'),
    'k-access-7.4.12b.img': sumOf('k-access-7.4.12b.img'),
  });
  expect(await readNewImages(store, later)).toBe(0);
  appendFileSync(at('k-access-7.4.12b.img'), 'more');
  renameSync(at('empty.bin'), at('renamed.bin'));
  expect(await readNewImages(store, later)).toBe(2);
  expect(hashes()).toEqual({
    'k-access-7.4.12b.img': sumOf('k-access-7.4.12b.img'),
    'renamed.bin': sumOf('renamed.bin'),
  });
});

test('what is still being copied is not read yet, and links and folders are no images', async () => {
  writeFileSync(at('half.img'), 'half');
  symlinkSync('/etc/passwd', at('link.img'));
  mkdirSync(at('more'));
  writeFileSync(at('.hidden'), '');
  expect(await readNewImages(store, Date.now)).toBe(0);
  expect(hashes()).toEqual({ 'half.img': '' });
  expect(await readNewImages(store, later)).toBe(1);
});

test('whoever breaks off leaves nothing half read', async () => {
  writeFileSync(at('large.img'), Buffer.alloc(20_000_000));
  const stop = new AbortController();
  const reading = readNewImages(store, later, stop.signal);
  stop.abort();
  await expect(reading).rejects.toThrow();
  expect(hashes()).toEqual({ 'large.img': '' });
  expect(await readNewImages(store, later)).toBe(1);
});

test('the engine looks by itself, once for each change', () => {
  keepHouse(store, new Date());
  expect(lastOfKind(store.db, 'images')).toBeNull();
  writeFileSync(at('new.img'), 'new');
  keepHouse(store, new Date());
  expect(lastOfKind(store.db, 'images')).toBeNull();
  keepHouse(store, new Date(later()));
  const first = lastOfKind(store.db, 'images');
  expect(first).toMatchObject({ kind: 'images', endedAt: null });
  keepHouse(store, new Date(later()));
  expect(lastOfKind(store.db, 'images')?.id).toBe(first?.id);
});
