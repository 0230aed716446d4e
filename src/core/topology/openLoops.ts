import type { PortFacts } from '../estate/facts';
import type { DeviceIndex } from './deviceIndex';
import type { LinkEnd, LinkFacts } from './links';
import { ringsOf } from './rings';

const mostNames = 8;

/**
 * Rings of bridges in which no end says that its port rests: a frame for everybody goes round and round (IEEE 802.1D is there so that one port of each ring blocks). Looked for VLAN by VLAN, since
 * a ring is only one for what all of its links carry; ports that tell no VLANs are bridged as one. Told at each of its links.
 */
export function tellOpenLoops(links: LinkFacts[], index: DeviceIndex): void {
  const passing = links.filter((link) => isForwarding(link, index));
  const shared = sharedAggregates(passing);
  const byVlan = new Map<number, LinkFacts[]>();
  for (const link of passing) {
    if (shared.has(`${link.a.deviceId} ${link.a.port}`) || shared.has(`${link.b.deviceId} ${link.b.port}`)) continue;
    for (const vlan of vlansOf(link, index)) {
      const known = byVlan.get(vlan);
      if (known) known.push(link);
      else byVlan.set(vlan, [link]);
    }
  }
  /** link → the rings it stands on, by their devices → in which VLANs */
  const loops = new Map<LinkFacts, Map<string, number[]>>();
  for (const [vlan, own] of [...byVlan].sort(([x], [y]) => x - y)) {
    const rings = ringsOf(own.map(({ a, b }) => ({ a: a.deviceId, b: b.deviceId })));
    const members = new Map<number, Set<string>>();
    own.forEach(({ a, b }, at) => {
      const ring = rings[at] ?? -1;
      if (ring >= 0) members.set(ring, (members.get(ring) ?? new Set<string>()).add(a.device).add(b.device));
    });
    own.forEach((link, at) => {
      const names = members.get(rings[at] ?? -1);
      if (!names) return;
      const words = inWords([...names]);
      const known = loops.get(link) ?? new Map<string, number[]>();
      known.set(words, [...(known.get(words) ?? []), vlan]);
      loops.set(link, known);
    });
  }
  for (const [link, rings] of loops) {
    for (const [names, vlans] of rings)
      link.issues.push({
        kind: 'loop',
        words: `loop in which no port rests: ${names}${vlans.every((vlan) => vlan === unaware) ? '' : `, in VLAN ${vlans.join(', ')}`}`,
      });
  }
}

/** Stands for ports that tell no VLANs. */
const unaware = 0;

const bridges = (index: DeviceIndex, { deviceId }: LinkEnd) => index.byId(deviceId)?.device.role === 'switch';
const portOf = (index: DeviceIndex, { deviceId, port }: LinkEnd): PortFacts | undefined => index.port(deviceId, port);

function isForwarding({ a, b, kind, blocked, segment }: LinkFacts, index: DeviceIndex): boolean {
  return (
    (kind === 'ethernet' || kind === 'lag') &&
    !blocked &&
    !segment &&
    a.deviceId !== b.deviceId &&
    bridges(index, a) &&
    bridges(index, b) &&
    [a, b].every((end) => portOf(index, end)?.oper !== 'down')
  );
}

/** An aggregate whose members go to several devices that act as one: no ring leads through it. */
function sharedAggregates(links: readonly LinkFacts[]): Set<string> {
  const [once, more] = [new Set<string>(), new Set<string>()];
  for (const { a, b, kind } of links) {
    if (kind !== 'lag') continue;
    for (const { deviceId, port } of [a, b]) {
      const key = `${deviceId} ${port}`;
      if (once.has(key)) more.add(key);
      once.add(key);
    }
  }
  return more;
}

function vlansOf({ a, b }: LinkFacts, index: DeviceIndex): number[] {
  const [left, right] = [carriedBy(portOf(index, a)), carriedBy(portOf(index, b))];
  if (left.size === 0 && right.size === 0) return [unaware];
  return [...left].filter((vlan) => right.has(vlan));
}

const carriedBy = (port: PortFacts | undefined): Set<number> =>
  new Set(port ? [...(port.vlan === null ? [] : [port.vlan]), ...port.taggedVlans] : []);

const inWords = (names: string[]): string => {
  names.sort((x, y) => (x < y ? -1 : 1));
  return names.length <= mostNames
    ? names.join(' – ')
    : `${names.slice(0, mostNames).join(' – ')} and ${names.length - mostNames} more`;
};
