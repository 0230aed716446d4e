import { addressFromOctets, maskLength } from '../values/ipAddress';
import { indexedAddress } from './inetAddress';
import { lengthPrefixed, scalar, tableRows, type Answered } from './table';
import { numberOf, textOf } from './varbind';

/** IP-FORWARD-MIB (RFC 4292): inetCidrRouteTable and the older ipCidrRouteTable, which knows IPv4 only; and the oldest, ipRouteTable (RFC 1213), which knows one way to a network. */
export const routeTables = {
  inetCidrRouteNumber: '1.3.6.1.2.1.4.24.6',
  ipCidrRouteNumber: '1.3.6.1.2.1.4.24.3',
  inetCidrRouteEntry: '1.3.6.1.2.1.4.24.7.1',
  ipCidrRouteEntry: '1.3.6.1.2.1.4.24.4.1',
  ipRouteEntry: '1.3.6.1.2.1.4.21.1',
} as const;

/** Interface, type, protocol. */
export const inetCidrRouteColumns = [7, 8, 9] as const;
export const ipCidrRouteColumns = [5, 6, 7] as const;
/** ipRouteIfIndex, NextHop, Type, Proto, Mask. */
export const ipRouteColumns = [2, 7, 8, 9, 11] as const;

/** IANAipRouteProtocol by number; the proprietary ones have no name of their own here. */
const protocols = [
  'other',
  'other',
  'local',
  'static',
  'icmp',
  'egp',
  'ggp',
  'hello',
  'rip',
  'is-is',
  'es-is',
  'proprietary',
  'other',
  'ospf',
  'bgp',
  'idpr',
  'proprietary',
  'dvmrp',
  'rpl',
  'dhcp',
  'other',
] as const;
export type RouteProtocol = (typeof protocols)[number];

export interface RouteRow {
  /** `10.72.4.0/24`, `::/0` */
  destination: string;
  /** null where the network lies on the interface itself */
  nextHop: string | null;
  ifIndex: number;
  protocol: RouteProtocol;
}

/** How many routes the agent says it has; null where it does not. */
export function routeCount(answered: Answered): number | null {
  return (
    numberOf(scalar(routeTables.inetCidrRouteNumber, answered)) ??
    numberOf(scalar(routeTables.ipCidrRouteNumber, answered)) ??
    null
  );
}

/** Routes of both tables, each once. Rows of type reject(2) and blackhole(5) lead nowhere and are left out. */
export function parseRoutes(answered: Answered): RouteRow[] {
  const found = new Map<string, RouteRow>();
  const keep = (
    destination: string | null,
    nextHop: string | null,
    ifIndex: number | undefined,
    type: number | undefined,
    protocol: number | undefined,
  ) => {
    if (destination === null || ifIndex === undefined || type === 2 || type === 5) return;
    const direct = nextHop === null || nextHop === '0.0.0.0' || nextHop === '::' || nextHop === '*' || type === 3;
    const row: RouteRow = {
      destination,
      nextHop: direct ? null : nextHop,
      ifIndex,
      protocol: protocols[protocol ?? 1] ?? 'other',
    };
    found.set(`${row.destination} ${row.nextHop ?? ''} ${row.ifIndex}`, row);
  };
  for (const { index, cells } of tableRows(routeTables.ipRouteEntry, answered)) {
    if (index.length !== 4) continue;
    const network = addressFromOctets(index);
    const length = maskLength(textOf(cells.get(11)) ?? '');
    const type = numberOf(cells.get(8));
    keep(
      network === null || length === null ? null : `${network}/${length}`,
      textOf(cells.get(7)) ?? null,
      numberOf(cells.get(2)),
      // invalid(2), direct(3), indirect(4): 2 leads nowhere here as well
      type,
      numberOf(cells.get(9)),
    );
  }
  for (const { index, cells } of tableRows(routeTables.ipCidrRouteEntry, answered)) {
    if (index.length !== 13) continue;
    const network = addressFromOctets(index.slice(0, 4));
    const length = maskLength(addressFromOctets(index.slice(4, 8)) ?? '');
    keep(
      network === null || length === null ? null : `${network}/${length}`,
      addressFromOctets(index.slice(9, 13)),
      numberOf(cells.get(5)),
      numberOf(cells.get(6)),
      numberOf(cells.get(7)),
    );
  }
  for (const { index, cells } of tableRows(routeTables.inetCidrRouteEntry, answered)) {
    const destination = indexedAddress(index, 0);
    const length = destination ? index[destination.next] : undefined;
    const policy = destination ? lengthPrefixed(index, destination.next + 1) : null;
    const nextHop = policy ? indexedAddress(index, policy.next) : null;
    if (!destination || length === undefined || length > (destination.address.includes(':') ? 128 : 32) || !nextHop)
      continue;
    keep(
      // a network lies in no zone: the interface stands beside it
      `${destination.address.split('%')[0]}/${length}`,
      nextHop.address,
      numberOf(cells.get(7)),
      numberOf(cells.get(8)),
      numberOf(cells.get(9)),
    );
  }
  return [...found.values()];
}
