import type { PortFacts } from '../estate/facts';
import type { ToldByNeighbour } from '../mib/lldpExtensions';
import { duplexOfMau } from '../mib/mau';
import { formatSpeed } from '../values/quantity';
import type { LinkEnd, LinkFacts } from './links';

type Issues = LinkFacts['issues'];
interface Ends {
  a: LinkEnd;
  b: LinkEnd;
}

/** A port together with what its neighbour hears of it by LLDP: that counts where nobody asked the port itself, or it does not tell. */
export function withHeardOf(port: PortFacts, told: ToldByNeighbour | undefined): PortFacts {
  if (!told) return port;
  const duplex = told.mauType === undefined ? 'unknown' : duplexOfMau(told.mauType);
  return {
    ...port,
    vlan: port.vlan ?? told.vlan ?? null,
    duplex: port.duplex === 'unknown' ? duplex : port.duplex,
  };
}

/** The longest frames by what both ends say to each other, where their own MTU is not told: with head and check, so that the two are held against each other alone. */
export function frameMismatch(
  ends: Ends,
  [a, ofA]: [PortFacts, ToldByNeighbour | undefined],
  [b, ofB]: [PortFacts, ToldByNeighbour | undefined],
): Issues {
  if ((a.mtu && b.mtu) || !ofA?.maxFrame || !ofB?.maxFrame || ofA.maxFrame === ofB.maxFrame) return [];
  const octets = (told: ToldByNeighbour) => `${told.maxFrame} octets`;
  return [{ kind: 'mtu', words: `longest frame differs: ${saying(ends)(octets(ofA), octets(ofB))}` }];
}

/** Every setting in which the two ports of a link disagree. */
export function mismatches(ends: Ends, a: PortFacts, b: PortFacts): Issues {
  return [...cableMismatches(ends, a, b), ...bridgingMismatches(ends, a, b)];
}

const saying =
  ({ a, b }: Ends) =>
  (left: string, right: string) =>
    `${a.device} ${a.port} has ${left}, ${b.device} ${b.port} has ${right}`;

/** What belongs to a single cable: in an aggregate each member has its own. */
export function cableMismatches(ends: Ends, a: PortFacts, b: PortFacts): Issues {
  const issues: Issues = [];
  const says = saying(ends);
  if (a.duplex !== 'unknown' && b.duplex !== 'unknown' && a.duplex !== b.duplex)
    issues.push({ kind: 'duplex', words: `duplex differs: ${says(a.duplex, b.duplex)}` });
  if (a.speedBps && b.speedBps && a.speedBps !== b.speedBps)
    issues.push({ kind: 'speed', words: `speed differs: ${says(formatSpeed(a.speedBps), formatSpeed(b.speedBps))}` });
  return issues;
}

/** What belongs to the link as a whole, an aggregate too. */
export function bridgingMismatches(ends: Ends, a: PortFacts, b: PortFacts): Issues {
  const issues: Issues = [];
  const says = saying(ends);
  if (a.mtu && b.mtu && a.mtu !== b.mtu)
    issues.push({ kind: 'mtu', words: `MTU differs: ${says(String(a.mtu), String(b.mtu))}` });
  if (a.vlan && b.vlan && a.vlan !== b.vlan)
    issues.push({ kind: 'nativeVlan', words: `native VLAN differs: ${says(String(a.vlan), String(b.vlan))}` });
  if (a.taggedVlans.length > 0 && b.taggedVlans.length > 0 && a.taggedVlans.join() !== b.taggedVlans.join()) {
    issues.push({
      kind: 'allowedVlans',
      words: `allowed VLANs differ: ${says(a.taggedVlans.join(', '), b.taggedVlans.join(', '))}`,
    });
  }
  return issues;
}
