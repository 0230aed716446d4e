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
 * device has the address too; so are addresses that every interface may have (link-local, unspecified), and whoever contests the addresses of several machines:
 * it answers for them (proxy ARP, RFC 1027), and has none of them.
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
  const proxies = answeringForOthers(holders.values());
  return [...holders]
    .flatMap(([address, rows]): DuplicateAddress[] => {
      if (!Array.isArray(rows)) return [];
      const own = new Set<number>();
      const different = rows
        .filter((row) => !proxies.has(row.mac))
        .filter(({ ownDeviceId }) => ownDeviceId === null || (!own.has(ownDeviceId) && own.add(ownDeviceId)));
      if (different.length < 2) return [];
      return [
        {
          address,
          holders: different
            .map(({ mac, deviceId, port }) => ({ mac, deviceId, port }))
            .sort((x, y) => x.mac.localeCompare(y.mac)),
        },
      ];
    })
    .sort((x, y) => compareNaturally(x.address, y.address));
}

/** Two addresses may be mistyped; so many are answered for. */
const contestedByProxy = 3;

/** MACs that have several addresses of several other machines. */
function answeringForOthers(holders: Iterable<Held | Held[]>): Set<string> {
  const contested = new Map<string, { addresses: number; others: Set<string> }>();
  for (const rows of holders) {
    if (!Array.isArray(rows)) continue;
    for (const { mac } of rows) {
      let known = contested.get(mac);
      if (!known) contested.set(mac, (known = { addresses: 0, others: new Set() }));
      known.addresses++;
      for (const other of rows) if (other.mac !== mac) known.others.add(other.mac);
    }
  }
  return new Set(
    [...contested].flatMap(([mac, { addresses, others }]) =>
      addresses >= contestedByProxy && others.size >= contestedByProxy ? [mac] : [],
    ),
  );
}
