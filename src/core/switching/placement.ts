import type { NeighbourFacts, PortKind, Role } from '../estate/facts';
import { type DeviceIndex, type KnownDevice } from '../topology/deviceIndex';
import { isVirtualRouterMac, macNumber, macOfNumber } from '../values/mac';
import { compareNaturally } from '../values/naturalOrder';
import { Directions } from './directions';
import { readForwarding, type Forwarding } from './forwarding';
import type { HeardTables, SightedDevice } from './heardTables';
import { hostsOfMachines } from './hosted';
import { MacTable } from './macTable';
import { findNearest } from './nearest';
import { settle, type Basis, type Earlier } from './settled';
import { findUplinks, passesThrough, portKindsOf, withAggregates } from './uplinks';

/**
 * Which endpoint sits on which port, from forwarding tables (FDB), address tables (ARP, ND), LLDP and spanning tree.
 *
 * A MAC is heard on every port that leads towards it, so only ports that do not lead to another switch can have it plugged in. `uplinks.ts` finds the ports that
 * lead on by what devices say, `nearest.ts` those that nobody tells of, and for each MAC the emptiest port of the others. `directions.ts` asks all switches in
 * which direction they hear it, by which `settled.ts` tells old rows from new ones, and finds the place of machines that their own switch does not list.
 * Cost is linear in FDB rows. Between the tables MACs are numbers: they become text again where an attachment is put into words.
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
  /** how the place is known, where it is not by being listed on that port */
  basis?: Exclude<Basis, 'heard'>;
  /** where it hangs if its port is not known: the switch, and ports there it may be on */
  among?: { deviceId: number; ports: string[] };
  /** other ports that list it too and are not believed: where it was before */
  older?: { deviceId: number; port: string }[];
}

export interface Placement {
  /** device id → port name → kind */
  portKinds: Map<number, Map<string, PortKind>>;
  attachments: Attachments;
  /** what the conclusions about links go on with */
  forwarding: Forwarding;
  directions: Directions;
  /** MAC of a virtual machine → number of its host */
  machines: MacTable;
}

/** Where endpoints sit, by MAC in order. Each is put into words when it is asked for: an estate has hundreds of thousands, and nobody needs all at once. */
export interface Attachments extends Iterable<AttachmentFacts> {
  /** only those of inventoried devices */
  ofDevices(): Iterable<AttachmentFacts>;
}

/** @param earlier where a MAC was found the last time */
export function place(devices: SightedDevice[], index: DeviceIndex, earlier: Earlier = () => null): Placement {
  const told = new ToldAddresses();
  const heardOn = new Map<number, ReadonlySet<string>>();
  const forwarding = readForwarding(
    devices,
    ({ device }) => passesThrough.has(device.role),
    ({ id }, heard) => {
      told.add(id, heard);
      heardOn.set(id, new Set(heard.ports));
    },
  );
  const { macs, ports, devices: passing } = forwarding;
  const { uplinks, adjacent, unasked } = findUplinks(forwarding, index);
  const infrastructure = infrastructureOf(devices);
  const isPassing = Uint8Array.from(macs, (mac) => (infrastructure.has(mac) || isVirtualRouterMac(mac) ? 1 : 0));
  const nearest = findNearest(forwarding, uplinks, isPassing);
  const places = new Map(passing.map(({ id }, at) => [id, at]));
  const owners = Int32Array.from(macs, (mac) => places.get(index.byMacNumber(mac)?.id ?? -1) ?? -1);
  const directions = new Directions(
    forwarding,
    owners,
    nearest.homes.map((home) => (home < 0 ? -1 : (ports[home]?.device ?? -1))),
    adjacent,
  );
  const machines = hostsOfMachines(devices, index);
  const hosting = new Set<number>();
  machines.forEach((_, host) => hosting.add(host));
  const hosts = {
    runsOn: Int32Array.from(macs, (mac) => machines.get(mac)),
    owns: Int32Array.from(macs, (mac) => {
      const { id = -1 } = hosting.size > 0 ? (index.byMacNumber(mac) ?? {}) : {};
      return hosting.has(id) ? id : -1;
    }),
  };
  const { homes, silent, basis, older, among } = settle(
    forwarding,
    nearest,
    directions,
    isPassing,
    { uplinks, unasked, hosts },
    earlier,
  );
  passing.forEach((known, at) => withAggregates(known, uplinks[at] ?? new Map()));
  const none = new Map();
  const nothing = new Set<string>();
  const portKinds = new Map(
    devices.map((known) => [
      known.id,
      portKindsOf(known, heardOn.get(known.id) ?? nothing, uplinks[places.get(known.id) ?? -1] ?? none),
    ]),
  );

  const crowds: (Crowd | undefined)[] = new Array<Crowd | undefined>(ports.length);
  for (let mac = 0; mac < homes.length; mac++) {
    const home = homes[mac] ?? -1;
    if (home < 0) continue;
    let crowd = crowds[home];
    if (!crowd) {
      const { device = 0, name } = ports[home] ?? {};
      crowds[home] = crowd = {
        size: 0,
        roles: noRoles,
        neighbour: passing[device]?.neighbours.find((report) => report.port === name),
      };
    }
    crowd.size++;
    const role = index.byMacNumber(macs[mac] ?? 0)?.device.role;
    if (role && !crowd.roles.has(role)) crowd.roles = new Set([...crowd.roles, role]);
  }
  /** ports behind which a neighbour bridges that nobody asked */
  const beyond = new Set(
    ports.flatMap(({ device, name }, port) => (uplinks[device]?.get(name) === 'unaskedNeighbour' ? [port] : [])),
  );
  const portNamed = (port: number) => ({
    deviceId: passing[ports[port]?.device ?? 0]?.id ?? 0,
    port: ports[port]?.name ?? '',
  });
  const inWords = (number: number): AttachmentFacts => {
    const mac = macOfNumber(number);
    const owner = index.byMacNumber(number);
    const at = forwarding.placeOf.get(number);
    const quiet = silent.get(at);
    const home = at < 0 ? -1 : (homes[at] ?? -1);
    const how = basis.get(at) ?? (beyond.has(home) ? ('segment' as const) : undefined);
    const also = older.get(at)?.map(portNamed);
    const some = among.get(at);
    const { addresses, evidence } = told.of(number);
    const facts: AttachmentFacts = {
      mac,
      ownDeviceId: owner?.id ?? null,
      vlan: null,
      deviceId: null,
      port: null,
      via: null,
      addresses,
      evidence,
    };
    const crowd = crowds[home];
    if (quiet) {
      facts.vlan = quiet.vlan;
      facts.deviceId = passing[quiet.device]?.id ?? null;
      facts.port = quiet.port;
      facts.via = 'direct';
    } else if (crowd) {
      facts.vlan = vlanAt(forwarding, at, home);
      facts.deviceId = passing[ports[home]?.device ?? 0]?.id ?? 0;
      facts.port = ports[home]?.name ?? '';
      facts.via =
        how === 'segment' ? 'unmanaged' : (hosts.runsOn[at] ?? -1) >= 0 ? 'virtual' : viaOf(mac, crowd, owner, index);
    }
    if (how) facts.basis = how;
    if (some && at >= 0) facts.vlan = vlanAt(forwarding, at, -1);
    if (some) facts.among = { deviceId: passing[some.device]?.id ?? 0, ports: some.ports };
    if (also) facts.older = also;
    return facts;
  };
  const isPlaced = (mac: number) => {
    const at = forwarding.placeOf.get(mac);
    return at >= 0 && !isPassing[at] && ((homes[at] ?? -1) >= 0 || silent.has(at) || older.has(at) || among.has(at));
  };
  const isKnown = (mac: number) =>
    isPlaced(mac) || (told.has(mac) && !infrastructure.has(mac) && !isVirtualRouterMac(mac));
  function* each(wanted: Iterable<number>): Generator<AttachmentFacts> {
    for (const mac of wanted) if (isKnown(mac)) yield inWords(mac);
  }
  return {
    portKinds,
    forwarding,
    directions,
    machines,
    attachments: { [Symbol.iterator]: () => each(allMacs(macs, told)), ofDevices: () => each(index.macNumbers()) },
  };
}

/** The VLAN in which a MAC is heard on a port: the first of its rows there, or where it is not listed there, the one it is heard in elsewhere. */
function vlanAt({ byMac, portOf, vlanOf }: Forwarding, mac: number, port: number): number | null {
  let elsewhere: number | null = null;
  for (let at = byMac.starts[mac] ?? 0, end = byMac.starts[mac + 1] ?? 0; at < end; at++) {
    const row = byMac.rows[at] ?? 0;
    const vlan = vlanOf[row] ?? -1;
    if (vlan < 0) continue;
    if (portOf[row] === port) return vlan;
    elsewhere = vlan;
  }
  return elsewhere;
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

function allMacs(heard: Float64Array, told: ToldAddresses): Float64Array {
  const known = new MacTable(heard.length);
  heard.forEach((mac) => known.set(mac, 1));
  const macs = new Float64Array(heard.length + told.size);
  macs.set(heard);
  let count = heard.length;
  told.forEach((mac) => {
    if (!known.has(mac)) macs[count++] = mac;
  });
  return macs.subarray(0, count).sort();
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
    return {
      addresses: places.map((at) => this.#addresses[at] ?? ''),
      evidence: places.map((at) => this.#by[at] ?? 0),
    };
  }
}

const noRoles: ReadonlySet<Role> = new Set();

/** Who is on one edge port together. */
interface Crowd {
  size: number;
  /** roles of those that are inventoried devices */
  roles: ReadonlySet<Role>;
  neighbour: NeighbourFacts | undefined;
}

function viaOf(mac: string, { size, roles, neighbour }: Crowd, own: KnownDevice | undefined, index: DeviceIndex): Via {
  if (size === 1) return 'direct';
  if (neighbour?.capabilities.includes('wlanAccessPoint'))
    return isNeighbour(mac, neighbour, index) ? 'direct' : 'wireless';
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
