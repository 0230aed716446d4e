import type { NeighbourFacts, PortKind, Role, SightingFacts } from '../estate/facts';
import { type DeviceIndex, type KnownDevice } from '../topology/deviceIndex';
import { compareNaturally } from '../values/naturalOrder';

/**
 * Which endpoint sits on which port, from forwarding tables (FDB), address tables (ARP, ND) and LLDP.
 *
 * A MAC is heard on every port that leads towards it, so only ports that do not lead to another switch can have it
 * plugged in. A port is an uplink if
 *   1. its LLDP neighbour bridges or routes and is neither a phone nor an access point, or
 *   2. it hears an address of another inventoried switch (that switch, or something before it, lies behind), or
 *   3. it is an aggregate one of whose members is an uplink.
 * All else with a socket is an edge port. A MAC heard on several edge ports (stale rows, a switch that is not asked)
 * goes to the one with the fewest MACs behind it, since that is nearest. Cost is linear in FDB rows.
 */

export type Via = 'direct' | 'unmanaged' | 'phone' | 'wireless' | 'virtual';

export interface AttachmentFacts {
  mac: string;
  vlan: number | null;
  /** where it hangs; null if it is known from address tables alone */
  deviceId: number | null;
  port: string | null;
  via: Via | null;
  addresses: string[];
  /** inventoried device that owns the MAC */
  ownDeviceId: number | null;
  evidence: string[];
}

export interface Placement {
  /** device id → port name → kind */
  portKinds: Map<number, Map<string, PortKind>>;
  attachments: Attachments;
}

/** Where endpoints sit, by MAC in order. Each is put into words when it is asked for: an estate has hundreds of thousands, and nobody needs all at once. */
export interface Attachments extends Iterable<AttachmentFacts> {
  /** only those of inventoried devices */
  ofDevices(): Iterable<AttachmentFacts>;
}

/** A port that a MAC may be plugged into. Machines heard on the same port in the same VLAN share one. */
interface Candidate {
  known: SightedDevice;
  port: string;
  vlan: number | null;
  crowd: number;
}

export interface SightedDevice extends KnownDevice {
  sightings: SightingFacts;
}

const passesThrough = new Set(['switch', 'router', 'firewall']);

export function place(devices: SightedDevice[], index: DeviceIndex): Placement {
  const infrastructure = new Set<string>();
  for (const { device, ports } of devices) {
    if (!passesThrough.has(device.role)) continue;
    if (device.bridgeAddress) infrastructure.add(device.bridgeAddress);
    for (const { mac } of ports) if (mac) infrastructure.add(mac);
  }
  const addressesByMac = collectAddresses(devices);
  const portKinds = new Map<number, Map<string, PortKind>>();
  const nearest = new Map<string, Candidate>();
  for (const known of devices) {
    const heard = groupByPort(known.sightings);
    const kinds = classifyPorts(known, heard, index);
    portKinds.set(known.id, kinds);
    if (!passesThrough.has(known.device.role)) continue;
    for (const [port, sightings] of heard) {
      if (kinds.get(port) === 'uplink') continue;
      const macs = sightings.filter(({ mac }) => !infrastructure.has(mac));
      const crowd = new Set(macs.map(({ mac }) => mac)).size;
      const byVlan = new Map<number | null, Candidate>();
      for (const { mac, vlan } of macs) {
        let candidate = byVlan.get(vlan);
        if (!candidate) byVlan.set(vlan, (candidate = { known, port, vlan, crowd }));
        const best = nearest.get(mac);
        if (!best || isNearer(candidate, best)) nearest.set(mac, candidate);
      }
    }
  }
  const crowds = new Map<string, Crowd>();
  for (const [mac, { known, port }] of nearest) {
    const key = `${known.id} ${port}`;
    let crowd = crowds.get(key);
    if (!crowd) crowds.set(key, (crowd = { size: 0, roles: new Set(), neighbour: known.neighbours.find((report) => report.port === port) }));
    crowd.size++;
    const role = index.byMac(mac)?.device.role;
    if (role) crowd.roles.add(role);
  }
  const placed = (mac: string, { known, port, vlan }: Candidate): AttachmentFacts => {
    const addresses = addressesByMac.get(mac) ?? [];
    const crowd = crowds.get(`${known.id} ${port}`);
    const neighbour = crowd?.neighbour;
    return {
      mac, vlan, deviceId: known.id, port,
      via: crowd ? viaOf(mac, crowd, index) : 'direct',
      addresses: addresses.map(({ address }) => address),
      ownDeviceId: index.byMac(mac)?.id ?? null,
      evidence: [
        `forwarding table of ${known.device.name}, port ${port}${vlan === null ? '' : `, VLAN ${vlan}`}`,
        ...addresses.map(({ address, by }) => `address table of ${by}: ${address}`),
        ...(neighbour ? [`neighbour report on this port: ${neighbour.systemName || neighbour.chassisId}`] : []),
      ],
    };
  };
  const unplaced = (mac: string): AttachmentFacts => {
    const addresses = addressesByMac.get(mac) ?? [];
    return { mac, vlan: null, deviceId: null, port: null, via: null, addresses: addresses.map(({ address }) => address), ownDeviceId: index.byMac(mac)?.id ?? null, evidence: addresses.map(({ address, by }) => `address table of ${by}: ${address}`) };
  };
  const macs = [...nearest.keys()];
  for (const mac of addressesByMac.keys()) if (!nearest.has(mac) && !infrastructure.has(mac)) macs.push(mac);
  macs.sort();
  function* inWords(wanted: (mac: string) => boolean): Generator<AttachmentFacts> {
    for (const mac of macs) {
      if (!wanted(mac)) continue;
      const candidate = nearest.get(mac);
      yield candidate ? placed(mac, candidate) : unplaced(mac);
    }
  }
  return { portKinds, attachments: { [Symbol.iterator]: () => inWords(() => true), ofDevices: () => inWords((mac) => index.byMac(mac) !== undefined) } };
}

const isNearer = (x: Candidate, y: Candidate) => (x.crowd - y.crowd || compareNaturally(x.known.device.name, y.known.device.name) || compareNaturally(x.port, y.port)) < 0;

function collectAddresses(devices: SightedDevice[]): Map<string, { address: string; by: string }[]> {
  const found = new Map<string, { address: string; by: string }[]>();
  for (const { device, sightings } of devices) {
    for (const { mac, address } of sightings.addresses) {
      const list = found.get(mac) ?? [];
      if (!list.some((entry) => entry.address === address)) list.push({ address, by: device.name });
      found.set(mac, list);
    }
  }
  for (const list of found.values()) list.sort((x, y) => compareNaturally(x.address, y.address));
  return found;
}

function groupByPort({ forwarding }: SightingFacts): Map<string, { mac: string; vlan: number | null }[]> {
  const heard = new Map<string, { mac: string; vlan: number | null }[]>();
  for (const { mac, port, vlan } of forwarding) {
    const list = heard.get(port);
    if (list) list.push({ mac, vlan });
    else heard.set(port, [{ mac, vlan }]);
  }
  return heard;
}

/** Phones and access points bridge too, but what hangs on them is what we look for. */
function leadsOn(neighbour: NeighbourFacts, index: DeviceIndex): boolean {
  if (neighbour.capabilities.includes('telephone') || neighbour.capabilities.includes('wlanAccessPoint')) return false;
  const known = index.ofNeighbour(neighbour);
  if (known) return passesThrough.has(known.device.role);
  return neighbour.capabilities.includes('bridge') || neighbour.capabilities.includes('router');
}

function classifyPorts(known: SightedDevice, heard: Map<string, { mac: string }[]>, index: DeviceIndex): Map<string, PortKind> {
  const uplinks = new Set(known.neighbours.filter((neighbour) => leadsOn(neighbour, index)).map(({ port }) => port));
  for (const [port, sightings] of heard) {
    if (uplinks.has(port)) continue;
    const behind = sightings.some(({ mac }) => {
      const owner = index.byMac(mac);
      return owner !== undefined && owner.id !== known.id && owner.device.role === 'switch';
    });
    if (behind) uplinks.add(port);
  }
  for (const { name, lag } of known.ports) {
    if (lag && uplinks.has(name)) uplinks.add(lag);
  }
  for (const { name, lag } of known.ports) if (lag && uplinks.has(lag)) uplinks.add(name);
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

/** Who is on one edge port together. */
interface Crowd {
  size: number;
  /** roles of those that are inventoried devices */
  roles: Set<Role>;
  neighbour: NeighbourFacts | undefined;
}

function viaOf(mac: string, { size, roles, neighbour }: Crowd, index: DeviceIndex): Via {
  const own = index.byMac(mac);
  if (size === 1) return 'direct';
  if (neighbour?.capabilities.includes('wlanAccessPoint')) return isNeighbour(mac, neighbour, index) ? 'direct' : 'wireless';
  if (neighbour?.capabilities.includes('telephone')) return isNeighbour(mac, neighbour, index) ? 'direct' : 'phone';
  if (own) return 'direct';
  if (roles.has('hypervisor')) return 'virtual';
  if (roles.has('access-point')) return 'wireless';
  return 'unmanaged';
}

function isNeighbour(mac: string, neighbour: NeighbourFacts, index: DeviceIndex): boolean {
  const known = index.ofNeighbour(neighbour);
  if (known && index.byMac(mac)?.id === known.id) return true;
  return neighbour.chassisId === mac || neighbour.portId === mac;
}
