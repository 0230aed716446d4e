import { compareNaturally } from '../values/naturalOrder';
import type { ToldLinkFacts } from '../estate/facts';
import type { KnownDevice } from './deviceIndex';
import { linkKey, type LinkFacts } from './links';

/**
 * A stack is one device of several chassis (ENTITY-MIB, RFC 6933: class stack contains them) whose backplane is cables between them. That they are joined, the device itself says; in which order its cables run it
 * does not: each unit is told to be joined to the next. Cards of a chassis are joined to its backplane.
 */
export function stackLinks(devices: readonly (KnownDevice & { toldLinks?: readonly ToldLinkFacts[] })[]): LinkFacts[] {
  const link = (id: number, device: string, ports: [string, string], detail: string): LinkFacts => {
    const [a, b] = ports.map((port) => ({ deviceId: id, device, port })) as [LinkFacts['a'], LinkFacts['b']];
    return {
      a,
      b,
      kind: 'stack',
      confidence: 'claimed',
      evidence: [{ source: 'containment', by: device, detail }],
      speedBps: null,
      blocked: false,
      issues: [],
    };
  };
  return devices
    .flatMap(({ id, device, toldLinks = [] }) => {
      const cards = toldLinks
        .filter(({ kind }) => kind === 'stack')
        .map((told) =>
          link(
            id,
            device.name,
            [told.a.port, told.b.port],
            `${device.name} tells of ${told.b.port} in a slot of ${told.a.port}`,
          ),
        );
      if (device.units.length < 2 || device.role !== 'switch') return cards;
      const units = device.units.map(({ name, serial }) => name || serial).sort(compareNaturally);
      return [
        ...cards,
        ...units
          .slice(1)
          .map((unit, at) =>
            link(
              id,
              device.name,
              [units[at] ?? '', unit],
              `${device.name} tells of ${units.length} chassis in one stack`,
            ),
          ),
      ];
    })
    .sort((x, y) => compareNaturally(linkKey(x.a, x.b), linkKey(y.a, y.b)));
}
