import { addressFromOctets, maskLength } from '../values/ipAddress';
import { isGroupMac } from '../values/mac';
import { indexedAddress } from './inetAddress';
import { tableRows, type Answered } from './table';
import { macOfValue, numberOf, textOf } from './varbind';

/** IP-MIB (RFC 4293): the old IPv4-only tables and the new ones for both families. */
export const ipTables = {
  ipAddrEntry: '1.3.6.1.2.1.4.20.1',
  ipAddressEntry: '1.3.6.1.2.1.4.34.1',
  ipNetToMediaEntry: '1.3.6.1.2.1.4.22.1',
  ipNetToPhysicalEntry: '1.3.6.1.2.1.4.35.1',
} as const;

export interface InterfaceAddress {
  address: string;
  ifIndex: number;
  prefixLength: number | null;
}

export interface NeighbourAddress {
  address: string;
  mac: string;
  ifIndex: number;
}

/** ipAddressStatus of rows that are no address to use: invalid(3), tentative(6), duplicate(7). */
const unusable = new Set([3, 6, 7]);

/**
 * Addresses of the device itself: ipAddrTable joined with ipAddressTable, each address once. Only unicast rows count, and only those in use:
 * what the newer table says of an address holds for the older one too.
 */
export function parseInterfaceAddresses(answered: Answered): InterfaceAddress[] {
  const found = new Map<string, InterfaceAddress>();
  for (const { index, cells } of tableRows(ipTables.ipAddrEntry, answered)) {
    const address = addressFromOctets(index);
    const ifIndex = numberOf(cells.get(2));
    if (!address || ifIndex === undefined) continue;
    found.set(address, { address, ifIndex, prefixLength: maskLength(textOf(cells.get(3)) ?? '') });
  }
  for (const { index, cells } of tableRows(ipTables.ipAddressEntry, answered)) {
    const address = indexedAddress(index, 0)?.address;
    const ifIndex = numberOf(cells.get(3));
    const addressType = numberOf(cells.get(4)) ?? 1;
    if (!address) continue;
    if (addressType !== 1 || unusable.has(numberOf(cells.get(7)) ?? 0)) {
      found.delete(address);
      continue;
    }
    if (ifIndex === undefined) continue;
    const known = found.get(address);
    const prefixLength = known?.prefixLength ?? prefixLengthFrom(textOf(cells.get(5)) ?? '');
    found.set(address, { address, ifIndex, prefixLength });
  }
  return [...found.values()];
}

/** ipAddressPrefix points at a row of ipAddressPrefixTable whose last index part is the length. */
function prefixLengthFrom(pointer: string): number | null {
  const match = /^1\.3\.6\.1\.2\.1\.4\.32\.1\..*\.(\d+)$/.exec(pointer);
  return match ? Number(match[1]) : null;
}

/** ipNetToPhysicalState of rows that are no longer, or not yet, true: invalid(5), incomplete(7). */
const unsettled = new Set([5, 7]);
/** ipNetToMediaType and ipNetToPhysicalType: invalid(2); the device's own address: local(5). */
const [invalid, local] = [2, 5];

/**
 * ARP and neighbour discovery caches: address → MAC on an interface, both tables together. What the newer one says is not, or not yet, true is left out of the older one as well;
 * so are empty addresses, and those of groups, which are no machine's.
 */
export function parseNeighbourAddresses(answered: Answered): NeighbourAddress[] {
  const found = new Map<string, NeighbourAddress>();
  const keep = (address: string | null, ifIndex: number | undefined, mac: string | null, holds: boolean) => {
    if (!address || ifIndex === undefined) return;
    const key = `${ifIndex} ${address}`;
    if (!holds) found.delete(key);
    else if (mac !== null && !isGroupMac(mac)) found.set(key, { address, mac, ifIndex });
  };
  for (const { index, cells } of tableRows(ipTables.ipNetToMediaEntry, answered)) {
    keep(addressFromOctets(index.slice(1)), index[0], macOfValue(cells.get(2)), numberOf(cells.get(4)) !== invalid);
  }
  for (const { index, cells } of tableRows(ipTables.ipNetToPhysicalEntry, answered)) {
    const type = numberOf(cells.get(6));
    const holds = type !== invalid && type !== local && !unsettled.has(numberOf(cells.get(7)) ?? 0);
    keep(indexedAddress(index, 1)?.address ?? null, index[0], macOfValue(cells.get(4)), holds);
  }
  return [...found.values()];
}
