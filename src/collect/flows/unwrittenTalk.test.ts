import { expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Talk } from '../../core/flow/talk';
import { openStore } from '../../store/base/database';
import { UnwrittenTalk } from './unwrittenTalk';

const talks = (count: number): Talk[] =>
  Array.from({ length: count }, (_, nth) => ({
    client: `10.72.1.${nth % 250}`,
    server: '10.72.2.9',
    port: 1 + nth,
    protocol: 6,
    basis: 'opening' as const,
    events: 1,
    packets: { toServer: 1, toClient: 1 },
    octets: { toServer: 100, toClient: 100 },
    // of two days: a lot of both is written whole or not at all
    firstSeen: 1_790_000_000 + (nth % 2) * 86_400,
    lastSeen: 1_790_000_060 + (nth % 2) * 86_400,
    hours: [497_222 + (nth % 2) * 24],
  }));

test('what cannot be written waits for the next time, and is written once; what waits too long is given up and counted', () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'bolide-unwritten-'));
  const store = openStore(folder);
  const count = () => store.raw.prepare('select count(*), sum(events) from heard').raw().get();
  try {
    const unwritten = new UnwrittenTalk(6000);
    unwritten.add([{ exporter: 'edge-1', talks: talks(4100) }]);
    // the third lot does not fit any more
    store.raw.exec(
      "create temp trigger full before insert on heard when (select count(*) from heard) >= 4090 begin select raise(abort, 'database or disk is full'); end",
    );
    expect(() => unwritten.write(store.db, new Date())).toThrow('full');
    expect([count(), unwritten.size]).toEqual([[4000, 4000], 100]);
    store.raw.exec('drop trigger full');
    unwritten.write(store.db, new Date());
    unwritten.write(store.db, new Date());
    expect([count(), unwritten.size]).toEqual([[4100, 4100], 0]);
    for (const exporter of ['edge-1', 'edge-2', 'edge-3']) unwritten.add([{ exporter, talks: talks(2500) }]);
    expect([unwritten.size, unwritten.givenUp]).toEqual([5000, 2500]);
  } finally {
    store.close();
    rmSync(folder, { recursive: true, force: true });
  }
});
