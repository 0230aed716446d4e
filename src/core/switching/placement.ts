import type { NeighbourFacts, PortKind, Role } from '../estate/facts';
import { type DeviceIndex, type KnownDevice } from '../topology/deviceIndex';
import { macNumber, macOfNumber } from '../values/mac';
import { compareNaturally } from '../values/naturalOrder';
import type { HeardTables } from './heardTables';
import { MacTable } from './macTable';

/**
 * Which endpoint sits on which port, from forwarding tables (FDB), address tables (ARP, ND) and LLDP.
 *
 * A MAC is heard on every port that leads towards it, so only ports that do not lead to another switch can have it
 * plugged in. A port is an uplink if
 *   1. its LLDP neighbour bridges or routes and is neither a phone nor an access point, or
 *   2. it hears an address of another inventoried switch (that switch, or something before it, lies behind), or
 *   3. it is an aggregate one of whose members is an uplink.
 * All else with a socket is an edge port. A MAC heard on several edge ports (stale rows, a switch that is not asked)
 * goes to the one with the fewest MACs behind it, since that is nearest. Cost is linear in FDB rows. Between the tables MACs are numbers: they
 * become text again where an attachment is put into words.
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
  /** for each of the addresses the device whose address table told it first; where it hangs was heard on that port of that device */
  evidence: number[];
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

/** A port that a MAC may be plugged into, with how many are heard there. Machines heard on the same port in the same VLAN share one. */
interface Candidate {
  known: SightedDevice;
  port: string;
  vlan: number | null;
  crowd: number;
  /** who of those heard is nearest here, on all VLANs of the port together */
  nearest: Crowd;
}

export interface SightedDevice extends KnownDevice {
  /** its forwarding and address tables; asked for once by each conclusion */
  heard: HeardTables;
}

const passesThrough = new Set<Role>(['switch', 'router', 'firewall']);

export function place(devices: SightedDevice[], index: DeviceIndex): Placement {
  const infrastructure = infrastructureOf(devices);
  const told = new ToldAddresses();
  const portKinds = new Map<number, Map<string, PortKind>>();
  const candidates: Candidate[] = [];
  /** MAC → place of the candidate that is nearest */
  const nearest = new MacTable(1 << 16);
  const lastHeard = new MacTable(1 << 16);
  let looks = 0;
  for (const known of devices) {
    const { heard } = known;
    told.add(known.id, heard);
    const { ports, macs, portPlaces, vlans } = heard;
    const uplinks = uplinksOf(known, heard, index);
    portKinds.set(known.id, kindsOf(known, new Set(ports), uplinks));
    if (!passesThrough.has(known.device.role)) continue;
    const isUplink = ports.map((port) => uplinks.has(port));
    // how many machines each port hears, those that are heard in several VLANs once
    const crowds = new Int32Array(ports.length);
    const rowsOfPort = rowsByPort(portPlaces, ports.length);
    ports.forEach((_, place) => {
      if (isUplink[place]) return;
      looks++;
      for (const row of rowsOfPort(place)) {
        const mac = macs[row] ?? 0;
        if (infrastructure.has(mac) || lastHeard.get(mac) === looks) continue;
        lastHeard.set(mac, looks);
        crowds[place] = (crowds[place] ?? 0) + 1;
      }
    });
    const made = new Map<number, number>();
    const who = new Map<number, Crowd>();
    for (let row = 0; row < macs.length; row++) {
      const place = portPlaces[row] ?? 0;
      const mac = macs[row] ?? 0;
      if (isUplink[place] || infrastructure.has(mac)) continue;
      const vlan = vlans[row] ?? -1;
      const key = place * 0x10000 + vlan + 1;
      let own = made.get(key);
      if (own === undefined) {
        const port = ports[place] ?? '';
        let crowd = who.get(place);
        if (!crowd) who.set(place, (crowd = { size: 0, roles: new Set(), neighbour: known.neighbours.find((report) => report.port === port) }));
        made.set(key, (own = candidates.push({ known, port, vlan: vlan < 0 ? null : vlan, crowd: crowds[place] ?? 0, nearest: crowd }) - 1));
      }
      const best = nearest.get(mac);
      if (best < 0 || (best !== own && isNearer(candidates[own] as Candidate, candidates[best] as Candidate))) nearest.set(mac, own);
    }
  }
  nearest.forEach((mac, own) => {
    const crowd = candidates[own]?.nearest;
    if (!crowd) return;
    crowd.size++;
    const role = index.byMacNumber(mac)?.device.role;
    if (role) crowd.roles.add(role);
  });
  const inWords = (number: number): AttachmentFacts => {
    const mac = macOfNumber(number);
    const owner = index.byMacNumber(number);
    const candidate = candidates[nearest.get(number)];
    if (!candidate) return { mac, vlan: null, deviceId: null, port: null, via: null, ownDeviceId: owner?.id ?? null, ...told.of(number) };
    const { known, port, vlan, nearest: crowd } = candidate;
    return { mac, vlan, deviceId: known.id, port, via: viaOf(mac, crowd, owner, index), ownDeviceId: owner?.id ?? null, ...told.of(number) };
  };
  const isKnown = (mac: number) => nearest.has(mac) || (told.has(mac) && !infrastructure.has(mac));
  function* each(macs: Iterable<number>): Generator<AttachmentFacts> {
    for (const mac of macs) if (isKnown(mac)) yield inWords(mac);
  }
  return { portKinds, attachments: { [Symbol.iterator]: () => each(allMacs(nearest, told)), ofDevices: () => each(index.macNumbers()) } };
}

/** MACs of what only passes frames on: they are no endpoints. */
function infrastructureOf(devices: SightedDevice[]): MacTable {
  const found = new MacTable();
  const add = (mac: string) => {
    const number = macNumber(mac);
    if (number !== null) found.set(number, 1);
  };
  for (const { device, ports } of devices) {
    if (!passesThrough.has(device.role)) continue;
    if (device.bridgeAddress) add(device.bridgeAddress);
    for (const { mac } of ports) if (mac) add(mac);
  }
  return found;
}

function allMacs(nearest: MacTable, told: ToldAddresses): Float64Array {
  const macs = new Float64Array(nearest.size + told.size);
  let count = 0;
  nearest.forEach((mac) => (macs[count++] = mac));
  told.forEach((mac) => {
    if (!nearest.has(mac)) macs[count++] = mac;
  });
  return macs.subarray(0, count).sort();
}

/** Rows of each port, in their order: a counting sort, since a device may hear a hundred thousand MACs on five hundred ports. */
function rowsByPort(portPlaces: Int32Array, ports: number): (place: number) => Int32Array {
  const starts = new Int32Array(ports + 1);
  for (const place of portPlaces) starts[place + 1] = (starts[place + 1] ?? 0) + 1;
  for (let place = 0; place < ports; place++) starts[place + 1] = (starts[place + 1] ?? 0) + (starts[place] ?? 0);
  const rows = new Int32Array(portPlaces.length);
  const next = starts.slice();
  portPlaces.forEach((place, row) => {
    const at = next[place] ?? 0;
    rows[at] = row;
    next[place] = at + 1;
  });
  return (place) => rows.subarray(starts[place], starts[place + 1]);
}

/** Which addresses each MAC has, by the address tables of all devices: of each MAC a chain of places in two lists. */
class ToldAddresses {
  readonly #first = new MacTable(1 << 14);
  readonly #addresses: string[] = [];
  readonly #by: number[] = [];
  readonly #next: number[] = [];

  get size(): number {
    return this.#first.size;
  }

  add(deviceId: number, { addressMacs, addresses }: HeardTables): void {
    addressMacs.forEach((mac, row) => {
      const address = addresses[row] ?? '';
      const first = this.#first.get(mac);
      for (let at = first; at >= 0; at = this.#next[at] ?? -1) if (this.#addresses[at] === address) return;
      this.#addresses.push(address);
      this.#by.push(deviceId);
      this.#first.set(mac, this.#next.push(first) - 1);
    });
  }

  has(mac: number): boolean {
    return this.#first.has(mac);
  }

  forEach(visit: (mac: number) => void): void {
    this.#first.forEach(visit);
  }

  of(mac: number): Pick<AttachmentFacts, 'addresses' | 'evidence'> {
    const places: number[] = [];
    for (let at = this.#first.get(mac); at >= 0; at = this.#next[at] ?? -1) places.push(at);
    if (places.length > 1) places.sort((x, y) => compareNaturally(this.#addresses[x] ?? '', this.#addresses[y] ?? ''));
    return { addresses: places.map((at) => this.#addresses[at] ?? ''), evidence: places.map((at) => this.#by[at] ?? 0) };
  }
}

const isNearer = (x: Candidate, y: Candidate) => (x.crowd - y.crowd || compareNaturally(x.known.device.name, y.known.device.name) || compareNaturally(x.port, y.port)) < 0;

/** Phones and access points bridge too, but what hangs on them is what we look for. */
function leadsOn(neighbour: NeighbourFacts, index: DeviceIndex): boolean {
  if (neighbour.capabilities.includes('telephone') || neighbour.capabilities.includes('wlanAccessPoint')) return false;
  const known = index.ofNeighbour(neighbour);
  if (known) return passesThrough.has(known.device.role);
  return neighbour.capabilities.includes('bridge') || neighbour.capabilities.includes('router');
}

function uplinksOf(known: SightedDevice, { ports, macs, portPlaces }: HeardTables, index: DeviceIndex): Set<string> {
  const uplinks = new Set(known.neighbours.filter((neighbour) => leadsOn(neighbour, index)).map(({ port }) => port));
  const decided = ports.map((port) => uplinks.has(port));
  for (let row = 0; row < macs.length; row++) {
    const place = portPlaces[row] ?? 0;
    if (decided[place]) continue;
    const owner = index.byMacNumber(macs[row] ?? 0);
    if (owner === undefined || owner.id === known.id || owner.device.role !== 'switch') continue;
    decided[place] = true;
    uplinks.add(ports[place] ?? '');
  }
  for (const { name, lag } of known.ports) if (lag && uplinks.has(name)) uplinks.add(lag);
  for (const { name, lag } of known.ports) if (lag && uplinks.has(lag)) uplinks.add(name);
  return uplinks;
}

function kindsOf(known: SightedDevice, heard: Set<string>, uplinks: Set<string>): Map<string, PortKind> {
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

function viaOf(mac: string, { size, roles, neighbour }: Crowd, own: KnownDevice | undefined, index: DeviceIndex): Via {
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
