import { addressFromOctets, maskLength } from '../values/ipAddress';
import { isEmptyMac, macFromOctets } from '../values/mac';
import { indexedAddress } from './inetAddress';
import { tableRows, type Answered } from './table';
import { numberOf, octetsOfValue, textOf } from './varbind';

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

/** Addresses of the device itself: ipAddrTable joined with ipAddressTable, each address once. Only unicast rows count. */
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
    if (!address || ifIndex === undefined || addressType !== 1) continue;
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

/** ARP and neighbour discovery caches: address → MAC on an interface. Invalid and empty rows are left out. */
export function parseNeighbourAddresses(answered: Answered): NeighbourAddress[] {
  const found = new Map<string, NeighbourAddress>();
  for (const { index, cells } of tableRows(ipTables.ipNetToMediaEntry, answered)) {
    const address = addressFromOctets(index.slice(1));
    add(found, address, index[0], octetsOfValue(cells.get(2)), numberOf(cells.get(4)));
  }
  for (const { index, cells } of tableRows(ipTables.ipNetToPhysicalEntry, answered)) {
    const address = indexedAddress(index, 1)?.address ?? null;
    add(found, address, index[0], octetsOfValue(cells.get(4)), numberOf(cells.get(6)));
  }
  return [...found.values()];
}

function add(
  found: Map<string, NeighbourAddress>,
  address: string | null,
  ifIndex: number | undefined,
  octets: Uint8Array | undefined,
  type: number | undefined,
): void {
  const mac = octets ? macFromOctets(octets) : null;
  const invalid = 2;
  if (!address || !mac || ifIndex === undefined || isEmptyMac(mac) || type === invalid) return;
  found.set(`${ifIndex} ${address}`, { address, mac, ifIndex });
}
