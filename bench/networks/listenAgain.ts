import type { AttachmentFacts } from '../../src/core/switching/placement';
import { heardTables, type SightedDevice } from '../../src/core/switching/heardTables';
import { unlisted } from '../../src/core/switching/unlisted';
import { generateNetwork, type Network, type NetworkPlan } from './network';

/**
 * What a survey does with machines that their switch ought to list and did not: it asks that switch once more, for them alone. The row is there now as likely as any
 * row is at any reading.
 * @returns the devices with what they said then beside what they said before, and how many were asked for and heard
 */
export function listenAgain(
  plan: NetworkPlan,
  { devices, sightings }: Network,
  attachments: Iterable<AttachmentFacts>,
): { devices: SightedDevice[]; asked: number; heard: number } {
  const again = generateNetwork({ ...plan, reading: plan.reading + 1 }).sightings;
  const added = new Map<number, { mac: string; port: string; vlan: number | null }[]>();
  let [asked, heard] = [0, 0];
  for (const attachment of attachments) {
    const missed = unlisted(attachment);
    if (!missed) continue;
    asked++;
    const rows = (again.get(missed.deviceId)?.forwarding ?? []).filter(({ mac }) => mac === missed.mac);
    if (rows.length === 0) continue;
    heard++;
    added.set(missed.deviceId, [...(added.get(missed.deviceId) ?? []), ...rows]);
  }
  return {
    asked,
    heard,
    devices: devices.map((device) => {
      const rows = added.get(device.id);
      const known = sightings.get(device.id);
      return rows && known
        ? { ...device, heard: heardTables({ ...known, forwarding: [...known.forwarding, ...rows] }) }
        : device;
    }),
  };
}
