import type { PeerFacts, RouteFacts, VirtualRouterFacts } from './facts';
import type { Harvest } from './harvest';

/** Protocols whose routes somebody configured: they are what is written down of a device. Learned ones come and go: they are kept to follow packets by, and are no changes. */
const configured = new Set(['local', 'static', 'other']);

/** As which routes are counted that were not read: full tables of the Internet are nobody's inventory. */
export const routesNotRead = 'not read';

/** Configured and connected routes of the device and of its virtual routers. A host's own /32 or /128 says nothing that its address does not. */
export const routesOf = (harvest: Pick<Harvest, 'routes' | 'contexts'>, names: Map<number, string>): RouteFacts[] =>
  routesBy(harvest, names, (protocol) => configured.has(protocol));

/** Routes that protocols learned. */
export const learnedRoutesOf = (
  harvest: Pick<Harvest, 'routes' | 'contexts'>,
  names: Map<number, string>,
): RouteFacts[] => routesBy(harvest, names, (protocol) => !configured.has(protocol));

function routesBy(
  harvest: Pick<Harvest, 'routes' | 'contexts'>,
  names: Map<number, string>,
  wanted: (protocol: string) => boolean,
): RouteFacts[] {
  const tables = [
    { vrf: '', routes: harvest.routes },
    ...harvest.contexts.map(({ context, routes }) => ({ vrf: context, routes })),
  ];
  return tables.flatMap(({ vrf, routes }) =>
    routes
      .filter(
        ({ destination, nextHop, protocol }) =>
          wanted(protocol) &&
          !(nextHop === null && /\/(32|128)$/.test(destination)) &&
          !/^(127\.|fe80:|ff|::1\/)/.test(destination),
      )
      .map(({ destination, nextHop, ifIndex, protocol }) => ({
        destination,
        nextHop,
        port: names.get(ifIndex) ?? '',
        protocol,
        vrf,
      })),
  );
}

/** How many routes of each protocol, and how many were not read since there are too many. */
export function routeCountsOf({ routes, routesLeft }: Pick<Harvest, 'routes' | 'routesLeft'>): Record<string, number> {
  const counts: Record<string, number> = routesLeft ? { [routesNotRead]: routesLeft } : {};
  for (const { protocol } of routes) counts[protocol] = (counts[protocol] ?? 0) + 1;
  return counts;
}

export function peersOf({
  bgpPeers,
  ospfNeighbours,
  isisNeighbours = [],
}: Pick<Harvest, 'bgpPeers' | 'ospfNeighbours' | 'isisNeighbours'>): PeerFacts[] {
  return [
    ...bgpPeers.map(({ address, identifier, localAddress, localAs, remoteAs, state, enabled }): PeerFacts => ({
      protocol: 'bgp',
      address,
      identifier,
      localAddress,
      localAs,
      remoteAs,
      state: enabled ? state : 'switched off',
      up: state === 'established',
    })),
    ...ospfNeighbours.map(({ address, routerId, state }): PeerFacts => ({
      protocol: 'ospf',
      address,
      identifier: routerId,
      localAddress: '',
      localAs: null,
      remoteAs: null,
      state,
      up: state === 'full' || state === 'twoWay',
    })),
    // they have no addresses of IP: who they are stands in their place
    ...isisNeighbours.map(({ systemId, mac, state }): PeerFacts => ({
      protocol: 'is-is',
      address: systemId,
      identifier: mac ?? systemId,
      localAddress: '',
      localAs: null,
      remoteAs: null,
      state,
      up: state === 'up',
    })),
  ];
}

/** Virtual routers by the names of the ports they stand at. */
export const virtualRoutersOf = (
  { virtualRouters = [] }: Pick<Harvest, 'virtualRouters'>,
  names: Map<number, string>,
): VirtualRouterFacts[] =>
  virtualRouters.map(({ ifIndex, ...router }) => ({ port: names.get(ifIndex) ?? `interface ${ifIndex}`, ...router }));
