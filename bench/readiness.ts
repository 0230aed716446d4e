import path from 'node:path';
import { CoverIndex } from '../src/core/cover/cover';
import { completeRelease } from '../src/core/firmware/catalogue';
import { readinessBy } from '../src/server/query/rows/readinessRows';
import { tablesOf } from '../src/server/query/tables/estateTables';
import { addRelease } from '../src/store/catalogue';
import { openStore } from '../src/store/base/database';
import { readTargets, saveTarget } from '../src/store/targets';
import { temporaryFolder } from '../e2e/support/program';

const parts = [
  'Supervisor 1',
  'Line card 1',
  'Line card 2',
  'Line card 3',
  'Boot loader',
  'Power supply 1',
  'Power supply 2',
];

/** Bench of readiness: an estate of devices with eight components each, all judged anew after a target was changed. */
export function benchReadiness(devices = 5000): Record<string, unknown> {
  const store = openStore(path.join(temporaryFolder(), 'readiness'));
  const { raw, db } = store;
  raw
    .prepare(
      "insert into survey (id, scope_name, scope, state, started_at, sealed_at) values (1, 'x', '{}', 'sealed', '2026-11-23T06:00:00Z', '2026-11-23T06:00:00Z')",
    )
    .run();
  const fact = (table: string) =>
    raw.prepare(`insert into ${table} (device_id, key, content, from_survey) values (?, ?, ?, 1)`);
  const [device, module] = [fact('device_fact'), fact('module_fact')];
  raw.transaction(() => {
    for (let id = 1; id <= devices; id++) {
      raw.prepare('insert into device (id, first_survey) values (?, 1)').run(id);
      const family = `F-${id % 12}`;
      device.run(
        id,
        '',
        JSON.stringify({
          ...{
            name: `sw-${id}`,
            site: `S${id % 40}`,
            role: 'switch',
            vendor: 'Kestrane',
            family,
            model: `${family} 48`,
          },
          ...{
            serial: `KS${id}`,
            release: `7.${id % 3}.${id % 5}`,
            bootRelease: '3.1',
            address: `10.72.${id >> 8}.${id & 255}`,
          },
          ...{ addresses: [], units: [], memoryBytes: 2 ** 30, flashBytes: 2 ** 29, signature: '', processors: [] },
        }),
      );
      parts.forEach((name, order) =>
        module.run(
          id,
          name,
          JSON.stringify({
            ...{
              path: name,
              class: 'module',
              name,
              description: '',
              vendor: 'Kestrane',
              model: `P-${order}`,
              serial: `P${id}-${order}`,
            },
            ...{
              hardwareRevision: 'A1',
              firmwareRevision: '',
              softwareRevision: `2.${id % 4}.${order}`,
              replaceable: true,
            },
            ...{ position: order, parent: null, empty: false, order },
          }),
        ),
      );
    }
  })();
  const line = (family: string, component: 'system' | 'line card', minor: number) =>
    addRelease(
      db,
      completeRelease({
        ...{ vendor: 'Kestrane', family, component, release: component === 'system' ? `7.2.${minor}` : `2.9.${minor}` },
        ...{ published: '2026-06-16', minimumMemoryBytes: 2 ** 29 },
      }),
    );
  for (let nth = 0; nth < 12; nth++) for (const minor of [1, 4, 9]) line(`F-${nth}`, 'system', minor);
  for (const nth of [1, 2, 3]) line(`P-${nth}`, 'line card', 9);
  const target = (release: string) => {
    for (let nth = 0; nth < 12; nth++)
      saveTarget(db, { vendor: 'Kestrane', family: `F-${nth}`, release, setBy: 'bench', setAt: '' });
    for (const nth of [1, 2, 3])
      saveTarget(db, {
        ...{
          vendor: 'Kestrane',
          family: `P-${nth}`,
          component: 'line card',
          release: '2.9.9',
          setBy: 'bench',
          setAt: '',
        },
      });
  };
  const cover = new CoverIndex([], '2026-11-23');
  const milliseconds: number[] = [];
  let judged = 0;
  for (const release of ['7.2.4', '7.2.9', '7.2.4', '7.2.9', '7.2.4']) {
    target(release);
    const began = performance.now();
    const components = () => tablesOf(store).components(1);
    judged = readinessBy({ db, survey: 1, devices: undefined, cover: () => cover, components }, readTargets(db)).length;
    milliseconds.push(Math.round(performance.now() - began));
  }
  store.close();
  return { devices, components: devices * (parts.length + 1), judged, 'after a target changed, ms': milliseconds };
}
