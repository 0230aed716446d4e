import { addressOrNull, networkOf } from '../values/ipAddress';

/** An address of a machine, with the length of its prefix. */
export interface OwnAddress {
  address: string;
  prefixLength: number;
}

/** A network of more addresses than this is proposed only around the machine itself. */
const widestLength = 22;
const aroundLength = 24;

/**
 * Ranges that somebody who has written none yet may mean: the IPv4 networks a machine stands in, each once. Not loopback, not
 * link-local addresses (RFC 3927), not networks of a single address.
 */
export function ownRanges(addresses: readonly OwnAddress[]): string[] {
  const ranges = addresses.flatMap(({ address, prefixLength }) => {
    const known = addressOrNull(address);
    if (known === null || known.includes(':') || /^(127|169\.254|0)\./.test(known) || prefixLength > 30) return [];
    const length = prefixLength < widestLength ? aroundLength : prefixLength;
    return [networkOf(known, length)];
  });
  return [...new Set(ranges)];
}
