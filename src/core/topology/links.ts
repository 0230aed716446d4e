import type { PortFacts } from '../estate/facts';
import { formatSpeed } from '../values/quantity';
import { compareNaturally } from '../values/naturalOrder';
import type { DeviceIndex } from './deviceIndex';

export type LinkKind = 'ethernet' | 'lag' | 'stack' | 'l3' | 'virtual';
export type Confidence = 'confirmed' | 'claimed' | 'concluded';

export interface LinkEnd {
  deviceId: number;
  device: string;
  port: string;
}

export interface LinkFacts {
  a: LinkEnd;
  b: LinkEnd;
  kind: LinkKind;
  /** confirmed: both ends say so; claimed: one end says so; concluded: from forwarding tables */
  confidence: Confidence;
  evidence: { source: 'lldp' | 'fdb'; by: string; detail: string }[];
  speedBps: number | null;
  blocked: boolean;
  issues: { kind: 'duplex' | 'speed' | 'mtu' | 'nativeVlan' | 'allowedVlans' | 'oneSided'; words: string }[];
}

/**
 * Links from LLDP neighbour reports (IEEE 802.1AB). Two reports that name each other become one confirmed link;
 * one report alone is a claim. A neighbour that is not in the estate gives no link. Linear in the number of reports.
 */
export function linksFromNeighbours(index: DeviceIndex): LinkFacts[] {
  const links = new Map<string, LinkFacts>();
  for (const known of index.devices) {
    for (const neighbour of known.neighbours) {
      const other = index.ofNeighbour(neighbour);
      if (!other || other.id === known.id) continue;
      const otherPort = index.portOfNeighbour(other, neighbour);
      const here: LinkEnd = { deviceId: known.id, device: known.device.name, port: neighbour.port };
      const there: LinkEnd = { deviceId: other.id, device: other.device.name, port: otherPort?.name ?? neighbour.portId };
      const [a, b] = inOrder(here, there);
      const key = linkKey(a, b);
      const evidence = {
        source: 'lldp' as const,
        by: known.device.name,
        detail: `${known.device.name} hears ${neighbour.systemName || neighbour.chassisId} (${neighbour.portId}) on ${neighbour.port}`,
      };
      const link = links.get(key);
      if (!link) {
        links.set(key, { a, b, kind: 'ethernet', confidence: 'claimed', evidence: [evidence], speedBps: null, blocked: false, issues: [] });
      } else if (!link.evidence.some(({ by }) => by === known.device.name)) {
        link.evidence.push(evidence);
        link.confidence = 'confirmed';
      }
    }
  }
  return [...links.values()].map((link) => withPortFacts(link, index));
}

/** Puts the end first that comes first by name, so that a link has one key whoever reports it. */
export function inOrder(left: LinkEnd, right: LinkEnd): [LinkEnd, LinkEnd] {
  const order = compareNaturally(left.device, right.device) || left.deviceId - right.deviceId || compareNaturally(left.port, right.port);
  return order <= 0 ? [left, right] : [right, left];
}

export function linkKey(a: LinkEnd, b: LinkEnd): string {
  return `${a.deviceId} ${a.port} | ${b.deviceId} ${b.port}`;
}

/** Adds what the two ports say: speed, blocking, and every setting in which they disagree. */
export function withPortFacts(link: LinkFacts, index: DeviceIndex): LinkFacts {
  const a = index.port(link.a.deviceId, link.a.port);
  const b = index.port(link.b.deviceId, link.b.port);
  const speeds = [a?.speedBps, b?.speedBps].filter((speed): speed is number => typeof speed === 'number');
  const oneSided = link.confidence === 'claimed' ? oneSidedIssue(link, index) : [];
  return {
    ...link,
    speedBps: speeds.length > 0 ? Math.min(...speeds) : null,
    blocked: [a, b].some((port) => port?.stp?.state === 'blocking'),
    issues: a && b ? [...mismatches(link, a, b), ...oneSided] : oneSided,
  };
}

/** A claim is only odd when both ends answered and the one that keeps still speaks LLDP elsewhere: then it should have heard this one too. */
function oneSidedIssue(link: LinkFacts, index: DeviceIndex): LinkFacts['issues'] {
  const by = link.evidence[0]?.by;
  const silent = [link.a, link.b].find(({ device }) => device !== by);
  const ends = [link.a, link.b].map(({ deviceId }) => index.byId(deviceId));
  if (ends.some((end) => !end?.answered)) return [];
  const speaks = ends.find((end) => end?.id === silent?.deviceId)?.neighbours.length;
  return silent && speaks ? [{ kind: 'oneSided', words: `${silent.device} does not hear ${by} on ${silent.port}` }] : [];
}

function mismatches(link: LinkFacts, a: PortFacts, b: PortFacts): LinkFacts['issues'] {
  const issues: LinkFacts['issues'] = [];
  const says = (left: string, right: string) => `${link.a.device} ${link.a.port} has ${left}, ${link.b.device} ${link.b.port} has ${right}`;
  if (a.duplex !== 'unknown' && b.duplex !== 'unknown' && a.duplex !== b.duplex) {
    issues.push({ kind: 'duplex', words: `duplex differs: ${says(a.duplex, b.duplex)}` });
  }
  if (a.speedBps && b.speedBps && a.speedBps !== b.speedBps) {
    issues.push({ kind: 'speed', words: `speed differs: ${says(formatSpeed(a.speedBps), formatSpeed(b.speedBps))}` });
  }
  if (a.mtu && b.mtu && a.mtu !== b.mtu) issues.push({ kind: 'mtu', words: `MTU differs: ${says(String(a.mtu), String(b.mtu))}` });
  if (a.vlan && b.vlan && a.vlan !== b.vlan) issues.push({ kind: 'nativeVlan', words: `native VLAN differs: ${says(String(a.vlan), String(b.vlan))}` });
  if (a.taggedVlans.length > 0 && b.taggedVlans.length > 0 && a.taggedVlans.join() !== b.taggedVlans.join()) {
    issues.push({ kind: 'allowedVlans', words: `allowed VLANs differ: ${says(a.taggedVlans.join(', '), b.taggedVlans.join(', '))}` });
  }
  return issues;
}
