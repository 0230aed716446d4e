import { AddressError, ipv4FromNumber, ipv4Number, parsePrefix, prefixContains, type Prefix } from './ipAddress';

/** One rule of address translation: packets for `inside` go to the address at the same offset in `outside`, at `port`. */
export interface Translation {
  inside: Prefix;
  outside: Prefix;
  /** of SNMP */
  port?: number;
  httpsPort?: number;
}

/**
 * Parses `10.72.0.0/16 via 127.72.0.0/16 port 1161 https 1443` (both ports may be left out) or, as on a command line, `10.72.0.0/16=127.72.0.0/16:1161`.
 * @throws AddressError
 */
export function parseTranslation(text: string): Translation {
  const words = /^(\S+?)\s*(?:=|\s+via\s+)\s*(\S+?)(?:(?:\s+port\s+|:)(\d+))?(?:\s+https\s+(\d+))?$/i.exec(text.trim());
  if (!words?.[1] || !words[2]) {
    throw new AddressError(text, 'is not a translation: write it like 10.72.0.0/16 via 127.72.0.0/16 port 1161');
  }
  const inside = parsePrefix(words[1]);
  const outside = parsePrefix(words[2]);
  if (inside.family !== 4 || outside.family !== 4) throw new AddressError(text, 'must name IPv4 prefixes');
  if (inside.length !== outside.length) throw new AddressError(text, 'must have the same prefix length on both sides');
  const port = words[3] === undefined ? undefined : Number(words[3]);
  const httpsPort = words[4] === undefined ? undefined : Number(words[4]);
  for (const given of [port, httpsPort])
    if (given !== undefined && (given < 1 || given > 65_535))
      throw new AddressError(text, 'has a port outside 1–65535');
  return { inside, outside, ...(port !== undefined && { port }), ...(httpsPort !== undefined && { httpsPort }) };
}

/** Writes a translation as a person would. */
export function formatTranslation({ inside, outside, port, httpsPort }: Translation): string {
  return [
    `${inside.network}/${inside.length} via ${outside.network}/${outside.length}`,
    port === undefined ? '' : `port ${port}`,
    httpsPort === undefined ? '' : `https ${httpsPort}`,
  ]
    .filter(Boolean)
    .join(' ');
}

/** Where a packet for `address` is really sent. The first rule whose inside prefix holds the address wins. */
export function translate(
  address: string,
  rules: Translation[],
  defaultPort: number,
  service: 'port' | 'httpsPort' = 'port',
): { address: string; port: number } {
  for (const rule of rules) {
    if (!prefixContains(rule.inside, address)) continue;
    const offset = ipv4Number(address) - ipv4Number(rule.inside.network);
    return { address: ipv4FromNumber(ipv4Number(rule.outside.network) + offset), port: rule[service] ?? defaultPort };
  }
  return { address, port: defaultPort };
}

/** Whose packets those from `address` are: the other way of `translate`. Itself, where no rule leads there. */
export function translatedFrom(address: string, rules: readonly Translation[]): string {
  for (const { inside, outside } of rules) {
    if (address.includes(':') || !prefixContains(outside, address)) continue;
    return ipv4FromNumber(ipv4Number(inside.network) + ipv4Number(address) - ipv4Number(outside.network));
  }
  return address;
}
