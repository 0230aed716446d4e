import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { ImageServer, rangeOf } from './imageServer';

let folder: string;
let server: ImageServer;
let base: string;
const word = 'ab'.repeat(16);
let meant: string | null;
beforeEach(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-giving-'));
  writeFileSync(path.join(folder, 'k.img'), Buffer.from(Array.from({ length: 300_000 }, (_, at) => at % 251)));
  meant = 'k.img';
  server = new ImageServer(folder, (asked) => (asked === word ? meant : null));
  base = `http://127.0.0.1:${await server.listen('127.0.0.1', 0)}/images`;
});
afterEach(async () => {
  await server.close();
  rmSync(folder, { recursive: true, force: true });
});

const whole = () => readFileSync(path.join(folder, 'k.img'));
const get = async (headers: Record<string, string> = {}) => {
  const response = await fetch(`${base}/${word}/k.img`, { headers });
  return { response, body: Buffer.from(await response.arrayBuffer()) };
};

test('an image is given as a whole, and from where a device broke off', async () => {
  expect((await get()).body.equals(whole())).toBe(true);
  const { response, body } = await get({ range: 'bytes=123456-' });
  expect([response.status, response.headers.get('content-range')]).toEqual([206, 'bytes 123456-299999/300000']);
  expect(Buffer.concat([whole().subarray(0, 123_456), body]).equals(whole())).toBe(true);
  const head = await fetch(`${base}/${word}/k.img`, { method: 'HEAD' });
  expect([head.headers.get('content-length'), head.headers.get('accept-ranges')]).toEqual(['300000', 'bytes']);
});

test('nobody else gets anything', async () => {
  const statusOf = async (url: string, init = {}) => (await fetch(url, init)).status;
  expect(await statusOf(`${base}/${'cd'.repeat(16)}/k.img`)).toBe(404);
  expect(await statusOf(`${base}/${word}/k.img`, { method: 'PUT' })).toBe(405);
  expect(await statusOf(base.replace('/images', '/'))).toBe(404);
  expect(await statusOf(`${base}/${word}/k.img`, { headers: { range: 'bytes=300000-' } })).toBe(416);
  for (const outside of ['../secret', '/etc/passwd', '.hidden', 'none.img']) {
    meant = outside;
    expect(await statusOf(`${base}/${word}/k.img`)).toBe(404);
  }
  symlinkSync('/etc', path.join(folder, 'etc'));
  meant = 'etc';
  expect(await statusOf(`${base}/${word}/k.img`)).toBe(404);
});

test('a part is told as the standard writes it', () => {
  expect(rangeOf('bytes=0-9', 100)).toEqual({ from: 0, to: 9 });
  expect(rangeOf('bytes=90-', 100)).toEqual({ from: 90, to: 99 });
  expect(rangeOf('bytes=-10', 100)).toEqual({ from: 90, to: 99 });
  expect(rangeOf('bytes=50-500', 100)).toEqual({ from: 50, to: 99 });
  expect(rangeOf('bytes=100-', 100)).toBe('beyond');
  expect(rangeOf('bytes=9-3', 100)).toBe('beyond');
  for (const other of [undefined, 'bytes=', 'bytes=-', 'bytes=1-2,5-6', 'lines=1-2'])
    expect(rangeOf(other, 100)).toBeNull();
});
