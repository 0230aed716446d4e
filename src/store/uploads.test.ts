import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { unpackUpload, uploadFolder, UploadError } from './uploads';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-uploads-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

/** An archive with entries of any name, stored without compression (PKWARE APPNOTE 4.3). */
function zipOf(entries: [name: string, content: string][]): Buffer {
  const crcTable = Array.from({ length: 256 }, (_, at) => {
    let value = at;
    for (let bit = 0; bit < 8; bit++) value = value & 1 ? 0xedb88320 ^ (value >>> 1) : value >>> 1;
    return value >>> 0;
  });
  const crc = (octets: Buffer) =>
    (octets.reduce((sum, octet) => (crcTable[(sum ^ octet) & 255] ?? 0) ^ (sum >>> 8), 0xffffffff) ^ 0xffffffff) >>> 0;
  const locals: Buffer[] = [];
  const central: Buffer[] = [];
  let offset = 0;
  for (const [name, text] of entries) {
    const content = Buffer.from(text);
    const head = (central_: boolean) => {
      const header = Buffer.alloc(central_ ? 46 : 30);
      let at = header.writeUInt32LE(central_ ? 0x02014b50 : 0x04034b50, 0);
      if (central_) at = header.writeUInt16LE(20, at);
      at = header.writeUInt16LE(20, at);
      at = header.writeUInt16LE(0, at);
      at = header.writeUInt16LE(0, at);
      at = header.writeUInt32LE(0, at);
      at = header.writeUInt32LE(crc(content), at);
      at = header.writeUInt32LE(content.length, at);
      at = header.writeUInt32LE(content.length, at);
      header.writeUInt16LE(Buffer.byteLength(name), at);
      if (central_) header.writeUInt32LE(offset, 42);
      return Buffer.concat([header, Buffer.from(name)]);
    };
    const local = Buffer.concat([head(false), content]);
    central.push(head(true));
    locals.push(local);
    offset += local.length;
  }
  const directory = Buffer.concat(central);
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(entries.length, 8);
  end.writeUInt16LE(entries.length, 10);
  end.writeUInt32LE(directory.length, 12);
  end.writeUInt32LE(offset, 16);
  return Buffer.concat([...locals, directory, end]);
}
/** An archive lies in a file, as it came. */
function fileOf(archive: Buffer): string {
  const file = path.join(folder, 'archive');
  writeFileSync(file, archive);
  return file;
}
const left = () => (existsSync(uploadFolder(folder)) ? readdirSync(uploadFolder(folder)) : []);

test('walks are unpacked as they are; a folder that wraps everything is looked through, an address’s own folder is not', async () => {
  const files = async (entries: [string, string][]) =>
    readdirSync(path.join(uploadFolder(folder), await unpackUpload(folder, fileOf(zipOf(entries))))).sort();
  expect(
    await files([
      ['10.72.4.1.walk', 'a'],
      ['10.72.4.2.walk', 'b'],
      ['__MACOSX/x', 'c'],
      ['.hidden', 'd'],
    ]),
  ).toEqual(['10.72.4.1.walk', '10.72.4.2.walk']);
  expect(
    await files([
      ['walks/', ''],
      ['walks/10.72.4.1.walk', 'a'],
    ]),
  ).toEqual(['10.72.4.1.walk']);
  expect(await files([['10.72.2.11/redfish/v1/index.json', '{}']])).toEqual(['10.72.2.11']);
});

test('an archive that a common program made is read', async () => {
  const source = path.join(folder, 'made');
  mkdirSync(source);
  writeFileSync(path.join(source, '10.72.4.1.walk'), '.1.3.6.1.2.1.1.5.0 = STRING: "rpw-plat"\n'.repeat(500));
  execFileSync('python3', ['-m', 'zipfile', '-c', path.join(folder, 'made.zip'), path.join(source, '10.72.4.1.walk')]);
  const name = await unpackUpload(folder, path.join(folder, 'made.zip'));
  expect(readFileSync(path.join(uploadFolder(folder), name, '10.72.4.1.walk'), 'utf8')).toBe(
    readFileSync(path.join(source, '10.72.4.1.walk'), 'utf8'),
  );
});

test.each<[string, Buffer, RegExp, Parameters<typeof unpackUpload>[2]]>([
  ['no archive at all', Buffer.from('walk, walk'), /is no zip archive/, undefined],
  ['an empty one', zipOf([]), /holds no file/, undefined],
  [
    'one that leads out',
    zipOf([
      ['../../evil.walk', 'a'],
      ['x', 'b'],
    ]),
    /leads out|cannot be unpacked/,
    undefined,
  ],
  [
    'too many files',
    zipOf([
      ['a', '1'],
      ['b', '2'],
      ['c', '3'],
    ]),
    /more than 2 files/,
    { files: 2, fileBytes: 100, allBytes: 100 },
  ],
  [
    'a file too large',
    zipOf([['a', 'x'.repeat(2000)]]),
    /unpacks to more than/,
    { files: 2, fileBytes: 1000, allBytes: 10_000 },
  ],
  [
    'too much together',
    zipOf([
      ['a', 'x'.repeat(900)],
      ['b', 'x'.repeat(900)],
    ]),
    /unpacks to more than/,
    { files: 9, fileBytes: 1000, allBytes: 1500 },
  ],
])('%s is refused, and nothing is left behind', async (_, archive, words, bounds) => {
  await expect(unpackUpload(folder, fileOf(archive), bounds)).rejects.toThrow(words);
  await expect(unpackUpload(folder, fileOf(archive), bounds)).rejects.toBeInstanceOf(UploadError);
  expect(left()).toEqual([]);
});
