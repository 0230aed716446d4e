import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { SignInLimit, waitOf, type Attempt } from './signInLimit';

let folder: string;
let limit: SignInLimit;
let now = Date.parse('2026-11-23T06:00:00Z');
const later = (seconds: number) => (now += seconds * 1000);
const marla = (source: string, device: string | null = null): Attempt => ({ name: 'marla', source, device });
const waits = async (attempt: Attempt) => (await limit.count(attempt)).waitSeconds;

beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-attempts-'));
  limit = new SignInLimit(folder);
  jest.spyOn(Date, 'now').mockImplementation(() => now);
});
afterEach(() => {
  limit.close();
  jest.restoreAllMocks();
  rmSync(folder, { recursive: true, force: true });
});

describe('guessing passwords', () => {
  test('forty at once are forty: five are looked at', async () => {
    const verdicts = await Promise.all(Array.from({ length: 40 }, () => limit.count(marla('10.72.9.1'))));
    expect(verdicts.filter(({ waitSeconds }) => waitSeconds === 0)).toHaveLength(5);
    // the wait begins once, for whoever writes it down
    expect(verdicts.some(({ begins }) => begins)).toBe(true);
  });
  test('each wait is twice the one before, and ends by itself', async () => {
    const seen: number[] = [];
    for (let round = 0; round < 9; round++) {
      for (let tries = 0; tries < 5; tries++) expect(await waits(marla('10.72.9.1'))).toBe(0);
      seen.push(await waits(marla('10.72.9.1')));
      later((seen.at(-1) ?? 0) + 1);
    }
    expect(seen).toEqual([30, 60, 120, 240, 480, 960, 1920, 3600, 3600]);
    expect(waitOf(1)).toBe(30);
  });
  test('the name is one however it is written, and asking while one waits makes it no longer', async () => {
    for (const name of ['marla', 'MARLA', 'Marla', 'mARLA', 'marla'])
      await limit.count({ ...marla('10.72.9.1'), name });
    expect(await waits(marla('10.72.9.1'))).toBe(30);
    later(20);
    expect(await waits(marla('10.72.9.1'))).toBe(10);
  });
  test('the right password forgets what was tried there', async () => {
    for (let tries = 0; tries < 4; tries++) await limit.count(marla('10.72.9.1'));
    await limit.succeeded(marla('10.72.9.1'));
    for (let tries = 0; tries < 5; tries++) expect(await waits(marla('10.72.9.1'))).toBe(0);
  });
});

describe('a stranger', () => {
  test('who guesses at a name keeps its owner out neither elsewhere nor in a browser that knows them', async () => {
    for (let tries = 0; tries < 20; tries++) await limit.count(marla('203.0.113.7'));
    expect(await waits(marla('203.0.113.7'))).toBeGreaterThan(0);
    expect(await waits(marla('10.72.9.1'))).toBe(0);
    // behind one proxy, from whose address the stranger comes too
    expect(await waits(marla('203.0.113.7', 'her laptop'))).toBe(0);
  });
  test('who tries many names from one place waits, and nobody who was signed in before', async () => {
    for (let at = 0; at < 60; at++) await limit.count({ name: `name-${at}`, source: '203.0.113.7', device: null });
    expect(await waits({ name: 'osric', source: '203.0.113.7', device: null })).toBeGreaterThan(0);
    expect(await waits({ name: 'osric', source: '203.0.113.7', device: 'his desk' })).toBe(0);
    expect(await waits({ name: 'osric', source: '10.72.9.1', device: null })).toBe(0);
  });
  test('who tries one name from many places is slowed down there', async () => {
    for (let at = 0; at < 40; at++) await limit.count(marla(`203.0.113.${at}`));
    expect(await waits(marla('198.51.100.1'))).toBeGreaterThan(0);
    expect(await waits(marla('198.51.100.1', 'her laptop'))).toBe(0);
  });
});

test('what was typed as a name is not kept: it may have been a password', async () => {
  await limit.count({ name: 'signal-lantern-71', source: '10.72.9.1', device: null });
  limit.close();
  expect(readFileSync(path.join(folder, 'attempts.sqlite')).includes('signal-lantern-71')).toBe(false);
  limit = new SignInLimit(folder);
});

test('waits outlive the program', async () => {
  for (let tries = 0; tries < 6; tries++) await limit.count(marla('10.72.9.1'));
  limit.close();
  limit = new SignInLimit(folder);
  expect(await waits(marla('10.72.9.1'))).toBe(30);
});
