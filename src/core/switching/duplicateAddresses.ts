import { compareNaturally } from '../values/naturalOrder';
import type { AttachmentFacts } from './placement';

export interface DuplicateAddress {
  address: string;
  /** the machines that have it, by MAC */
  holders: { mac: string; deviceId: number | null; port: string | null }[];
}

type Held = Pick<AttachmentFacts, 'mac' | 'addresses' | 'deviceId' | 'port' | 'ownDeviceId'>;

/**
 * Addresses that the address tables give to more than one machine. A MAC that an inventoried device owns is left out where another of the same
 * device has the address too; so are addresses that every interface may have (link-local, unspecified).
 */
export function duplicateAddresses(attachments: Iterable<Held>): DuplicateAddress[] {
  const holders = new Map<string, Held | Held[]>();
  for (const row of attachments) {
    for (const address of row.addresses) {
      if (/^(0\.0\.0\.0|169\.254\.|fe80:)/i.test(address)) continue;
      const others = holders.get(address);
      if (!others) holders.set(address, row);
      else if (Array.isArray(others)) others.push(row);
      else holders.set(address, [others, row]);
    }
  }
  return [...holders].flatMap(([address, rows]): DuplicateAddress[] => {
    if (!Array.isArray(rows)) return [];
    const own = new Set<number>();
    const different = rows.filter(({ ownDeviceId }) => ownDeviceId === null || (!own.has(ownDeviceId) && own.add(ownDeviceId)));
    if (different.length < 2) return [];
    return [{ address, holders: different.map(({ mac, deviceId, port }) => ({ mac, deviceId, port })).sort((x, y) => x.mac.localeCompare(y.mac)) }];
  }).sort((x, y) => compareNaturally(x.address, y.address));
}
