import type { NeighbourFacts } from '../estate/facts';
import type { AttachmentFacts } from '../switching/placement';

/** Who says that an endpoint hangs where it hangs, and has the addresses it has, a sentence each. */
export function placementWords({ deviceId, port, vlan, addresses, evidence }: AttachmentFacts, nameOf: (deviceId: number) => string, neighbour: NeighbourFacts | undefined): string[] {
  return [
    ...(deviceId === null ? [] : [`forwarding table of ${nameOf(deviceId)}, port ${port}${vlan === null ? '' : `, VLAN ${vlan}`}`]),
    ...addresses.flatMap((address, at) => {
      const by = evidence[at];
      return by === undefined ? [] : [`address table of ${nameOf(by)}: ${address}`];
    }),
    ...(neighbour ? [`neighbour report on this port: ${neighbour.systemName || neighbour.chassisId}`] : []),
  ];
}
