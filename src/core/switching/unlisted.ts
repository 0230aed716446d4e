import type { AttachmentFacts } from './placement';

/** A machine of which the switch is known, or thought to be, that does not list it. */
export interface Unlisted {
  deviceId: number;
  mac: string;
  vlan: number | null;
  addresses: string[];
}

/**
 * The switch that ought to list a machine and did not: whoever asks it again for that machine alone may hear where it is. Null where the place is known by a table
 * or by somebody's word, or where not even the switch is known.
 */
export function unlisted({ mac, vlan, addresses, basis, among, deviceId }: AttachmentFacts): Unlisted | null {
  if (among) return { deviceId: among.deviceId, mac, vlan, addresses };
  if (deviceId !== null && (basis === 'remaining' || basis === 'remembered')) return { deviceId, mac, vlan, addresses };
  return null;
}
