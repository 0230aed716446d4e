import type { NeighbourFacts } from '../estate/facts';
import type { AttachmentFacts } from '../switching/placement';
import type { Basis } from '../switching/settled';

/** How a place is known where no forwarding table lists the machine there, in a few words. */
export const basisWords: Record<Exclude<Basis, 'heard'>, string> = {
  reported: 'its own neighbour report',
  hosted: 'where its host hangs',
  remaining: 'the only port left',
  segment: 'behind something nobody asked',
  remembered: 'where it was before',
};

/** The same as a sentence of evidence. */
function basisEvidence(basis: Exclude<Basis, 'heard'>, device: string, port: string, vlan: number | null): string {
  const inVlan = vlan === null ? '' : ` in VLAN ${vlan}`;
  switch (basis) {
    case 'reported':
      return `${device} does not list it, but hears its neighbour report on port ${port}`;
    case 'hosted':
      return `${device} does not list it, but the host on which this virtual machine runs hangs on port ${port}`;
    case 'remaining':
      return `all switches that hear it${inVlan} look towards ${device}, which does not list it; port ${port} is the only one there it can be on`;
    case 'segment':
      return `heard behind port ${port} of ${device}, and by no switch that lies there: something that nobody asked is in between`;
    case 'remembered':
      return `all switches that hear it${inVlan} look towards ${device}, which does not list it; it was on port ${port} before, and that port is up`;
  }
}

const shownPorts = 8;

/** Who says that an endpoint hangs where it hangs, and has the addresses it has, a sentence each. */
export function placementWords(
  { deviceId, port, vlan, addresses, evidence, basis, among, older = [] }: AttachmentFacts,
  nameOf: (deviceId: number) => string,
  neighbour: NeighbourFacts | undefined,
): string[] {
  return [
    ...(deviceId === null
      ? []
      : [
          basis
            ? basisEvidence(basis, nameOf(deviceId), port ?? '', vlan)
            : `forwarding table of ${nameOf(deviceId)}, port ${port}${vlan === null ? '' : `, VLAN ${vlan}`}`,
        ]),
    ...(among
      ? [
          `all switches that hear it look towards ${nameOf(among.deviceId)}, which does not list it; its port is not known${among.ports.length > 0 ? `, it may be ${among.ports.slice(0, shownPorts).join(', ')}${among.ports.length > shownPorts ? ' or another' : ''}` : ''}`,
        ]
      : []),
    ...older.map(
      (place) =>
        `${nameOf(place.deviceId)} lists it on port ${place.port} too: an old row, since the others hear it elsewhere`,
    ),
    ...addresses.flatMap((address, at) => {
      const by = evidence[at];
      return by === undefined ? [] : [`address table of ${nameOf(by)}: ${address}`];
    }),
    ...(neighbour ? [`neighbour report on this port: ${neighbour.systemName || neighbour.chassisId}`] : []),
  ];
}
