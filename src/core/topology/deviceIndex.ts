import type { DeviceFacts, NeighbourFacts, PortFacts, VirtualRouterFacts } from '../estate/facts';
import { lldpKey } from '../mib/lldp';
import { MacTable } from '../switching/macTable';
import { isEmptyMac, macNumber } from '../values/mac';
import { NameIndex } from './nameIndex';

/** A device as the conclusions see it. `id` is the store's number for the role in the network. */
export interface KnownDevice {
  id: number;
  device: DeviceFacts;
  ports: PortFacts[];
  neighbours: NeighbourFacts[];
  /** routers it carries together with others */
  virtualRouters?: readonly VirtualRouterFacts[];
  /** answered in the newest survey; what others say is older */
  answered: boolean;
}

/** Finds inventoried devices and their ports by what neighbours call them. */
export class DeviceIndex {
  /** MAC → place among the devices */
  readonly #places: MacTable;
  readonly #byId: Map<number, KnownDevice>;
  /** MACs that several devices have: they tell nobody apart */
  readonly #shared = new Set<number>();
  /** null where several have it: it tells nobody apart */
  readonly #byAddress = new Map<string, KnownDevice | null>();
  readonly #byChassis = new Map<string, KnownDevice | null>();
  readonly #byName: NameIndex<KnownDevice>;
  /** made for a device when one of its ports is asked for */
  readonly #ports = new Map<number, Map<string, PortFacts>>();

  constructor(readonly devices: KnownDevice[]) {
    this.#byId = new Map(devices.map((known) => [known.id, known]));
    this.#places = new MacTable(
      devices.reduce((count, { ports, virtualRouters = [] }) => count + ports.length + virtualRouters.length, 0),
    );
    const virtual = new Map<number, number[]>();
    devices.forEach((known, place) => {
      const { device, ports } = known;
      const bridge = device.bridgeAddress ? macNumber(device.bridgeAddress) : null;
      if (bridge !== null) {
        this.#tellShared(bridge, place);
        this.#places.set(bridge, place);
      }
      for (const { mac, otherMac } of ports) {
        for (const own of otherMac === undefined ? [mac] : [mac, otherMac]) {
          const number = own ? macNumber(own) : null;
          if (number === null) continue;
          this.#tellShared(number, place);
          if (!this.#places.has(number)) this.#places.set(number, place);
        }
      }
      for (const { mac } of known.virtualRouters ?? []) {
        const number = mac ? macNumber(mac) : null;
        if (number !== null) (virtual.get(number) ?? virtual.set(number, []).get(number))?.push(place);
      }
      for (const address of new Set([device.address, ...device.addresses])) setOnce(this.#byAddress, address, known);
      if (device.chassisId) setOnce(this.#byChassis, device.chassisId, known);
    });
    // the address of a virtual router is that of whoever carries it now: no machine of its own
    for (const [mac, carriers] of virtual) {
      const place = carriers.find((carrier) => isMaster(devices[carrier], mac)) ?? carriers[0];
      if (place !== undefined && !this.#places.has(mac)) this.#places.set(mac, place);
      this.#shared.add(mac);
    }
    this.#byName = new NameIndex(devices.map((known) => [known.device.name, known]));
  }

  #tellShared(mac: number, place: number): void {
    if (this.#places.has(mac) && this.#places.get(mac) !== place) this.#shared.add(mac);
  }

  byId(id: number): KnownDevice | undefined {
    return this.#byId.get(id);
  }

  byMac(mac: string): KnownDevice | undefined {
    const number = macNumber(mac);
    return number === null ? undefined : this.byMacNumber(number);
  }

  /** The device that owns a MAC, given as a number. */
  byMacNumber(mac: number): KnownDevice | undefined {
    return this.devices[this.#places.get(mac)];
  }

  /** All MACs of inventoried devices, as numbers in order. */
  macNumbers(): Float64Array {
    const macs = new Float64Array(this.#places.size);
    let at = 0;
    this.#places.forEach((mac) => (macs[at++] = mac));
    return macs.sort();
  }

  /** The device that has an address, where only one has it. */
  byAddress(address: string): KnownDevice | undefined {
    return this.#byAddress.get(address) ?? undefined;
  }

  /** A device by its name, where only one is meant by it. */
  byName(name: string): KnownDevice | undefined {
    return this.#byName.get(name);
  }

  /**
   * The neighbour's device (IEEE 802.1AB): by the chassis id as the device itself has it, then a MAC or address that only one device has as the chassis id, then the management
   * addresses, where they lead to one device, then a name that only one device has.
   */
  ofNeighbour(neighbour: NeighbourFacts): KnownDevice | undefined {
    const { chassisId, chassisIdSubtype, managementAddresses, systemName } = neighbour;
    const own = this.#byChassis.get(lldpKey(chassisIdSubtype, chassisId));
    if (own) return own;
    if (chassisIdSubtype === 'macAddress') {
      const mac = isEmptyMac(chassisId) ? null : macNumber(chassisId);
      const match = mac === null || this.#shared.has(mac) ? undefined : this.byMacNumber(mac);
      if (match) return match;
    }
    if (chassisIdSubtype === 'networkAddress') {
      const match = this.byAddress(chassisId);
      if (match) return match;
    }
    const reached = new Set(managementAddresses.flatMap((address) => this.byAddress(address) ?? []));
    if (reached.size === 1) return [...reached][0];
    return systemName ? this.byName(systemName) : undefined;
  }

  port(deviceId: number, name: string): PortFacts | undefined {
    let ports = this.#ports.get(deviceId);
    if (!ports)
      this.#ports.set(deviceId, (ports = new Map(this.#byId.get(deviceId)?.ports.map((port) => [port.name, port]))));
    return ports.get(name);
  }

  /**
   * The port of `known` that a neighbour report names: as the port calls itself in its own LLDP table, else by what its subtype says, else by its description. Only what a cable can be
   * plugged into is one, and only where no other fits as well.
   */
  portOfNeighbour(known: KnownDevice, neighbour: NeighbourFacts): PortFacts | undefined {
    const { portId, portIdSubtype, portDescription } = neighbour;
    const ports = known.ports.filter(isCableEnd);
    const by = (fits: (port: PortFacts) => boolean): PortFacts | undefined => {
      const fitting = ports.filter(fits);
      const sockets = fitting.length > 1 ? fitting.filter(({ physical }) => physical) : fitting;
      return sockets.length === 1 ? sockets[0] : undefined;
    };
    const named = (text: string) =>
      text === '' ? undefined : (by(({ name }) => name === text) ?? by(({ description }) => description === text));
    const called = lldpKey(portIdSubtype, portId);
    return (
      by(({ lldpId }) => lldpId === called) ??
      (portIdSubtype === 'macAddress' ? by(({ mac, otherMac }) => mac === portId || otherMac === portId) : undefined) ??
      (portIdSubtype === 'interfaceAlias' ? by(({ alias }) => alias === portId) : undefined) ??
      named(portId) ??
      (portIdSubtype === 'local' ? by(({ index }) => String(index) === portId) : undefined) ??
      named(portDescription)
    );
  }
}

const isMaster = (known: KnownDevice | undefined, mac: number): boolean =>
  known?.virtualRouters?.some((one) => one.state === 'master' && one.mac !== null && macNumber(one.mac) === mac) ??
  false;

/** What no cable ends at, whatever it is called. */
const withoutSocket = new Set(['vlan', 'vlan interface', 'loopback', 'bridge', 'tunnel', 'lag', 'virtual']);
const isCableEnd = ({ physical, type }: PortFacts): boolean => physical || !withoutSocket.has(type);

function setOnce<Value>(map: Map<string, Value | null>, key: string, value: Value): void {
  map.set(key, map.has(key) ? null : value);
}

/** What is there once only, by its key: of two that are called alike neither is meant. */
export function onlyOnes<Value>(pairs: Iterable<readonly [string, Value]>): Map<string, Value> {
  const found = new Map<string, Value>();
  const twice = new Set<string>();
  for (const [key, value] of pairs) {
    if (found.has(key)) twice.add(key);
    found.set(key, value);
  }
  for (const key of twice) found.delete(key);
  return found;
}
