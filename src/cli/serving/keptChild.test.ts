import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { spawn, type ChildProcess } from 'node:child_process';
import { KeptChild, type Keeping } from './keptChild';

/** Real processes: one that answers, one that hangs in a loop, one that ends. */
const program = {
  answers: "process.on('message', () => process.send({})); process.on('disconnect', () => process.exit(0));",
  hangs: 'process.send({}); for (;;);',
  ends: 'process.exit(3);',
};
const started: ChildProcess[] = [];
let kept: KeptChild | undefined;
let told: string[];

const keep = (kinds: (keyof typeof program)[], more: Partial<Keeping> = {}): KeptChild =>
  (kept = new KeptChild({
    name: 'worker',
    start: () => {
      const kind = kinds[Math.min(started.length, kinds.length - 1)] ?? 'answers';
      const child = spawn(process.execPath, ['-e', program[kind]], { stdio: ['ignore', 'ignore', 'inherit', 'ipc'] });
      started.push(child);
      return child;
    },
    askMs: 50,
    // a busy machine answers late
    silentMs: 1500,
    ...more,
  }));
const until = async (done: () => boolean) => {
  while (!done()) await new Promise((resolve) => setTimeout(resolve, 20));
};
const isGone = (child: ChildProcess | undefined) =>
  child !== undefined && (child.exitCode !== null || child.signalCode !== null);

beforeEach(() => {
  started.length = 0;
  told = [];
  jest.spyOn(console, 'error').mockImplementation((...words) => void told.push(words.join(' ')));
});
afterEach(async () => {
  await kept?.stop();
  jest.restoreAllMocks();
});

test('a child that ends is started again, and what it held is given back first', async () => {
  const gone: ChildProcess[] = [];
  keep(['ends', 'answers'], { ended: (child) => gone.push(child) });
  await until(() => started.length === 2);
  expect(gone).toEqual([started[0]]);
  expect(told).toContainEqual('the worker ended (3); it starts again in 1 s');
  expect(isGone(started[1])).toBe(false);
});

test('a child that hangs is ended and started again; one that answers goes on', async () => {
  keep(['hangs', 'answers']);
  await until(() => started.length === 2);
  expect(isGone(started[0])).toBe(true);
  expect(told.some((line) => /the worker answered nothing for \d+ s: it is ended/.test(line))).toBe(true);
  // longer than it may be silent
  await new Promise((resolve) => setTimeout(resolve, 2500));
  expect([started.length, isGone(started[1])]).toEqual([2, false]);
});

test('a child that answers while a part of it hangs is ended too', async () => {
  let why: string | null = 'hangs (lane surveys turned last 100 s ago)';
  keep(['answers'], { hangs: () => why });
  await until(() => isGone(started[0]));
  why = null;
  await until(() => started.length === 2);
  expect(told).toContainEqual('the worker hangs (lane surveys turned last 100 s ago): it is ended');
});

test('once it is stopped, nothing is started any more', async () => {
  const one = keep(['answers']);
  await until(() => one.child.connected);
  await one.stop();
  await new Promise((resolve) => setTimeout(resolve, 1200));
  expect([started.length, isGone(started[0])]).toEqual([1, true]);
});
