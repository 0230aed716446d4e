/** How it is known which end serves: by a listener that is known there, by who opened the connection, or by the numbers of the ports. */
export type ServerBasis = 'listener' | 'opening' | 'port';

/** Who talked to whom: one client, one server, one port of it. Counts are those of one source. */
export interface Talk {
  client: string;
  server: string;
  /** of the server; 0 where the protocol has no ports */
  port: number;
  /** IP protocol: 6 TCP, 17 UDP */
  protocol: number;
  basis: ServerBasis;
  /** connections, or exchanges of datagrams between the same two ports */
  events: number;
  packets: { toServer: number; toClient: number };
  octets: { toServer: number; toClient: number };
  /** seconds since the epoch */
  firstSeen: number;
  lastSeen: number;
  /** hours since the epoch (UTC) in which anything was said, in order */
  hours: number[];
}

/** Who is known to listen where; a port of 0 for protocols without ports is nobody's. */
export type IsListener = (address: string, protocol: number, port: number) => boolean;

/** Ports from here on are handed out anew for each question (RFC 6335). */
const firstDynamicPort = 49_152;
/** System ports end before it (RFC 6335). */
const firstUserPort = 1024;

/**
 * Which of two ports is the server's: a system port before any other, a registered one before one that is handed out, the lower of two alike.
 * @returns whether the first is
 */
export function isServerPort(first: number, second: number): boolean {
  const rank = (port: number) => (port === 0 ? 3 : port < firstUserPort ? 0 : port < firstDynamicPort ? 1 : 2);
  return rank(first) === rank(second) ? first < second : rank(first) < rank(second);
}

/** How a protocol is called in conversations; others by their number (IANA). */
const protocolNames: Record<number, string> = { 1: 'icmp', 6: 'tcp', 17: 'udp', 58: 'icmpv6', 132: 'sctp' };
export const protocolName = (protocol: number): string => protocolNames[protocol] ?? `ip-${protocol}`;

/** The ends of a conversation by its id, as `protocol client server port`; null for what is none. */
export function endsOfConversation(
  id: string,
): { client: string; server: string; port: number; protocol: number } | null {
  const [, name = '', client = '', server = '', port = ''] = /^(\S+) (\S+) (\S+) (\d+)$/.exec(id) ?? [];
  const known = Object.entries(protocolNames).find(([, called]) => called === name);
  const protocol = known ? Number(known[0]) : Number(/^ip-(\d+)$/.exec(name)?.[1] ?? Number.NaN);
  return Number.isNaN(protocol) ? null : { client, server, port: Number(port), protocol };
}
