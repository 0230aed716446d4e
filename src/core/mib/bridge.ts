import { isEmptyMac, isGroupMac, macFromOctets } from '../values/mac';
import { portsOfBitmap, scalar, tableRows, type Answered } from './table';
import { numberOf, octetsOfValue, textOf, type Varbind } from './varbind';

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
  dot1qVlanStaticName: '1.3.6.1.2.1.17.7.1.4.3.1',
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
const fdbStatusSelf = 4;

/** Everything the bridge MIBs say, or null if the agent is no bridge (no base address and no base port). */
export function parseBridge(answered: Answered): Bridge | null {
  const addressOctets = octetsOfValue(scalar(bridgeTables.dot1dBaseBridgeAddress, answered));
  const address = addressOctets ? macFromOctets(addressOctets) : null;
  const ifIndexByBridgePort = new Map<number, number>();
  for (const { index, cells } of tableRows(bridgeTables.dot1dBasePortEntry, answered)) {
    const ifIndex = numberOf(cells.get(2));
    if (index[0] !== undefined && ifIndex) ifIndexByBridgePort.set(index[0], ifIndex);
  }
  if ((!address || isEmptyMac(address)) && ifIndexByBridgePort.size === 0) return null;
  const { vlans, vlanByFdb } = parseVlans(answered);
  const pvid = new Map<number, number>();
  for (const { index, cells } of tableRows(bridgeTables.dot1qPortVlanEntry, answered)) {
    const vlan = numberOf(cells.get(1));
    if (index[0] !== undefined && vlan) pvid.set(index[0], vlan);
  }
  return {
    address,
    ifIndexByBridgePort,
    forwarding: parseForwarding(answered, vlanByFdb),
    vlans,
    pvid,
    stp: {
      root: bridgeIdAddress(octetsOfValue(scalar(bridgeTables.dot1dStpDesignatedRoot, answered))),
      rootBridgePort: numberOf(scalar(bridgeTables.dot1dStpRootPort, answered)) || null,
      ports: tableRows(bridgeTables.dot1dStpPortEntry, answered).map(({ index, cells }) => {
        const port = octetsOfValue(cells.get(9));
        return {
          bridgePort: index[0] ?? 0,
          state: stpStates[numberOf(cells.get(3)) ?? 0] ?? 'unknown',
          designatedBridge: bridgeIdAddress(octetsOfValue(cells.get(8))),
          // the upper bits of the port identifier are its priority (IEEE 802.1D)
          designatedPort: port && port.length === 2 ? (((port[0] ?? 0) & 0x0f) << 8) | (port[1] ?? 0) : null,
        };
      }),
    },
  };
}

/** A bridge identifier is two octets of priority and six of MAC. */
function bridgeIdAddress(octets: Uint8Array | undefined): string | null {
  return octets && octets.length === 8 ? macFromOctets(octets.slice(2)) : null;
}

/** dot1qVlanCurrentTable is indexed by time mark and VLAN; its fdbId column maps filtering databases to VLANs. */
function parseVlans(answered: Answered): { vlans: VlanRow[]; vlanByFdb: Map<number, number> } {
  const vlanByFdb = new Map<number, number>();
  const vlans = new Map<number, VlanRow>();
  for (const { index, cells } of tableRows(bridgeTables.dot1qVlanCurrentEntry, answered)) {
    const vlan = index[1];
    if (vlan === undefined || index.length !== 2) continue;
    const fdbId = numberOf(cells.get(3));
    if (fdbId !== undefined) vlanByFdb.set(fdbId, vlan);
    vlans.set(vlan, {
      vlan,
      name: '',
      egressBridgePorts: portsOfBitmap(octetsOfValue(cells.get(4)) ?? new Uint8Array()),
      untaggedBridgePorts: portsOfBitmap(octetsOfValue(cells.get(5)) ?? new Uint8Array()),
    });
  }
  for (const { index, cells } of tableRows(bridgeTables.dot1qVlanStaticName, answered)) {
    const vlan = index[0];
    const name = textOf(cells.get(1));
    if (vlan === undefined || name === undefined || index.length !== 1) continue;
    const known = vlans.get(vlan);
    if (known) known.name = name;
    else vlans.set(vlan, { vlan, name, egressBridgePorts: [], untaggedBridgePorts: [] });
  }
  return { vlans: [...vlans.values()].sort((a, b) => a.vlan - b.vlan), vlanByFdb };
}

function parseForwarding(answered: Answered, vlanByFdb: Map<number, number>): ForwardingRow[] {
  const rows: ForwardingRow[] = [];
  for (const { index, cells } of tableRows(bridgeTables.dot1qTpFdbEntry, answered)) {
    const [fdbId, ...octets] = index;
    // without dot1qVlanFdbId, agents with independent learning number databases like VLANs
    if (fdbId !== undefined) addForwarding(rows, octets, cells.get(2), cells.get(3), vlanByFdb.get(fdbId) ?? fdbId);
  }
  if (rows.length > 0) return rows;
  for (const { index, cells } of tableRows(bridgeTables.dot1dTpFdbEntry, answered)) {
    addForwarding(rows, index, cells.get(2), cells.get(3), null);
  }
  return rows;
}

function addForwarding(
  rows: ForwardingRow[],
  octets: number[],
  portValue: Varbind['value'] | undefined,
  status: Varbind['value'] | undefined,
  vlan: number | null,
): void {
  const mac = macFromOctets(octets);
  const bridgePort = numberOf(portValue);
  if (!mac || !bridgePort || numberOf(status) === fdbStatusSelf || isGroupMac(mac) || isEmptyMac(mac)) return;
  rows.push({ mac, bridgePort, vlan });
}
