import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, expect, test } from '@jest/globals';
import { macNumber } from '../../core/values/mac';
import { openStore } from '../../store/base/database';
import { writeEstateFacts } from '../../store/base/facts';
import { earlierPlaces } from './conclusion';

const folder = mkdtempSync(path.join(tmpdir(), 'bolide-conclusion-'));
const store = openStore(folder);
afterAll(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

test('the last place of a MAC is what is remembered; one that has none, or is not known any more, has no earlier place', () => {
  const fact = (mac: string, deviceId: number | null, port: string | null) => ({
    key: mac,
    text: JSON.stringify({
      mac,
      vlan: 10,
      deviceId,
      port,
      via: 'direct',
      addresses: [],
      ownDeviceId: null,
      evidence: [],
    }),
  });
  const [a, b, c] = ['02:43:41:00:00:01', '02:43:41:00:00:02', '02:43:41:00:00:03'] as const;

  writeEstateFacts(store.db, 'attachment', 1, [fact(a, 4, '1'), fact(b, null, null), fact(c, 4, '3')]);
  writeEstateFacts(store.db, 'attachment', 2, [fact(a, 5, '2'), fact(b, null, null)]);
  const of = earlierPlaces(store.db);
  expect([a, b, c].map((mac) => of(macNumber(mac) ?? 0))).toEqual([{ deviceId: 5, port: '2' }, null, null]);
});
