import { layoutEstate } from '../src/core/layout/estateLayout';
import { conclude } from '../src/core/topology/conclude';
import { generateNetwork, usualPlan } from './networks/network';

/** How long it takes to place devices on the map: what the worker of a browser does. Milliseconds, medians of five. */
export function benchMapLayout(): Record<string, unknown> {
  const median = (values: number[]) => [...values].sort((x, y) => x - y)[Math.floor(values.length / 2)] ?? Number.NaN;
  return Object.fromEntries(
    [6, 12, 25, 50].map((sites) => {
      const { devices } = generateNetwork({ ...usualPlan, sites, switches: 41 });
      const { links } = conclude(devices);
      const placed = devices.map(({ id, device: { name, role, site } }) => ({ id, name, role, site, since: 1 }));
      const joints = links.map(({ a, b }) => ({ a: a.deviceId, b: b.deviceId, since: 1 }));
      const times = Array.from({ length: 5 }, () => {
        const started = performance.now();
        layoutEstate(placed, joints);
        return performance.now() - started;
      });
      return [`${placed.length} devices, ${joints.length} links, ${sites} sites`, Math.round(median(times))];
    }),
  );
}
