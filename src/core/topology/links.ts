import { compareNaturally } from '../values/naturalOrder';

export type LinkKind = 'ethernet' | 'lag' | 'stack' | 'l3' | 'virtual';
export type Confidence = 'confirmed' | 'claimed' | 'concluded';
export const evidenceSources = [
  'lldp',
  'spanningTree',
  'controller',
  'subnet',
  'hypervisor',
  'containment',
  'fdb',
] as const;
export type EvidenceSource = (typeof evidenceSources)[number];
export type IssueKind =
  | 'duplex'
  | 'speed'
  | 'mtu'
  | 'nativeVlan'
  | 'allowedVlans'
  | 'oneSided'
  | 'contradiction'
  | 'shared'
  | 'aggregation'
  | 'loop';

export interface LinkEnd {
  deviceId: number;
  device: string;
  port: string;
}

export interface LinkFacts {
  a: LinkEnd;
  b: LinkEnd;
  kind: LinkKind;
  /** confirmed: both ends say so; claimed: one end says so, or a controller of theirs; concluded: nobody says so, it follows from tables */
  confidence: Confidence;
  evidence: { source: EvidenceSource; by: string; detail: string }[];
  speedBps: number | null;
  blocked: boolean;
  issues: { kind: IssueKind; words: string }[];
  /** of an aggregate: the ports that make it up, pairs where it is known who is joined to whom; an empty name where it is not */
  members?: { a: string; b: string }[];
  /** something that nobody asked lies between the two: a switch without management, a bridge out of reach */
  segment?: true;
}

/** Puts the end first that comes first by name, so that a link has one key whoever reports it. */
export function inOrder(left: LinkEnd, right: LinkEnd): [LinkEnd, LinkEnd] {
  const order =
    compareNaturally(left.device, right.device) ||
    left.deviceId - right.deviceId ||
    compareNaturally(left.port, right.port);
  return order <= 0 ? [left, right] : [right, left];
}

export function linkKey(a: LinkEnd, b: LinkEnd): string {
  return `${a.deviceId} ${a.port} | ${b.deviceId} ${b.port}`;
}

/** Every port of a link that has a cable, its members where it is an aggregate, each with the port at its other end as far as that is known. */
export function cabledPorts({
  a,
  b,
  members,
}: Pick<LinkFacts, 'a' | 'b' | 'members'>): { deviceId: number; port: string; far: LinkEnd }[] {
  const ends = [
    { deviceId: a.deviceId, port: a.port, far: b },
    { deviceId: b.deviceId, port: b.port, far: a },
  ];
  return [
    ...ends,
    ...(members ?? []).flatMap((pair) => [
      ...(pair.a ? [{ deviceId: a.deviceId, port: pair.a, far: { ...b, port: pair.b || b.port } }] : []),
      ...(pair.b ? [{ deviceId: b.deviceId, port: pair.b, far: { ...a, port: pair.a || a.port } }] : []),
    ]),
  ];
}
