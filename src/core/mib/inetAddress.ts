import { addressFromOctets } from '../values/ipAddress';
import { lengthPrefixed } from './table';

/** An address of INET-ADDRESS-MIB (RFC 4001) inside an index. */
export interface IndexedAddress {
  /**
   * `*` where the type is unknown(0) and the address empty: any local address (RFC 4022, RFC 4113). One that is unique on its link alone keeps the zone that was told, as
   * RFC 4007 writes it: `fe80::1%3`.
   */
  address: string;
  /** zone index of the types ipv4z(3) and ipv6z(4) */
  zone: number | null;
  /** where the next part of the index begins */
  next: number;
}

/** InetAddressType, length, octets. Null where the index is too short or the type is none of 0 to 4. */
export function indexedAddress(index: number[], at: number): IndexedAddress | null {
  const type = index[at];
  const rest = lengthPrefixed(index, at + 1);
  if (type === undefined || !rest || type < 0 || type > 4) return null;
  if (type === 0) return rest.part.length === 0 ? { address: '*', zone: null, next: rest.next } : null;
  const width = type === 1 || type === 3 ? 4 : 16;
  const zoned = type >= 3;
  if (rest.part.length !== width + (zoned ? 4 : 0)) return null;
  const address = addressFromOctets(rest.part.slice(0, width));
  if (!address) return null;
  const zone = zoned ? rest.part.slice(width).reduce((value, octet) => value * 256 + octet, 0) : null;
  return { address: zone ? zoned6(address, zone) : address, zone, next: rest.next };
}

/** Only link-local addresses need their zone to be told apart. */
const zoned6 = (address: string, zone: number): string =>
  address.startsWith('fe80:') ? `${address}%${zone}` : address;
