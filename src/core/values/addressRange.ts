import { AddressError, ipv4FromNumber, ipv4Number, parseAddress, parsePrefix } from './ipAddress';

/** A closed range of IPv4 addresses as numbers, with the text it was written as. */
export interface AddressRange {
  text: string;
  first: number;
  last: number;
}

/**
 * Parses what a person writes for a range: `10.72.4.0/24`, `10.72.4.1-10.72.4.40`, `10.72.4.1-40` or one address.
 * In a prefix shorter than /31 the network and broadcast addresses are not asked.
 * @throws AddressError with a reason fit to be shown
 */
export function parseRange(text: string): AddressRange {
  const trimmed = text.trim();
  if (!trimmed) throw new AddressError(text, 'is empty: write an address, a range or a prefix');
  if (trimmed.includes('/')) {
    const prefix = parsePrefix(trimmed);
    if (prefix.family === 6)
      throw new AddressError(text, 'is an IPv6 prefix: give IPv6 addresses one by one, they are too many to walk');
    const network = ipv4Number(prefix.network);
    const size = 2 ** (32 - prefix.length);
    const edge = prefix.length < 31 ? 1 : 0;
    return { text: trimmed, first: network + edge, last: network + size - 1 - edge };
  }
  if (trimmed.includes('-')) {
    const [from = '', to = '', more] = trimmed.split('-').map((part) => part.trim());
    if (more !== undefined) throw new AddressError(text, 'has more than one “-”');
    const first = ipv4Number(ipv4Only(from, text));
    const last = /^\d{1,3}$/.test(to)
      ? ipv4Number(ipv4Only(from.replace(/\d+$/, to), text))
      : ipv4Number(ipv4Only(to, text));
    if (last < first) throw new AddressError(text, 'ends before it begins');
    return { text: trimmed, first, last };
  }
  const single = ipv4Number(ipv4Only(trimmed, text));
  return { text: trimmed, first: single, last: single };
}

function ipv4Only(part: string, whole: string): string {
  let address: string;
  try {
    address = parseAddress(part);
  } catch {
    throw new AddressError(whole, `holds “${part}”, which is not an IPv4 address`);
  }
  if (address.includes(':')) throw new AddressError(whole, 'is IPv6: ranges are for IPv4');
  return address;
}

/** How many addresses a range holds. */
export function rangeSize(range: AddressRange): number {
  return range.last - range.first + 1;
}

/**
 * Every address of the ranges once, in order, without the excluded ones.
 * Cost grows with the addresses kept, not with the number of exclusions squared.
 */
export function expandRanges(ranges: AddressRange[], exclusions: AddressRange[]): string[] {
  const kept = mergeRanges(ranges);
  const dropped = mergeRanges(exclusions);
  const addresses: string[] = [];
  let at = 0;
  for (const range of kept) {
    let next = range.first;
    while (next <= range.last) {
      while (at < dropped.length && (dropped[at]?.last ?? 0) < next) at++;
      const exclusion = dropped[at];
      if (exclusion && next >= exclusion.first) {
        next = exclusion.last + 1;
        continue;
      }
      const until = Math.min(range.last, exclusion ? exclusion.first - 1 : range.last);
      for (; next <= until; next++) addresses.push(ipv4FromNumber(next));
    }
  }
  return addresses;
}

function mergeRanges(ranges: AddressRange[]): { first: number; last: number }[] {
  const sorted = [...ranges].sort((a, b) => a.first - b.first);
  const merged: { first: number; last: number }[] = [];
  for (const { first, last } of sorted) {
    const previous = merged.at(-1);
    if (previous && first <= previous.last + 1) previous.last = Math.max(previous.last, last);
    else merged.push({ first, last });
  }
  return merged;
}
