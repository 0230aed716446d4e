import type { PortCounters } from '../switching/portErrors';
import { macFromOctets } from '../values/mac';
import { parseMau } from './mau';
import { tableRows, type Answered, type Cells } from './table';
import { numberOf, octetsOfValue, textOf, type SnmpValue } from './varbind';

/** IF-MIB (RFC 2863) ifTable, ifXTable and ifStackTable; EtherLike-MIB (RFC 3635) duplex; LAG membership (IEEE 802.3ad MIB). */
export const interfaceTables = {
  ifEntry: '1.3.6.1.2.1.2.2.1',
  ifXEntry: '1.3.6.1.2.1.31.1.1.1',
  ifStackEntry: '1.3.6.1.2.1.31.1.2.1',
  dot3StatsEntry: '1.3.6.1.2.1.10.7.2.1',
  dot3adAggPortEntry: '1.2.840.10006.300.43.1.2.1.1',
} as const;

/** Columns of these tables that can be written: whether the port is switched on (1 up, 2 down), and what people call it. */
export const ifAdminStatus = `${interfaceTables.ifEntry}.7`;
export const ifAlias = `${interfaceTables.ifXEntry}.18`;

/** With the frames that were lost: ifInDiscards 13, ifInErrors 14, ifOutDiscards 19, ifOutErrors 20. */
export const ifColumns = [2, 3, 4, 5, 6, 7, 8, 9, 13, 14, 19, 20] as const;
export const ifXColumns = [1, 15, 17, 18] as const;

export type AdminState = 'up' | 'down' | 'testing' | 'unknown';
export type OperState = 'up' | 'down' | 'testing' | 'unknown' | 'dormant' | 'notPresent' | 'lowerLayerDown';
export type Duplex = 'half' | 'full' | 'unknown';

export interface InterfaceRow {
  ifIndex: number;
  name: string;
  alias: string;
  description: string;
  /** IANAifType number, e.g. 6 ethernetCsmacd, 161 ieee8023adLag */
  ifType: number;
  mtu: number | null;
  speedBps: number | null;
  mac: string | null;
  admin: AdminState;
  oper: OperState;
  /** ifLastChange in seconds of sysUpTime; 0 means before the last restart of the agent */
  lastChangeUptimeSeconds: number | null;
  connectorPresent: boolean | null;
  duplex: Duplex;
  /** ifIndex of the aggregate this port is attached to */
  aggregate: number | null;
  /** attachment unit as IEEE 802.3 writes it: `1000BASE-T`; empty where nothing is told */
  media: string;
  autoNegotiation: boolean | null;
  /** frames lost since the counters began; null where the agent does not count them */
  lost: PortCounters | null;
}

const adminStates: AdminState[] = ['unknown', 'up', 'down', 'testing'];
const operStates: OperState[] = [
  'unknown',
  'up',
  'down',
  'testing',
  'unknown',
  'dormant',
  'notPresent',
  'lowerLayerDown',
];

/** Joins the interface tables by ifIndex, ordered by it. Rows without an ifEntry are left out. */
export function parseInterfaces(answered: Answered): InterfaceRow[] {
  const extension = byIndex(interfaceTables.ifXEntry, answered);
  const duplex = byIndex(interfaceTables.dot3StatsEntry, answered);
  const aggregation = byIndex(interfaceTables.dot3adAggPortEntry, answered);
  const mau = parseMau(answered);
  const rows = tableRows(interfaceTables.ifEntry, answered)
    .filter((row) => row.index.length === 1)
    .map(({ index, cells }) => {
      const ifIndex = index[0] ?? 0;
      const more = extension.get(ifIndex);
      const octets = octetsOfValue(cells.get(6));
      const description = textOf(cells.get(2)) ?? '';
      const aggregate = numberOf(aggregation.get(ifIndex)?.get(13));
      const unit = mau.get(ifIndex);
      const etherDuplex =
        (['unknown', 'unknown', 'half', 'full'] as const)[numberOf(duplex.get(ifIndex)?.get(19)) ?? 0] ?? 'unknown';
      const lastChange = numberOf(cells.get(9));
      const connector = numberOf(more?.get(17));
      return {
        ifIndex,
        name: textOf(more?.get(1)) || description || String(ifIndex),
        alias: textOf(more?.get(18)) ?? '',
        description,
        ifType: numberOf(cells.get(3)) ?? 0,
        mtu: numberOf(cells.get(4)) ?? null,
        speedBps: speed(cells.get(5), more?.get(15)),
        mac: octets ? macFromOctets(octets) : null,
        admin: adminStates[numberOf(cells.get(7)) ?? 0] ?? 'unknown',
        oper: operStates[numberOf(cells.get(8)) ?? 0] ?? 'unknown',
        lastChangeUptimeSeconds: lastChange === undefined ? null : Math.floor(lastChange / 100),
        connectorPresent: connector === undefined ? null : connector === 1,
        duplex: etherDuplex === 'unknown' ? (unit?.duplex ?? 'unknown') : etherDuplex,
        aggregate: aggregate && aggregate !== ifIndex ? aggregate : null,
        media: unit?.media ?? '',
        autoNegotiation: unit?.autoNegotiation ?? null,
        lost: lostFrames(cells),
      };
    })
    .sort((a, b) => a.ifIndex - b.ifIndex);
  return withStackedAggregates(rows, answered);
}

function lostFrames(cells: Cells): PortCounters | null {
  const counts = [14, 20, 13, 19].map((column) => numberOf(cells.get(column)));
  return counts.every((count) => count === undefined)
    ? null
    : (counts.map((count) => count ?? 0) as unknown as PortCounters);
}

const ieee8023adLag = 161;

/** Where the LAG MIB is absent, what lies directly below an aggregate in ifStackTable is its member. */
function withStackedAggregates(rows: InterfaceRow[], answered: Answered): InterfaceRow[] {
  const aggregates = new Set(rows.filter(({ ifType }) => ifType === ieee8023adLag).map(({ ifIndex }) => ifIndex));
  if (aggregates.size === 0 || rows.some(({ aggregate }) => aggregate !== null)) return rows;
  const above = new Map<number, number>();
  for (const {
    index: [higher = 0, lower = 0],
  } of tableRows(interfaceTables.ifStackEntry, answered))
    if (aggregates.has(higher) && lower !== 0) above.set(lower, higher);
  return rows.map((row) => ({ ...row, aggregate: above.get(row.ifIndex) ?? null }));
}

/** ifHighSpeed (Mbit/s) where it says something, since ifSpeed ends at 4.29 Gbit/s. Zero means that the interface has no notion of bandwidth (RFC 2863 3.1.14). */
function speed(ifSpeed: SnmpValue | undefined, ifHighSpeed: SnmpValue | undefined): number | null {
  const high = numberOf(ifHighSpeed);
  const low = numberOf(ifSpeed);
  if (high && (low === undefined || low >= 4_294_967_295 || high * 1e6 >= low)) return high * 1e6;
  return low || null;
}

function byIndex(entry: string, answered: Answered): Map<number, Cells> {
  return new Map(tableRows(entry, answered).map((row) => [row.index[0] ?? 0, row.cells]));
}
