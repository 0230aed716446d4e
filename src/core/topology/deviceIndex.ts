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
  readonly #byMac = new Map<string, KnownDevice>();
  /** MAC → place among the devices */
  readonly #places = new MacTable();
  readonly #byAddress = new Map<string, KnownDevice>();
  readonly #byName = new Map<string, KnownDevice | null>();
  readonly #ports = new Map<number, Map<string, PortFacts>>();

  constructor(readonly devices: KnownDevice[]) {
    devices.forEach((known, place) => {
      const { device, ports } = known;
      const own = (mac: string) => {
        this.#byMac.set(mac, known);
        const number = macNumber(mac);
        if (number !== null) this.#places.set(number, place);
      };
      if (device.bridgeAddress) own(device.bridgeAddress);
      for (const { mac } of ports) if (mac && !this.#byMac.has(mac)) own(mac);
      for (const address of [device.address, ...device.addresses]) this.#byAddress.set(address, known);
      const name = shortName(device.name);
      this.#byName.set(name, this.#byName.has(name) ? null : known);
      this.#ports.set(known.id, new Map(ports.map((port) => [port.name, port])));
    });
  }

  byMac(mac: string): KnownDevice | undefined {
    return this.#byMac.get(mac);
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

  /** The neighbour's device: by chassis id, then management address, then a name that only one device has. */
  ofNeighbour(neighbour: NeighbourFacts): KnownDevice | undefined {
    if (neighbour.chassisIdSubtype === 'macAddress') {
      const match = this.#byMac.get(neighbour.chassisId);
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
    return (neighbour.systemName && this.#byName.get(shortName(neighbour.systemName))) || undefined;
  }

  port(deviceId: number, name: string): PortFacts | undefined {
    return this.#ports.get(deviceId)?.get(name);
  }

  /** The port of `known` that a neighbour report names. */
  portOfNeighbour(known: KnownDevice, neighbour: NeighbourFacts): PortFacts | undefined {
    const { portId, portIdSubtype, portDescription } = neighbour;
    const { ports } = known;
    if (portIdSubtype === 'macAddress') return ports.find((port) => port.mac === portId && port.physical) ?? ports.find((port) => port.mac === portId);
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
