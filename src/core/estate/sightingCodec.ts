import { addressFromOctets, addressOrNull, octetsOf } from '../values/ipAddress';
import { macAt, octetsOfMac } from '../values/mac';
import type { HeardTables } from '../switching/heardTables';
import type { SightingFacts } from './facts';

/**
 * Forwarding and address tables as octets: they are by far the longest lists of a device, are handed from thread to thread, kept, and read again at every
 * conclusion. Layout, all numbers big-endian: mark, release of the layout, three 32-bit lengths (rows heard, rows of address tables, octets of the
 * remainder); ten octets a row heard (MAC, place of the port's name, VLAN); behind them address rows (MAC, four or sixteen, the address); last the
 * remainder as JSON: names of ports, and what is no MAC or address and fits no row.
 */
const mark = 0x53;
const layout = 1;
const headOctets = 14;
const forwardingOctets = 10;
const noVlan = 0xffff;
const mostPorts = 0xffff;

interface Remainder extends SightingFacts {
  ports: string[];
}

export function packSightings({ forwarding, addresses }: SightingFacts): Uint8Array {
  const rest: Remainder = { ports: [], forwarding: [], addresses: [] };
  const places = new Map<string, number>();
  let packed = new Uint8Array(headOctets + forwarding.length * forwardingOctets + addresses.length * 23);
  let at = headOctets;
  let heard = 0;
  let known = 0;
  for (const row of forwarding) {
    let place = places.get(row.port);
    if (place === undefined && places.size < mostPorts) {
      places.set(row.port, (place = places.size));
      rest.ports.push(row.port);
    }
    const octets = octetsOfMac(row.mac);
    const { vlan } = row;
    if (place === undefined || !octets || (vlan !== null && (!Number.isInteger(vlan) || vlan < 0 || vlan >= noVlan))) {
      rest.forwarding.push(row);
      continue;
    }
    packed.set(octets, at);
    packed[at + 6] = place >> 8;
    packed[at + 7] = place & 255;
    packed[at + 8] = (vlan ?? noVlan) >> 8;
    packed[at + 9] = (vlan ?? noVlan) & 255;
    at += forwardingOctets;
    heard++;
  }
  for (const row of addresses) {
    const octets = octetsOfMac(row.mac);
    const address = octetsOfCanonical(row.address);
    if (!octets || !address) {
      rest.addresses.push(row);
      continue;
    }
    packed.set(octets, at);
    packed[at + 6] = address.length;
    packed.set(address, at + 7);
    at += 7 + address.length;
    known++;
  }
  const remainder = new TextEncoder().encode(JSON.stringify(rest));
  const whole = new Uint8Array(at + remainder.length);
  packed = packed.subarray(0, at);
  whole.set(packed);
  whole.set(remainder, at);
  const head = new DataView(whole.buffer);
  head.setUint8(0, mark);
  head.setUint8(1, layout);
  head.setUint32(2, heard);
  head.setUint32(6, known);
  head.setUint32(10, remainder.length);
  return whole;
}

interface Opened extends Remainder {
  head: DataView;
  heard: number;
  known: number;
  addressesAt: number;
}

function open(packed: Uint8Array): Opened | null {
  if (packed.length < headOctets || packed[0] !== mark || packed[1] !== layout) return null;
  const head = new DataView(packed.buffer, packed.byteOffset, packed.byteLength);
  const heard = head.getUint32(2);
  const addressesAt = headOctets + heard * forwardingOctets;
  const remainderAt = packed.length - head.getUint32(10);
  if (remainderAt < addressesAt) return null;
  return {
    ...(JSON.parse(new TextDecoder().decode(packed.subarray(remainderAt))) as Remainder),
    head,
    heard,
    known: head.getUint32(6),
    addressesAt,
  };
}

/** @returns null where the octets are none that `packSightings` made */
export function unpackSightings(packed: Uint8Array): SightingFacts | null {
  const opened = open(packed);
  if (!opened) return null;
  const { ports, forwarding, addresses, head, heard, known, addressesAt } = opened;
  const rows: SightingFacts['forwarding'] = [];
  for (let row = 0, at = headOctets; row < heard; row++, at += forwardingOctets) {
    const vlan = head.getUint16(at + 8);
    rows.push({
      mac: macAt(packed, at) ?? '',
      port: ports[head.getUint16(at + 6)] ?? '',
      vlan: vlan === noVlan ? null : vlan,
    });
  }
  const pairs: SightingFacts['addresses'] = [];
  for (let row = 0, at = addressesAt; row < known; row++) {
    const length = packed[at + 6] ?? 0;
    pairs.push({
      mac: macAt(packed, at) ?? '',
      address: addressFromOctets(packed.subarray(at + 7, at + 7 + length)) ?? '',
    });
    at += 7 + length;
  }
  return { forwarding: [...rows, ...forwarding], addresses: [...pairs, ...addresses] };
}

/** The same rows in columns of numbers, without those that have no MAC. @returns null where the octets are none that `packSightings` made */
export function unpackHeard(packed: Uint8Array): HeardTables | null {
  const opened = open(packed);
  if (!opened) return null;
  const { ports, head, heard, known, addressesAt } = opened;
  const tables: HeardTables = {
    ports,
    macs: new Float64Array(heard),
    portPlaces: new Int32Array(heard),
    vlans: new Int32Array(heard),
    addressMacs: new Float64Array(known),
    addresses: [],
  };
  const macNumberAt = (at: number) => head.getUint16(at) * 0x1_0000_0000 + head.getUint32(at + 2);
  for (let row = 0, at = headOctets; row < heard; row++, at += forwardingOctets) {
    const vlan = head.getUint16(at + 8);
    tables.macs[row] = macNumberAt(at);
    tables.portPlaces[row] = head.getUint16(at + 6);
    tables.vlans[row] = vlan === noVlan ? -1 : vlan;
  }
  for (let row = 0, at = addressesAt; row < known; row++) {
    const length = packed[at + 6] ?? 0;
    tables.addressMacs[row] = macNumberAt(at);
    tables.addresses.push(addressFromOctets(packed.subarray(at + 7, at + 7 + length)) ?? '');
    at += 7 + length;
  }
  return tables;
}

const fourParts = /^(0|[1-9]\d{0,2})\.(0|[1-9]\d{0,2})\.(0|[1-9]\d{0,2})\.(0|[1-9]\d{0,2})$/;

/** Null for what would not come back as the same text. */
function octetsOfCanonical(address: string): number[] | null {
  const parts = fourParts.exec(address)?.slice(1).map(Number);
  if (parts) return parts.every((part) => part <= 255) ? parts : null;
  return addressOrNull(address) === address ? octetsOf(address) : null;
}
