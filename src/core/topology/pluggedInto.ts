import type { Role } from '../estate/facts';
import { compareNaturally } from '../values/naturalOrder';
import type { LinkFacts } from './links';

/** Devices that carry traffic of others: what is plugged into them is told at the other end. */
const carrying = new Set<string>(['switch', 'router', 'firewall', 'fabric-controller'] satisfies Role[]);

/**
 * Where devices that carry nobody else's traffic are plugged in, by their numbers: `sgh-acc-4 45`, several ends in natural order.
 * @param roleOf what a device is; empty for one that is not known
 */
export function pluggedInto(
  links: Iterable<Pick<LinkFacts, 'a' | 'b' | 'kind'>>,
  roleOf: (deviceId: number) => string,
): Map<number, string> {
  const ends = new Map<number, Set<string>>();
  for (const { a, b, kind } of links) {
    for (const [own, far] of [
      [a, b],
      [b, a],
    ] as const) {
      const role = roleOf(own.deviceId);
      // a host is not plugged into its machines: it has no port of its own towards them
      if (role === '' || carrying.has(role) || (kind === 'virtual' && own.port === '')) continue;
      const known = ends.get(own.deviceId) ?? new Set();
      ends.set(own.deviceId, known.add(`${far.device} ${far.port}`.trim()));
    }
  }
  return new Map([...ends].map(([id, places]) => [id, [...places].sort(compareNaturally).join(', ')]));
}
