import { compareNaturally } from '../values/naturalOrder';
import type { KnownDevice } from './deviceIndex';
import { linkKey, type LinkFacts } from './links';

/**
 * A stack is one device of several chassis (ENTITY-MIB, RFC 6933: class stack contains them) whose backplane is cables between them. That they are joined, the device itself says; in which order its cables run it
 * does not: each unit is told to be joined to the next.
 */
export function stackLinks(devices: readonly KnownDevice[]): LinkFacts[] {
  return devices.flatMap(({ id, device }) => {
    if (device.units.length < 2 || device.role !== 'switch') return [];
    const units = device.units.map(({ name, serial }) => name || serial).sort(compareNaturally);
    return units.slice(1).map((unit, at): LinkFacts => {
      const [a, b] = [units[at] ?? '', unit].map((port) => ({ deviceId: id, device: device.name, port })) as [LinkFacts['a'], LinkFacts['b']];
      return { a, b, kind: 'stack', confidence: 'claimed', evidence: [{ source: 'containment', by: device.name, detail: `${device.name} tells of ${units.length} chassis in one stack` }], speedBps: null, blocked: false, issues: [] };
    });
  }).sort((x, y) => compareNaturally(linkKey(x.a, x.b), linkKey(y.a, y.b)));
}
