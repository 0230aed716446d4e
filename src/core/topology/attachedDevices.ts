import type { AttachmentFacts } from '../switching/placement';
import type { Claim } from './claim';
import type { DeviceIndex } from './deviceIndex';

/**
 * Inventoried devices that speak no neighbour protocol (servers, power units, cameras) hang on the port on which one of their MACs was placed. Where a machine is virtual, its place is
 * its host.
 * @param taken that somebody told who is at the other end of a port
 * @param hostOf MAC of a virtual machine → number of its host
 */
export function claimsFromAttachments(
  attachments: Iterable<AttachmentFacts>,
  index: DeviceIndex,
  taken: (deviceId: number, port: string) => boolean,
  hostOf: (mac: string) => number | null,
): Claim[] {
  const claims: Claim[] = [];
  for (const { mac, deviceId, port, ownDeviceId } of attachments) {
    const guest = ownDeviceId === null ? undefined : index.byId(ownDeviceId);
    if (!guest) continue;
    const guestPort =
      guest.ports.find((candidate) => candidate.mac === mac && candidate.physical) ??
      guest.ports.find((candidate) => candidate.mac === mac);
    const own = { deviceId: guest.id, device: guest.device.name, port: guestPort?.name ?? mac };
    const hypervisor = index.byId(hostOf(mac) ?? -1);
    if (hypervisor && hypervisor.id !== guest.id) {
      claims.push({
        a: { deviceId: hypervisor.id, device: hypervisor.device.name, port: '' },
        b: own,
        source: 'hypervisor',
        by: null,
        byName: hypervisor.device.name,
        kind: 'virtual',
        detail: `${mac} of ${guest.device.name} is an adapter of a virtual machine that runs on ${hypervisor.device.name}`,
      });
      continue;
    }
    const host = deviceId === null ? undefined : index.byId(deviceId);
    if (!host || port === null || host.id === guest.id || taken(host.id, port)) continue;
    claims.push({
      a: { deviceId: host.id, device: host.device.name, port },
      b: own,
      source: 'fdb',
      by: null,
      byName: host.device.name,
      detail: `${host.device.name} hears ${mac} of ${guest.device.name} on ${port} and no switch lies between`,
    });
  }
  return claims;
}
