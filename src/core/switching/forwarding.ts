import type { HeardTables, SightedDevice } from './heardTables';
import { MacTable } from './macTable';

/** Rows by what they have in common: those of number `n` stand from `starts[n]` up to `starts[n + 1]` in `rows`. */
export interface Grouped {
  starts: Int32Array;
  rows: Int32Array;
}

/** The forwarding tables of all devices that pass frames on, in columns of numbers: a row is one MAC heard on one port, in one VLAN. */
export interface Forwarding {
  devices: readonly SightedDevice[];
  /** ports on which anything is heard, of all devices behind each other; those of device `n` begin at `firstPort[n]` */
  ports: { device: number; name: string }[];
  firstPort: Int32Array;
  /** distinct MACs, as numbers */
  macs: Float64Array;
  /** MAC as a number → its place among `macs` */
  placeOf: MacTable;
  /** by row: place of its MAC, of its port, and its VLAN or −1 */
  macOf: Int32Array;
  portOf: Int32Array;
  vlanOf: Int32Array;
  byPort: Grouped;
  byMac: Grouped;
}

/**
 * Puts tables together. Those of a device are asked for once: they may lie in a file.
 * @param passes whether a device passes frames on; the tables of others are not taken in
 * @param visit sees the tables of each device, whether they are taken in or not
 */
export function readForwarding(
  all: readonly SightedDevice[],
  passes: (known: SightedDevice) => boolean,
  visit: (known: SightedDevice, heard: HeardTables) => void,
): Forwarding {
  const devices: SightedDevice[] = [];
  const firsts: number[] = [];
  const ports: Forwarding['ports'] = [];
  const placeOf = new MacTable(1 << 17);
  const parts: { macs: Int32Array; ports: Int32Array; vlans: Int32Array }[] = [];
  let size = 0;
  for (const known of all) {
    const { heard } = known;
    visit(known, heard);
    if (!passes(known)) continue;
    const device = devices.push(known) - 1;
    const first = ports.length;
    firsts.push(first);
    for (const name of heard.ports) ports.push({ device, name });
    const own = new Int32Array(heard.macs.length);
    for (let row = 0; row < own.length; row++) own[row] = placeOf.place(heard.macs[row] ?? 0);
    parts.push({ macs: own, ports: heard.portPlaces.map((place) => first + place), vlans: heard.vlans });
    size += own.length;
  }
  const macs = placeOf.placed();
  const firstPort = Int32Array.from([...firsts, ports.length]);
  const [macOf, portOf, vlanOf] = [new Int32Array(size), new Int32Array(size), new Int32Array(size)];
  let at = 0;
  for (const part of parts) {
    macOf.set(part.macs, at);
    portOf.set(part.ports, at);
    vlanOf.set(part.vlans, at);
    at += part.macs.length;
  }
  return {
    devices,
    ports,
    firstPort,
    macs,
    placeOf,
    macOf,
    portOf,
    vlanOf,
    byPort: grouped(portOf, ports.length),
    byMac: grouped(macOf, macs.length),
  };
}

/** A counting sort: in each group rows stay in their order. */
export function grouped(groupOf: Int32Array, groups: number): Grouped {
  const starts = new Int32Array(groups + 1);
  for (let row = 0; row < groupOf.length; row++) {
    const after = (groupOf[row] ?? 0) + 1;
    starts[after] = (starts[after] ?? 0) + 1;
  }
  for (let group = 0; group < groups; group++) starts[group + 1] = (starts[group + 1] ?? 0) + (starts[group] ?? 0);
  const rows = new Int32Array(groupOf.length);
  const next = starts.slice();
  for (let row = 0; row < groupOf.length; row++) {
    const group = groupOf[row] ?? 0;
    const at = next[group] ?? 0;
    rows[at] = row;
    next[group] = at + 1;
  }
  return { starts, rows };
}

export const rowsOf = ({ starts, rows }: Grouped, group: number): Int32Array =>
  rows.subarray(starts[group], starts[group + 1]);
