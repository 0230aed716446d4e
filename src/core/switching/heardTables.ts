import type { AddressFacts, SightingFacts, ToldLinkFacts } from '../estate/facts';
import type { KnownDevice } from '../topology/deviceIndex';
import { macNumber } from '../values/mac';
import type { ToldMachine } from './hosted';

/** The forwarding and address tables of one device in columns of numbers, as conclusions over hundreds of thousands of rows read them. */
export interface HeardTables {
  /** names of the ports on which anything is heard */
  ports: string[];
  /** a row heard at the same place of each: MAC as a number, place of its port among `ports`, VLAN or −1 */
  macs: Float64Array;
  portPlaces: Int32Array;
  vlans: Int32Array;
  /** a row of the address tables at the same place of both */
  addressMacs: Float64Array;
  addresses: string[];
}

/** A device with what it hears. */
export interface SightedDevice extends KnownDevice {
  /** its forwarding and address tables; asked for once by each conclusion */
  heard: HeardTables;
  /** virtual machines that it tells of */
  machines?: readonly ToldMachine[];
  /** its own addresses with their prefixes */
  subnets?: readonly AddressFacts[];
  /** how others are joined that it looks after */
  toldLinks?: readonly ToldLinkFacts[];
}

/** Rows whose MAC is none are left out. */
export function heardTables({ forwarding, addresses }: SightingFacts): HeardTables {
  const ports: string[] = [];
  const places = new Map<string, number>();
  const heard = forwarding.filter(({ mac }) => macNumber(mac) !== null);
  const known = addresses.filter(({ mac }) => macNumber(mac) !== null);
  return {
    ports,
    macs: Float64Array.from(heard, ({ mac }) => macNumber(mac) ?? 0),
    portPlaces: Int32Array.from(heard, ({ port }) => {
      let place = places.get(port);
      if (place === undefined) places.set(port, (place = ports.push(port) - 1));
      return place;
    }),
    vlans: Int32Array.from(heard, ({ vlan }) => vlan ?? -1),
    addressMacs: Float64Array.from(known, ({ mac }) => macNumber(mac) ?? 0),
    addresses: known.map(({ address }) => address),
  };
}
