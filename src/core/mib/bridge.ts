import { isEmptyMac, isGroupMac, macFromOctets } from '../values/mac';
import { bridgeRows, ieeeBridgeTables } from './ieeeBridge';
import { parseSpanningTreeRoles, type ToldRole } from './spanningTreeRoles';
import { portsOfBitmap, scalar, tableRows, type Answered, type Cells } from './table';
import { macOfValue, numberOf, octetsOfValue, textOf, type SnmpValue } from './varbind';

/** BRIDGE-MIB (RFC 4188) and Q-BRIDGE-MIB (RFC 4363). */
export const bridgeTables = {
  dot1dBaseBridgeAddress: '1.3.6.1.2.1.17.1.1',
  dot1dBasePortEntry: '1.3.6.1.2.1.17.1.4.1',
  dot1dStpDesignatedRoot: '1.3.6.1.2.1.17.2.5',
  dot1dStpRootPort: '1.3.6.1.2.1.17.2.7',
  dot1dStpPortEntry: '1.3.6.1.2.1.17.2.15.1',
  dot1dTpFdbEntry: '1.3.6.1.2.1.17.4.3.1',
  dot1qTpFdbEntry: '1.3.6.1.2.1.17.7.1.2.2.1',
  dot1qVlanCurrentEntry: '1.3.6.1.2.1.17.7.1.4.2.1',
  dot1qVlanStaticEntry: '1.3.6.1.2.1.17.7.1.4.3.1',
  dot1qPortVlanEntry: '1.3.6.1.2.1.17.7.1.4.5.1',
} as const;

export interface ForwardingRow {
  mac: string;
  bridgePort: number;
  /** null where the agent keeps one table for all VLANs */
  vlan: number | null;
}

export interface VlanRow {
  vlan: number;
  name: string;
  egressBridgePorts: number[];
  untaggedBridgePorts: number[];
}

export interface SpanningTreePort {
  bridgePort: number;
  state: 'disabled' | 'blocking' | 'listening' | 'learning' | 'forwarding' | 'broken' | 'unknown';
  /** MAC part of the designated bridge id */
  designatedBridge: string | null;
  designatedPort: number | null;
  /** as the bridge itself says it; absent where it does not */
  role?: ToldRole['role'];
  edge?: boolean;
}

export interface Bridge {
  address: string | null;
  /** bridge port → ifIndex: the two numberings are not the same (RFC 4188) */
  ifIndexByBridgePort: Map<number, number>;
  forwarding: ForwardingRow[];
  vlans: VlanRow[];
  /** bridge port → PVID */
  pvid: Map<number, number>;
  stp: { root: string | null; rootBridgePort: number | null; ports: SpanningTreePort[] };
}

const stpStates = ['unknown', 'disabled', 'blocking', 'listening', 'learning', 'forwarding', 'broken'] as const;
/** dot1dTpFdbStatus and dot1qTpFdbStatus: not valid any longer, and the bridge’s own. */
const [fdbInvalid, fdbSelf] = [2, 4];
/** RowStatus of a VLAN that holds. */
const active = 1;

/** IEEE 802.1Q: 0 is a priority without a VLAN, 4095 is reserved. */
const isVlan = (number: number | undefined): number is number => number !== undefined && number >= 1 && number <= 4094;

/** Whether a row of a forwarding table tells where a machine is: a port, learned or set by a person. */
export const tellsPort = (port: SnmpValue | undefined, status: SnmpValue | undefined): boolean =>
  Boolean(numberOf(port)) && numberOf(status) !== fdbInvalid && numberOf(status) !== fdbSelf;

/** Everything the bridge MIBs say, or null if the agent is no bridge: no base address, no base port, no machine heard. */
export function parseBridge(answered: Answered): Bridge | null {
  const base = tableRows(ieeeBridgeTables.ieee8021BridgeBaseEntry, answered)[0];
  const address = macOfValue(scalar(bridgeTables.dot1dBaseBridgeAddress, answered) ?? base?.cells.get(2));
  const ifIndexByBridgePort = new Map<number, number>();
  for (const { index, cells } of bridgeRows(bridgeTables.dot1dBasePortEntry, answered)) {
    const ifIndex = numberOf(cells.get(2));
    if (index[0] !== undefined && ifIndex) ifIndexByBridgePort.set(index[0], ifIndex);
  }
  const { vlans, vlansByFdb } = parseVlans(answered);
  const pvid = new Map<number, number>();
  for (const { index, cells } of bridgeRows(bridgeTables.dot1qPortVlanEntry, answered)) {
    const vlan = numberOf(cells.get(1));
    if (index[0] !== undefined && isVlan(vlan)) pvid.set(index[0], vlan);
  }
  const forwarding = parseForwarding(answered, vlansByFdb, vlans, pvid);
  if (address === null && ifIndexByBridgePort.size === 0 && forwarding.length === 0) return null;
  const tree = tableRows(ieeeBridgeTables.ieee8021SpanningTreeEntry, answered)[0];
  const roles = parseSpanningTreeRoles(answered);
  return {
    address,
    ifIndexByBridgePort,
    forwarding,
    vlans,
    pvid,
    stp: {
      root: bridgeIdAddress(octetsOfValue(scalar(bridgeTables.dot1dStpDesignatedRoot, answered) ?? tree?.cells.get(6))),
      rootBridgePort: numberOf(scalar(bridgeTables.dot1dStpRootPort, answered) ?? tree?.cells.get(8)) || null,
      ports: bridgeRows(bridgeTables.dot1dStpPortEntry, answered).map(({ index, cells }) => {
        const port = octetsOfValue(cells.get(9));
        return {
          bridgePort: index[0] ?? 0,
          state: stpStates[numberOf(cells.get(3)) ?? 0] ?? 'unknown',
          designatedBridge: bridgeIdAddress(octetsOfValue(cells.get(8))),
          // the upper bits of the port identifier are its priority (IEEE 802.1D)
          designatedPort: port && port.length === 2 ? (((port[0] ?? 0) & 0x0f) << 8) | (port[1] ?? 0) : null,
          ...roles.get(index[0] ?? 0),
        };
      }),
    },
  };
}

/** A bridge identifier is two octets of priority and six of MAC; all noughts stand where no bridge is known. */
function bridgeIdAddress(octets: Uint8Array | undefined): string | null {
  const mac = octets && octets.length === 8 ? macFromOctets(octets.slice(2)) : null;
  return mac !== null && isEmptyMac(mac) ? null : mac;
}

/**
 * VLANs by dot1qVlanCurrentTable, which is indexed by time mark and VLAN, and whose fdbId column tells which VLANs share a filtering database (RFC 4363: several may).
 * Where the agent has no such table, its static one says which ports are members; of that, rows that are not active do not hold.
 */
function parseVlans(answered: Answered): { vlans: VlanRow[]; vlansByFdb: Map<number, number[]> } {
  const vlansByFdb = new Map<number, number[]>();
  const vlans = new Map<number, VlanRow>();
  const ports = (cell: SnmpValue | undefined) => portsOfBitmap(octetsOfValue(cell) ?? new Uint8Array());
  const current = bridgeRows(bridgeTables.dot1qVlanCurrentEntry, answered);
  for (const { index, cells } of current) {
    const vlan = index[1];
    if (!isVlan(vlan) || index.length !== 2) continue;
    const fdbId = numberOf(cells.get(3));
    const others = fdbId === undefined ? undefined : vlansByFdb.get(fdbId);
    if (fdbId !== undefined && !others?.includes(vlan)) vlansByFdb.set(fdbId, [...(others ?? []), vlan]);
    vlans.set(vlan, {
      vlan,
      name: '',
      egressBridgePorts: ports(cells.get(4)),
      untaggedBridgePorts: ports(cells.get(5)),
    });
  }
  for (const [vlan, cell] of staticVlans(answered)) {
    const status = numberOf(cell(5));
    const known = vlans.get(vlan);
    if (known) known.name = textOf(cell(1)) ?? '';
    else if (status === undefined || status === active)
      vlans.set(vlan, {
        vlan,
        name: textOf(cell(1)) ?? '',
        egressBridgePorts: current.length === 0 ? ports(cell(2)) : [],
        untaggedBridgePorts: current.length === 0 ? ports(cell(4)) : [],
      });
  }
  return { vlans: [...vlans.values()].sort((a, b) => a.vlan - b.vlan), vlansByFdb };
}

/** The static table by VLAN. Its columns may come in two lots, since membership is asked only where it counts. */
function staticVlans(answered: Answered): Map<number, (column: number) => SnmpValue | undefined> {
  const lots = new Map<number, Cells[]>();
  for (const { index, cells } of bridgeRows(bridgeTables.dot1qVlanStaticEntry, answered)) {
    const [vlan] = index;
    if (index.length !== 1 || !isVlan(vlan)) continue;
    lots.set(vlan, [...(lots.get(vlan) ?? []), cells]);
  }
  return new Map(
    [...lots].map(([vlan, cells]) => [
      vlan,
      (column) => cells.map((lot) => lot.get(column)).find((cell) => cell !== undefined),
    ]),
  );
}

/**
 * Machines by both tables: Q-BRIDGE tells the filtering database too, BRIDGE adds those machines that the other does not place.
 */
function parseForwarding(
  answered: Answered,
  vlansByFdb: Map<number, number[]>,
  vlans: VlanRow[],
  pvid: Map<number, number>,
): ForwardingRow[] {
  const rows: ForwardingRow[] = [];
  const perDatabase = bridgeRows(bridgeTables.dot1qTpFdbEntry, answered);
  const vlanOf = vlanOfDatabase(new Set(perDatabase.map(({ index }) => index[0] ?? 0)), vlansByFdb, vlans, pvid);
  for (const { index, cells } of perDatabase) {
    const [fdbId, ...octets] = index;
    const row = forwardingRow(octets, cells);
    if (row && fdbId !== undefined) rows.push({ ...row, vlan: vlanOf(fdbId, row.bridgePort) });
  }
  const placed = new Set(rows.map(({ mac }) => mac));
  for (const { index, cells } of tableRows(bridgeTables.dot1dTpFdbEntry, answered)) {
    const row = forwardingRow(index, cells);
    if (row && !placed.has(row.mac)) rows.push({ ...row, vlan: null });
  }
  return rows;
}

/**
 * Which VLAN a machine was heard in, by filtering database and port (RFC 4363). A database of one VLAN says so itself. Of several VLANs that share one, it is the only one that the
 * port is a member of, or else the port’s own where nothing is known of members; what stays ambiguous is not told. An agent that maps no database is believed to number them
 * like VLANs only where it has several, each numbered like a VLAN it has.
 */
function vlanOfDatabase(
  databases: Set<number>,
  vlansByFdb: Map<number, number[]>,
  vlans: VlanRow[],
  pvid: Map<number, number>,
): (fdbId: number, bridgePort: number) => number | null {
  const known = new Set([...vlans.map(({ vlan }) => vlan), ...pvid.values()]);
  const alike = vlansByFdb.size === 0 && databases.size > 1 && [...databases].every((fdbId) => known.has(fdbId));
  const members = new Map<number, number[]>();
  for (const { vlan, egressBridgePorts } of vlans)
    for (const port of egressBridgePorts) members.set(port, [...(members.get(port) ?? []), vlan]);
  return (fdbId, bridgePort) => {
    if (alike) return fdbId;
    const shared = vlansByFdb.get(fdbId) ?? (vlansByFdb.size === 0 ? [...known] : []);
    if (shared.length === 1) return shared[0] ?? null;
    const own = pvid.get(bridgePort);
    const memberOf = members.get(bridgePort);
    if (memberOf === undefined) return own !== undefined && shared.includes(own) ? own : null;
    const possible = memberOf.filter((vlan) => shared.includes(vlan));
    return possible.length === 1 ? (possible[0] ?? null) : null;
  };
}

function forwardingRow(octets: number[], cells: Cells): Pick<ForwardingRow, 'mac' | 'bridgePort'> | null {
  const mac = macFromOctets(octets);
  const bridgePort = numberOf(cells.get(2));
  if (!mac || !bridgePort || !tellsPort(cells.get(2), cells.get(3)) || isGroupMac(mac) || isEmptyMac(mac)) return null;
  return { mac, bridgePort };
}
