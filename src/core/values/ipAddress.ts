import ipaddr from 'ipaddr.js';

/**
 * IP addresses and prefixes as plain canonical strings: `10.72.4.1`, `fe80::1`, `10.72.4.0/22`.
 * Parsing is strict: four decimal parts for IPv4, RFC 4291 text for IPv6. IPv6 is written by RFC 5952.
 */
export class AddressError extends Error {
  constructor(
    readonly text: string,
    readonly reason: string,
  ) {
    super(`“${text}” ${reason}`);
    this.name = 'AddressError';
  }
}

type Parsed = ipaddr.IPv4 | ipaddr.IPv6;

function parse(text: string): Parsed | null {
  const bare = text.trim();
  if (ipaddr.IPv4.isValidFourPartDecimal(bare)) return ipaddr.IPv4.parse(bare);
  if (bare.includes(':') && ipaddr.IPv6.isValid(bare)) return ipaddr.IPv6.parse(bare);
  return null;
}

/** The canonical form of an address. @throws AddressError if the text is not an IP address. */
export function parseAddress(text: string): string {
  const parsed = parse(text);
  if (!parsed) throw new AddressError(text, 'is not an IP address: write it like 10.72.4.1');
  return parsed instanceof ipaddr.IPv6 ? parsed.toRFC5952String() : parsed.toString();
}

/** Canonical form, or null when the text is not an address. */
export function addressOrNull(text: string): string | null {
  const parsed = parse(text);
  return parsed ? (parsed instanceof ipaddr.IPv6 ? parsed.toRFC5952String() : parsed.toString()) : null;
}

/** Index parts of foreign tables may be anything: an octet is a whole number from 0 to 255. */
export function areOctets(numbers: ArrayLike<number>): boolean {
  for (let at = 0; at < numbers.length; at++) {
    const number = numbers[at] ?? -1;
    if (!Number.isInteger(number) || number < 0 || number > 255) return false;
  }
  return true;
}

/** Four or sixteen octets to an address; null for any other length. */
export function addressFromOctets(octets: ArrayLike<number>): string | null {
  if ((octets.length !== 4 && octets.length !== 16) || !areOctets(octets)) return null;
  return octets.length === 4
    ? `${octets[0]}.${octets[1]}.${octets[2]}.${octets[3]}`
    : new ipaddr.IPv6(Array.from(octets)).toRFC5952String();
}

/** The octets of an address that is known to be valid. */
export function octetsOf(address: string): number[] {
  const parsed = parse(address);
  if (!parsed) throw new AddressError(address, 'is not an IP address');
  return parsed.toByteArray();
}

/** An IPv4 address as an unsigned 32-bit number. */
export function ipv4Number(address: string): number {
  const [a = 0, b = 0, c = 0, d = 0] = octetsOf(address);
  return ((a << 24) | (b << 16) | (c << 8) | d) >>> 0;
}

/** An unsigned 32-bit number as an IPv4 address. */
export function ipv4FromNumber(value: number): string {
  return [value >>> 24, (value >>> 16) & 255, (value >>> 8) & 255, value & 255].join('.');
}

export interface Prefix {
  /** network address, canonical, host bits zero */
  network: string;
  length: number;
  family: 4 | 6;
}

/** Parses `address/length`. Host bits must be zero, so that a typing slip is seen. @throws AddressError */
export function parsePrefix(text: string): Prefix {
  const [head = '', tail, more] = text.trim().split('/');
  if (more !== undefined || tail === undefined || !/^\d{1,3}$/.test(tail)) {
    throw new AddressError(text, 'is not a prefix: write it like 10.72.4.0/24');
  }
  const parsed = parse(head);
  if (!parsed) throw new AddressError(text, `does not begin with an IP address: “${head}”`);
  const family = parsed instanceof ipaddr.IPv6 ? 6 : 4;
  const length = Number(tail);
  const width = family === 4 ? 32 : 128;
  if (length > width) throw new AddressError(text, `has a prefix length above ${width}`);
  const masked = mask(parsed.toByteArray(), length);
  const network = addressFromOctets(masked) ?? head;
  if (network !== parseAddress(head)) {
    throw new AddressError(text, `has bits set behind the prefix length: did you mean ${network}/${length}?`);
  }
  return { network, length, family };
}

function mask(octets: number[], length: number): number[] {
  return octets.map((octet, index) => {
    const bits = Math.max(0, Math.min(8, length - index * 8));
    return octet & (0xff << (8 - bits)) & 0xff;
  });
}

/** Whether an address lies in a prefix of the same family. */
export function prefixContains(prefix: Prefix, address: string): boolean {
  const parsed = parse(address);
  if (!parsed) return false;
  const octets = parsed.toByteArray();
  if (octets.length !== (prefix.family === 4 ? 4 : 16)) return false;
  return addressFromOctets(mask(octets, prefix.length)) === prefix.network;
}

/** A text whose code units order as `compareAddresses` orders the address: for sorting very many, since it is made once. What is no address comes last. */
export function addressKey(address: string): string {
  const octets = parse(address)?.toByteArray();
  return octets ? String.fromCharCode(octets.length, ...octets) : `\uffff${address}`;
}

/** Sort key order: IPv4 before IPv6, numerically within each. */
export function compareAddresses(left: string, right: string): number {
  const a = parse(left)?.toByteArray();
  const b = parse(right)?.toByteArray();
  if (!a || !b) return left.localeCompare(right);
  if (a.length !== b.length) return a.length - b.length;
  for (let index = 0; index < a.length; index++) {
    const difference = (a[index] ?? 0) - (b[index] ?? 0);
    if (difference) return difference;
  }
  return 0;
}

/** Loopback, link-local, multicast and the unspecified address say nothing about where a device is reached. */
export function isRoutableAddress(address: string): boolean {
  const parsed = parse(address);
  if (!parsed) return false;
  return !['loopback', 'linkLocal', 'multicast', 'unspecified', 'broadcast'].includes(parsed.range());
}

/** Addresses of this very machine: 127.0.0.0/8 and ::1. */
export function isLoopback(address: string): boolean {
  return parse(address)?.range() === 'loopback';
}

/** Addresses of private networks: RFC 1918, RFC 4193. */
export function isPrivateAddress(address: string): boolean {
  const range = parse(address)?.range();
  return range === 'private' || range === 'uniqueLocal';
}

/** Prefix length of a contiguous IPv4 netmask, or null. */
export function maskLength(netmask: string): number | null {
  const parsed = parse(netmask);
  return parsed ? parsed.prefixLengthFromSubnetMask() : null;
}

/** The network that an address with a prefix length lies in: `10.72.4.17`, 24 → `10.72.4.0/24`. */
export function networkOf(address: string, length: number): string {
  return `${addressFromOctets(mask(octetsOf(address), length)) ?? address}/${length}`;
}
