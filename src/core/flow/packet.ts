/**
 * What a captured packet tells of who talks to whom: addresses, ports, protocol, how long it was, and which VLAN it was in. One object is filled anew for each packet: a capture has
 * millions.
 */
export class PacketFields {
  /** 4 or 6 */
  family = 4;
  /** IP protocol: 6 TCP, 17 UDP (IANA protocol numbers) */
  protocol = 0;
  /** where the addresses stand in the octets: 4 or 16 of them */
  sourceAt = 0;
  destinationAt = 0;
  /** 0 where the protocol has none, or the packet is a later fragment */
  sourcePort = 0;
  destinationPort = 0;
  /** octets of the IP packet as its head tells, whatever was captured of it */
  length = 0;
  /** TCP flags; 0 for others */
  flags = 0;
  /** outermost VLAN of IEEE 802.1Q; 0 where there is no tag */
  vlan = 0;
  /** a later fragment: its ports stand in the first one alone */
  isFragment = false;
}

export const tcp = 6;
export const udp = 17;
const sctp = 132;
/** Flags of TCP (RFC 9293). */
export const [finFlag, synFlag, rstFlag, ackFlag] = [0x01, 0x02, 0x04, 0x10];

/** Link types of captures, as the registry of pcap numbers them. */
export const linkTypes = {
  loopback: 0,
  ethernet: 1,
  rawOld: 12,
  rawOlder: 14,
  raw: 101,
  openLoopback: 108,
  linuxCooked: 113,
  ipv4: 228,
  ipv6: 229,
  linuxCooked2: 276,
} as const;
const known = new Set<number>(Object.values(linkTypes));
export const isKnownLinkType = (linkType: number): boolean => known.has(linkType);

const etherTypes = {
  ipv4: 0x0800,
  ipv6: 0x86dd,
  vlan: 0x8100,
  serviceVlan: 0x88a8,
  oldServiceVlan: 0x9100,
  mpls: 0x8847,
};
const mostTags = 4;
const mostLabels = 8;
/** An IEEE 802.3 length stands where Ethernet II has a type. */
const leastType = 0x0600;

/**
 * Reads the heads of one packet.
 * @param octets holds the packet from `start` to `end`; what was cut off when it was captured is not there
 * @returns false for what is no IP, or is cut within its heads
 */
export function readPacket(
  octets: Uint8Array,
  start: number,
  end: number,
  linkType: number,
  into: PacketFields,
): boolean {
  into.vlan = 0;
  switch (linkType) {
    case linkTypes.ethernet:
      return start + 14 <= end && readTyped(octets, start + 14, end, pair(octets, start + 12), into);
    case linkTypes.linuxCooked:
      return start + 16 <= end && readTyped(octets, start + 16, end, pair(octets, start + 14), into);
    case linkTypes.linuxCooked2:
      return start + 20 <= end && readTyped(octets, start + 20, end, pair(octets, start), into);
    // the family is told in the order of octets of whoever captured, and its numbers differ: the first half octet of the packet says as much
    case linkTypes.loopback:
    case linkTypes.openLoopback:
      return readIp(octets, start + 4, end, into);
    case linkTypes.raw:
    case linkTypes.rawOld:
    case linkTypes.rawOlder:
    case linkTypes.ipv4:
    case linkTypes.ipv6:
      return readIp(octets, start, end, into);
    default:
      return false;
  }
}

const pair = (octets: Uint8Array, at: number): number => ((octets[at] ?? 0) << 8) | (octets[at + 1] ?? 0);

/** Behind the type of Ethernet: tags of VLANs and labels of MPLS, then IP. */
function readTyped(octets: Uint8Array, at: number, end: number, type: number, into: PacketFields): boolean {
  let here = at;
  let told = type;
  for (let tags = 0; tags <= mostTags; tags++) {
    switch (told) {
      case etherTypes.ipv4:
      case etherTypes.ipv6:
        return readIp(octets, here, end, into);
      case etherTypes.vlan:
      case etherTypes.serviceVlan:
      case etherTypes.oldServiceVlan:
        if (here + 4 > end) return false;
        into.vlan ||= pair(octets, here) & 0x0fff;
        told = pair(octets, here + 2);
        here += 4;
        break;
      case etherTypes.mpls: {
        const behind = behindLabels(octets, here, end);
        return behind !== null && readIp(octets, behind, end, into);
      }
      default:
        // LLC with SNAP (IEEE 802, RFC 1042) has the type behind eight octets
        if (told >= leastType || here + 8 > end || pair(octets, here) !== 0xaaaa) return false;
        told = pair(octets, here + 6);
        here += 8;
    }
  }
  return false;
}

/** The bottom of the stack of labels is marked (RFC 3032). */
function behindLabels(octets: Uint8Array, at: number, end: number): number | null {
  for (let label = 0, here = at; label < mostLabels && here + 4 <= end; label++, here += 4)
    if ((octets[here + 2] ?? 0) & 1) return here + 4;
  return null;
}

function readIp(octets: Uint8Array, at: number, end: number, into: PacketFields): boolean {
  if (at >= end) return false;
  const version = (octets[at] ?? 0) >> 4;
  return version === 4 ? readIpv4(octets, at, end, into) : version === 6 && readIpv6(octets, at, end, into);
}

/** RFC 791. */
function readIpv4(octets: Uint8Array, at: number, end: number, into: PacketFields): boolean {
  const head = ((octets[at] ?? 0) & 0x0f) * 4;
  if (head < 20 || at + head > end) return false;
  const length = pair(octets, at + 2);
  // a card that cuts packets itself has not told their length yet when they are captured
  into.length = length === 0 ? end - at : length;
  if (into.length < head) return false;
  into.family = 4;
  into.protocol = octets[at + 9] ?? 0;
  into.sourceAt = at + 12;
  into.destinationAt = at + 16;
  into.isFragment = (pair(octets, at + 6) & 0x1fff) !== 0;
  readPorts(octets, at + head, end, into);
  return true;
}

/** Extension heads that stand between (RFC 8200, RFC 6275, RFC 7401); behind others the ports are not to be had. */
const [hopByHop, routing, fragment, authentication, destination, mobility] = [0, 43, 44, 51, 60, 135];
const mostHeads = 8;

function readIpv6(octets: Uint8Array, at: number, end: number, into: PacketFields): boolean {
  if (at + 40 > end) return false;
  into.family = 6;
  into.length = pair(octets, at + 4) === 0 ? end - at : pair(octets, at + 4) + 40;
  into.sourceAt = at + 8;
  into.destinationAt = at + 24;
  into.isFragment = false;
  let next = octets[at + 6] ?? 0;
  let here = at + 40;
  for (let heads = 0; heads < mostHeads; heads++) {
    if (next === fragment) {
      if (here + 8 > end) break;
      into.isFragment = pair(octets, here + 2) >> 3 !== 0;
      next = octets[here] ?? 0;
      here += 8;
    } else if (next === hopByHop || next === routing || next === destination || next === mobility) {
      if (here + 2 > end) break;
      next = octets[here] ?? 0;
      here += ((octets[here + 1] ?? 0) + 1) * 8;
    } else if (next === authentication) {
      if (here + 2 > end) break;
      next = octets[here] ?? 0;
      here += ((octets[here + 1] ?? 0) + 2) * 4;
    } else break;
  }
  into.protocol = next;
  readPorts(octets, here, end, into);
  return true;
}

function readPorts(octets: Uint8Array, at: number, end: number, into: PacketFields): void {
  into.flags = 0;
  into.sourcePort = 0;
  into.destinationPort = 0;
  const { protocol } = into;
  if (into.isFragment || (protocol !== tcp && protocol !== udp && protocol !== sctp) || at + 4 > end) return;
  into.sourcePort = pair(octets, at);
  into.destinationPort = pair(octets, at + 2);
  if (protocol === tcp && at + 14 <= end) into.flags = octets[at + 13] ?? 0;
}
