import { spawnSync } from 'node:child_process';
import { openSync, writeSync, closeSync } from 'node:fs';
import path from 'node:path';
import { hashOf } from '../src/collect/images/readImages';
import { temporaryFolder } from '../e2e/support/program';

const mebibyte = 1_048_576;

/** Bench of reading an image of two gigabytes: ours and the system's own program, one after the other, thrice; how long this process was away meanwhile, and its memory. */
export async function benchImages(bytes = 2_147_483_648): Promise<Record<string, unknown>> {
  const file = path.join(temporaryFolder(), 'image.bin');
  const part = Buffer.alloc(mebibyte, 7);
  const handle = openSync(file, 'w');
  for (let at = 0; at < bytes; at += part.length) {
    part.writeUInt32LE(at / mebibyte, 0);
    writeSync(handle, part);
  }
  closeSync(handle);
  const [ours, theirs]: number[][] = [[], []];
  let longest = 0;
  let most = 0;
  let before = performance.now();
  const watching = setInterval(() => {
    longest = Math.max(longest, performance.now() - before - 10);
    most = Math.max(most, process.memoryUsage().rss);
    before = performance.now();
  }, 10);
  for (let run = 0; run < 3; run++) {
    let began = performance.now();
    before = began;
    const own = await hashOf(file);
    ours?.push((performance.now() - began) / 1000);
    clearInterval(run === 2 ? watching : undefined);
    began = performance.now();
    const { stdout } = spawnSync('sha256sum', [file], { encoding: 'utf8' });
    theirs?.push((performance.now() - began) / 1000);
    if (!stdout.startsWith(own)) throw new Error('the two hashes differ');
    before = performance.now();
  }
  const middle = (values: number[] = []) => [...values].sort((x, y) => x - y)[1] ?? Number.NaN;
  return {
    bytes: bytes,
    'ours, s': middle(ours),
    'sha256sum, s': middle(theirs),
    'times as long': middle(ours) / middle(theirs),
    'longest this process was away, ms': Math.round(longest),
    'memory, MB': Math.round(most / 1e6),
  };
}
