import type { AddressFacts, RouteFacts } from '../estate/facts';
import { addressOrNull, networkOf, parsePrefix, prefixContains } from '../values/ipAddress';
import { compareNaturally } from '../values/naturalOrder';

/** What one device knows of the way: its addresses and its routes. */
export interface RoutingDevice {
  deviceId: number;
  name: string;
  addresses: readonly AddressFacts[];
  /** empty where it routes nothing, or told nothing */
  routes: readonly RouteFacts[];
  /** how many more it has that were not read, since they are too many */
  unread: number;
}

/** A device that forwards packets, and by which of its routes. */
export interface RouteHop {
  deviceId: number;
  vrf: string;
  route: RouteFacts;
  /** others of the same length that it may take as well */
  also: RouteFacts[];
}

export interface RoutedWay {
  hops: RouteHop[];
  /** why it does not arrive, in words; null where the last hop has the destination’s network on a port of its own */
  gap: string | null;
}

const mostHops = 32;
const lengthOf = (destination: string): number => Number(destination.split('/')[1] ?? 0);

/** The routes of a virtual router that hold an address with the longest prefix (RFC 1812 section 5.2.4.3). */
export function longestRoutes(routes: readonly RouteFacts[], vrf: string, destination: string): RouteFacts[] {
  let [length, found]: [number, RouteFacts[]] = [-1, []];
  for (const route of routes) {
    if (
      route.vrf !== vrf ||
      lengthOf(route.destination) < length ||
      route.destination.includes(':') !== destination.includes(':') ||
      !prefixContains(parsePrefix(route.destination), destination)
    )
      continue;
    if (lengthOf(route.destination) > length) found = [];
    length = lengthOf(route.destination);
    found.push(route);
  }
  // a network on a port of its own goes before what is learned
  return found.sort(
    (x, y) =>
      Number(x.nextHop !== null) - Number(y.nextHop !== null) ||
      compareNaturally(x.nextHop ?? '', y.nextHop ?? '') ||
      compareNaturally(x.port, y.port),
  );
}

/** The network that an address of a device lies in, `10.72.4.0/24`; null for one without a length. */
export const networkOfAddress = ({
  address,
  prefixLength,
}: Pick<AddressFacts, 'address' | 'prefixLength'>): string | null =>
  prefixLength === null ? null : networkOf(address, prefixLength);

/** Routing tables of all devices, by which packets are followed. */
export class RoutedWays {
  readonly #byAddress = new Map<string, { device: RoutingDevice; row: AddressFacts }[]>();
  readonly #byId: Map<number, RoutingDevice>;

  constructor(readonly devices: readonly RoutingDevice[]) {
    this.#byId = new Map(devices.map((device) => [device.deviceId, device]));
    for (const device of devices) {
      for (const row of device.addresses) {
        const known = this.#byAddress.get(row.address);
        if (known) known.push({ device, row });
        else this.#byAddress.set(row.address, [{ device, row }]);
      }
    }
  }

  /** Who has an address; of several (the same addresses in several virtual routers) first who has it in this one. */
  ownerOf(address: string, vrf = ''): { device: RoutingDevice; row: AddressFacts } | undefined {
    const owners = this.#byAddress.get(address) ?? [];
    return owners.find(({ row }) => (row.vrf ?? '') === vrf) ?? owners[0];
  }

  /** Devices with routes that have an address in the narrowest known network around an address: any of them may be the gateway of what is there. */
  gatewaysOf(address: string): { network: string; devices: { device: RoutingDevice; row: AddressFacts }[] } | null {
    let best: { network: string; length: number; devices: { device: RoutingDevice; row: AddressFacts }[] } | null =
      null;
    for (const device of this.devices) {
      if (device.routes.length === 0) continue;
      for (const row of device.addresses) {
        const network = networkOfAddress(row);
        if (
          network === null ||
          row.address.includes(':') !== address.includes(':') ||
          !prefixContains(parsePrefix(network), address)
        )
          continue;
        const length = lengthOf(network);
        if (best === null || length > best.length) best = { network, length, devices: [] };
        if (length === best.length) best.devices.push({ device, row });
      }
    }
    if (best === null) return null;
    best.devices.sort((x, y) => compareNaturally(x.device.name, y.device.name));
    return best;
  }

  /** Follows a packet from a device on, route by route, until a device has the destination on a port of its own, or nobody knows further. */
  way(from: number, vrf: string, destination: string): RoutedWay {
    const hops: RouteHop[] = [];
    const been = new Set<string>();
    let [at, table] = [this.#byId.get(from), vrf];
    for (;;) {
      if (!at) return { hops, gap: 'the next device is not known' };
      if (at.routes.length === 0 && at.unread === 0) return { hops, gap: `${at.name} tells no routes` };
      if (been.has(`${at.deviceId} ${table}`))
        return { hops, gap: `${at.name} was passed before: the packet goes round until its time to live is over` };
      if (hops.length >= mostHops) return { hops, gap: `more than ${mostHops} routers` };
      been.add(`${at.deviceId} ${table}`);
      const [route, ...also] = longestRoutes(at.routes, table, destination);
      if (!route)
        return {
          hops,
          gap: `${at.name} has no route to ${destination}${table ? ` in virtual router ${table}` : ''}${at.unread > 0 ? ` among those that were read; it has ${at.unread} more` : ''}`,
        };
      hops.push({
        deviceId: at.deviceId,
        vrf: table,
        route,
        also: also.filter(({ nextHop }) => (nextHop === null) === (route.nextHop === null)),
      });
      const nextHop = route.nextHop === null ? null : addressOrNull(route.nextHop);
      if (nextHop === null) return { hops, gap: null };
      const next = this.ownerOf(nextHop, table);
      if (!next) return { hops, gap: `the next hop ${nextHop} is no device that is known` };
      if (next.device.deviceId === at.deviceId)
        return { hops, gap: `the next hop ${nextHop} of ${at.name} is its own address` };
      [at, table] = [next.device, next.row.vrf ?? ''];
    }
  }
}
