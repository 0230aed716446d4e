import type { NeighbourFacts, PortKind, Role } from '../estate/facts';
import type { DeviceIndex } from '../topology/deviceIndex';
import type { Forwarding } from './forwarding';
import type { SightedDevice } from './heardTables';

export const passesThrough = new Set<Role>(['switch', 'router', 'firewall']);

/** Why a port leads to another switch. A bridge that nobody asked is where its machines are looked for, if nothing else lies behind it. */
export type UplinkReason =
  | 'neighbour'
  | 'unaskedNeighbour'
  | 'spanningTree'
  | 'hearsSwitch'
  | 'aggregate'
  | 'hearsPlaced';
export type Uplinks = Map<string, UplinkReason>[];
/** Two devices that say they are neighbours, by their places. */
export interface Adjacent {
  from: number;
  port: string;
  to: number;
}

export const portKey = (device: number, port: string): string => `${device} ${port}`;

/** Phones and access points bridge too, but what hangs on them is what we look for. */
function leadsTo(neighbour: NeighbourFacts, index: DeviceIndex): UplinkReason | null {
  if (neighbour.capabilities.includes('telephone') || neighbour.capabilities.includes('wlanAccessPoint')) return null;
  const known = index.ofNeighbour(neighbour);
  if (known) return passesThrough.has(known.device.role) ? 'neighbour' : null;
  return neighbour.capabilities.includes('bridge') || neighbour.capabilities.includes('router')
    ? 'unaskedNeighbour'
    : null;
}

/**
 * Ports that lead to other switches, by what devices say themselves: a neighbour that bridges or routes (IEEE 802.1AB), told by either end; another bridge that
 * is designated on the segment (IEEE 802.1D); an address of another inventoried switch in the forwarding table; an aggregate with such a member (IEEE 802.1AX).
 * @returns by device, in the order of the tables: port → the strongest reason; who is known to be at the other end, and where it is a bridge that nobody asked
 */
export function findUplinks(
  forwarding: Forwarding,
  index: DeviceIndex,
): { uplinks: Uplinks; adjacent: Adjacent[]; unasked: Set<string> } {
  const { devices } = forwarding;
  const places = new Map(devices.map(({ id }, place) => [id, place]));
  const uplinks: Uplinks = devices.map(() => new Map());
  const adjacent: Adjacent[] = [];
  const unasked = new Set<string>();
  const meet = (from: number | undefined, port: string, to: number | undefined) => {
    if (from === undefined || to === undefined || from === to) return;
    const lag = devices[from]?.ports.find(({ name }) => name === port)?.lag;
    adjacent.push({ from, port: lag ?? port, to });
  };
  const add = (place: number | undefined, port: string, reason: UplinkReason) => {
    const own = place === undefined ? undefined : uplinks[place];
    const before = own?.get(port);
    if (own && (before === undefined || before === 'unaskedNeighbour')) own.set(port, reason);
  };
  devices.forEach((known, place) => {
    for (const neighbour of known.neighbours) {
      const reason = leadsTo(neighbour, index);
      if (reason === null) continue;
      add(place, neighbour.port, reason);
      if (reason === 'unaskedNeighbour')
        unasked.add(portKey(place, known.ports.find(({ name }) => name === neighbour.port)?.lag ?? neighbour.port));
      // the other end may not listen
      const other = reason === 'neighbour' ? index.ofNeighbour(neighbour) : undefined;
      const port = other && index.portOfNeighbour(other, neighbour);
      if (other) meet(place, neighbour.port, places.get(other.id));
      if (!other || !port) continue;
      add(places.get(other.id), port.name, 'neighbour');
      meet(places.get(other.id), port.name, place);
    }
    for (const { name, stp } of known.ports) {
      if (
        !stp?.designatedBridge ||
        stp.designatedBridge === known.device.bridgeAddress ||
        (stp.role !== 'root' && stp.role !== 'alternate')
      )
        continue;
      add(place, name, 'spanningTree');
      if (stp.role === 'root') meet(place, name, places.get(index.byMac(stp.designatedBridge)?.id ?? -1));
    }
  });
  const { macOf, portOf, macs, ports, firstPort } = forwarding;
  const bridges = new Set(
    devices
      .filter(
        ({ device }, place) => device.role === 'switch' || (firstPort[place + 1] ?? 0) - (firstPort[place] ?? 0) > 1,
      )
      .map(({ id }) => id),
  );
  const owners = Int32Array.from(macs, (mac) => {
    const owner = index.byMacNumber(mac);
    return owner && bridges.has(owner.id) ? owner.id : -1;
  });
  const decided = new Uint8Array(ports.length);
  for (let row = 0; row < macOf.length; row++) {
    const port = portOf[row] ?? 0;
    const owner = owners[macOf[row] ?? 0] ?? -1;
    if (owner < 0 || decided[port]) continue;
    const { device, name } = ports[port] ?? { device: 0, name: '' };
    if (devices[device]?.id === owner) continue;
    decided[port] = 1;
    add(device, name, 'hearsSwitch');
  }
  devices.forEach((known, place) => withAggregates(known, uplinks[place] ?? new Map()));
  return { uplinks, adjacent, unasked };
}

/** An aggregate leads where its members lead, and they where it does. */
export function withAggregates({ ports }: Pick<SightedDevice, 'ports'>, uplinks: Map<string, UplinkReason>): void {
  for (const { name, lag } of ports) {
    const reason = uplinks.get(name);
    if (lag && reason && !uplinks.has(lag)) uplinks.set(lag, reason === 'unaskedNeighbour' ? reason : 'aggregate');
  }
  for (const { name, lag } of ports) if (lag && uplinks.has(lag) && !uplinks.has(name)) uplinks.set(name, 'aggregate');
}

/** What each port of a device is for. @param heard ports on which anything is heard */
export function portKindsOf(
  known: Pick<SightedDevice, 'ports'>,
  heard: ReadonlySet<string>,
  uplinks: ReadonlyMap<string, UplinkReason>,
): Map<string, PortKind> {
  return new Map(
    known.ports.map((port): [string, PortKind] => {
      if (uplinks.has(port.name)) return [port.name, 'uplink'];
      if (port.type === 'lag') return [port.name, 'lag'];
      if (!port.physical) return [port.name, 'virtual'];
      if (/^(mgmt|management|oob)/i.test(port.name)) return [port.name, 'management'];
      return [port.name, port.oper === 'up' || heard.has(port.name) ? 'edge' : 'unused'];
    }),
  );
}
