import type { DeviceFacts, NeighbourFacts, PortFacts } from '../estate/facts';
import { MacTable } from '../switching/macTable';
import { macNumber } from '../values/mac';

/** A device as the conclusions see it. `id` is the store's number for the role in the network. */
export interface KnownDevice {
  id: number;
  device: DeviceFacts;
  ports: PortFacts[];
  neighbours: NeighbourFacts[];
  /** answered in the newest survey; what others say is older */
  answered: boolean;
}

/** Finds inventoried devices and their ports by what neighbours call them. */
export class DeviceIndex {
  /** MAC → place among the devices */
  readonly #places: MacTable;
  readonly #byId: Map<number, KnownDevice>;
  readonly #byAddress = new Map<string, KnownDevice>();
  readonly #byName = new Map<string, KnownDevice | null>();
  /** made for a device when one of its ports is asked for */
  readonly #ports = new Map<number, Map<string, PortFacts>>();

  constructor(readonly devices: KnownDevice[]) {
    this.#byId = new Map(devices.map((known) => [known.id, known]));
    this.#places = new MacTable(devices.reduce((count, { ports }) => count + ports.length, 0));
    devices.forEach((known, place) => {
      const { device, ports } = known;
      const bridge = device.bridgeAddress ? macNumber(device.bridgeAddress) : null;
      if (bridge !== null) this.#places.set(bridge, place);
      for (const { mac } of ports) {
        const number = mac ? macNumber(mac) : null;
        if (number !== null && !this.#places.has(number)) this.#places.set(number, place);
      }
      for (const address of [device.address, ...device.addresses]) this.#byAddress.set(address, known);
      const name = shortName(device.name);
      this.#byName.set(name, this.#byName.has(name) ? null : known);
    });
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

  byAddress(address: string): KnownDevice | undefined {
    return this.#byAddress.get(address);
  }

  /** A device by the host part of its name, where only one has it. */
  byName(name: string): KnownDevice | undefined {
    return this.#byName.get(shortName(name)) ?? undefined;
  }

  /** The neighbour's device: by chassis id, then management address, then a name that only one device has. */
  ofNeighbour(neighbour: NeighbourFacts): KnownDevice | undefined {
    if (neighbour.chassisIdSubtype === 'macAddress') {
      const match = this.byMac(neighbour.chassisId);
      if (match) return match;
    }
    if (neighbour.chassisIdSubtype === 'networkAddress') {
      const match = this.#byAddress.get(neighbour.chassisId);
      if (match) return match;
    }
    for (const address of neighbour.managementAddresses) {
      const match = this.#byAddress.get(address);
      if (match) return match;
    }
    return neighbour.systemName ? this.byName(neighbour.systemName) : undefined;
  }

  port(deviceId: number, name: string): PortFacts | undefined {
    let ports = this.#ports.get(deviceId);
    if (!ports)
      this.#ports.set(deviceId, (ports = new Map(this.#byId.get(deviceId)?.ports.map((port) => [port.name, port]))));
    return ports.get(name);
  }

  /** The port of `known` that a neighbour report names. */
  portOfNeighbour(known: KnownDevice, neighbour: NeighbourFacts): PortFacts | undefined {
    const { portId, portIdSubtype, portDescription } = neighbour;
    const { ports } = known;
    if (portIdSubtype === 'macAddress')
      return ports.find((port) => port.mac === portId && port.physical) ?? ports.find((port) => port.mac === portId);
    if (portIdSubtype === 'interfaceAlias') return ports.find((port) => port.alias === portId) ?? byText(ports, portId);
    return (
      byText(ports, portId) ??
      (portIdSubtype === 'local' ? ports.find((port) => String(port.index) === portId) : undefined) ??
      (portDescription ? byText(ports, portDescription) : undefined)
    );
  }
}

function byText(ports: PortFacts[], text: string): PortFacts | undefined {
  return ports.find((port) => port.name === text) ?? ports.find((port) => port.description === text);
}

/** The host part of a name, lower case: agents differ in whether they give the domain. */
export function shortName(name: string): string {
  return (name.split('.')[0] ?? name).toLowerCase();
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
