import type { AttachmentFacts } from '../switching/placement';
import type { DeviceIndex } from './deviceIndex';
import { inOrder, linkKey, withPortFacts, type LinkFacts } from './links';

/**
 * Links to inventoried devices that speak no neighbour protocol (servers, power units): the port on which
 * one of their MACs was placed. Such a link is concluded, not claimed.
 */
export function linksFromAttachments(attachments: Iterable<AttachmentFacts>, index: DeviceIndex, known: LinkFacts[]): LinkFacts[] {
  const linked = new Set(known.flatMap(({ a, b }) => [`${a.deviceId} ${a.port}`, `${b.deviceId} ${b.port}`]));
  const links = new Map<string, LinkFacts>();
  for (const { mac, deviceId, port, ownDeviceId } of attachments) {
    const host = deviceId === null ? undefined : index.byId(deviceId);
    const guest = ownDeviceId === null ? undefined : index.byId(ownDeviceId);
    if (!host || !guest || port === null || host.id === guest.id || linked.has(`${host.id} ${port}`)) continue;
    const guestPort = guest.ports.find((candidate) => candidate.mac === mac && candidate.physical) ?? guest.ports.find((candidate) => candidate.mac === mac);
    const [a, b] = inOrder(
      { deviceId: host.id, device: host.device.name, port },
      { deviceId: guest.id, device: guest.device.name, port: guestPort?.name ?? mac },
    );
    links.set(linkKey(a, b), withPortFacts({
      a, b, kind: 'ethernet', confidence: 'concluded', speedBps: null, blocked: false, issues: [],
      evidence: [{ source: 'fdb', by: host.device.name, detail: `${host.device.name} hears ${mac} of ${guest.device.name} on ${port} and no switch lies between` }],
    }, index));
  }
  return [...links.values()];
}
