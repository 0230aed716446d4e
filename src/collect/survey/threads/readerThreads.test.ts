import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { readScope, scopeDefaults } from '../../../core/estate/scope';
import { ReaderThreads, type ThreadsPlan } from './readerThreads';

const addresses = ['10.72.0.1', '10.72.0.2', '10.72.0.3', '10.72.0.4'];

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-threads-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

/** Threads that tell the first of their addresses, and then do something else. */
function threads(then: string, count = 2): ReaderThreads {
  const program = path.join(folder, 'reader.mjs');
  writeFileSync(
    program,
    `import { parentPort, workerData } from 'node:worker_threads';
    parentPort.on('message', (message) => {
      if (message.kind === 'close') process.exit(0);
      if (message.kind !== 'ask') return;
      const { addresses } = message;
      parentPort.postMessage({ kind: 'visit', number: 1, visit: { address: addresses[0] }, certificates: [] });
      ${then}
    });`,
  );
  const read = readScope({ ...scopeDefaults, name: 'test', ranges: addresses });
  if ('mistakes' in read) throw new Error(JSON.stringify(read.mistakes));
  const plan: ThreadsPlan = {
    scope: read.scope,
    credentials: [],
    signatures: [],
    packetsPerSecond: 100,
    hintOf: () => ({}),
    cancelled: () => false,
    pinnedFor: () => [],
    seen: () => undefined,
  };
  return new ReaderThreads(plan, count, program);
}

async function asked(reading: ReaderThreads): Promise<{ taken: string[]; error: string }> {
  const taken: string[] = [];
  const error = await reading
    .readAll(addresses, ({ address }) => {
      taken.push(address);
      return undefined;
    })
    .then(
      () => '',
      (fault: Error) => fault.message,
    );
  reading.close();
  return { taken: taken.sort(), error };
}

describe('threads that read', () => {
  test('share the addresses out, and end when all of them have', async () => {
    expect(await asked(threads(`parentPort.postMessage({ kind: 'asked' });`))).toEqual({
      taken: ['10.72.0.1', '10.72.0.2'],
      error: '',
    });
  });
  test('one that dies fails the survey, which would wait for it for ever; what it told before is kept', async () => {
    const { taken, error } = await asked(
      threads(
        `if (addresses.includes('10.72.0.1')) setTimeout(() => process.exit(1), 50); else parentPort.postMessage({ kind: 'asked' });`,
      ),
    );
    expect([taken, error]).toEqual([['10.72.0.1', '10.72.0.2'], 'a reader thread ended before its work']);
  });
  test('one that breaks says why', async () => {
    expect((await asked(threads(`setTimeout(() => { throw new Error('no memory left'); }, 50);`, 1))).error).toBe(
      'no memory left',
    );
  });
  test('a store that cannot be written to stops them all', async () => {
    const reading = threads(
      `const told = new Int32Array(workerData.cancelled);
      const look = setInterval(() => { if (Atomics.load(told, 0) === 1) { clearInterval(look); parentPort.postMessage({ kind: 'asked' }); } }, 5);`,
    );
    await expect(
      reading.readAll(addresses, () => {
        throw new Error('disk full');
      }),
    ).rejects.toThrow('disk full');
    reading.close();
  });
});
