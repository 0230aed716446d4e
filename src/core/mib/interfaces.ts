import type { PortCounters } from '../switching/portErrors';
import { parseMau } from './mau';
import { tableRows, type Answered, type Cells } from './table';
import { macOfValue, numberOf, textOf, type SnmpValue } from './varbind';

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
export const ifXColumns = [1, 15, 17, 18, 19] as const;
/** dot3adAggPortPartnerOperSystemID, SelectedAggID, AttachedAggID. */
export const dot3adAggPortColumns = [9, 12, 13] as const;
const aggregateColumns = [12, 13] as const;

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
  /** ifIndex of the aggregate this port is attached to, or chosen for */
  aggregate: number | null;
  /** who is at the other end of a member, by LACP (IEEE 802.1AX, partner system): absent where nobody answered */
  partner?: string;
  /** attachment unit as IEEE 802.3 writes it: `1000BASE-T`; empty where nothing is told */
  media: string;
  autoNegotiation: boolean | null;
  /** frames lost since the counters began; null where the agent does not count them */
  lost: PortCounters | null;
  /** ifCounterDiscontinuityTime in seconds of sysUpTime: since when they count; 0 means since the last restart of the agent; null where it is not told */
  countedSinceUptimeSeconds: number | null;
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
  const aggregates = aggregatesOf(answered);
  const rows = tableRows(interfaceTables.ifEntry, answered)
    .filter((row) => row.index.length === 1)
    .map(({ index, cells }) => {
      const ifIndex = index[0] ?? 0;
      const more = extension.get(ifIndex);
      const description = textOf(cells.get(2)) ?? '';
      const aggregate = aggregateOf(aggregation.get(ifIndex), aggregates);
      const unit = mau.get(ifIndex);
      const etherDuplex =
        (['unknown', 'unknown', 'half', 'full'] as const)[numberOf(duplex.get(ifIndex)?.get(19)) ?? 0] ?? 'unknown';
      const connector = numberOf(more?.get(17));
      const partner = macOfValue(aggregation.get(ifIndex)?.get(9));
      return {
        ...(partner !== null && { partner }),
        ifIndex,
        name: textOf(more?.get(1)) || description || String(ifIndex),
        alias: textOf(more?.get(18)) ?? '',
        description,
        ifType: numberOf(cells.get(3)) ?? 0,
        mtu: numberOf(cells.get(4)) ?? null,
        speedBps: speed(cells.get(5), more?.get(15)),
        mac: macOfValue(cells.get(6)),
        admin: adminStates[numberOf(cells.get(7)) ?? 0] ?? 'unknown',
        oper: operStates[numberOf(cells.get(8)) ?? 0] ?? 'unknown',
        lastChangeUptimeSeconds: seconds(numberOf(cells.get(9))),
        connectorPresent: connector === undefined ? null : connector === 1,
        duplex: etherDuplex === 'unknown' ? (unit?.duplex ?? 'unknown') : etherDuplex,
        aggregate: aggregate && aggregate !== ifIndex ? aggregate : null,
        media: unit?.media ?? '',
        autoNegotiation: unit?.autoNegotiation ?? null,
        lost: lostFrames(cells),
        countedSinceUptimeSeconds: seconds(numberOf(more?.get(19))),
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

const seconds = (hundredths: number | undefined) => (hundredths === undefined ? null : Math.floor(hundredths / 100));

const ieee8023adLag = 161;

const aggregatesOf = (answered: Answered): Set<number> =>
  new Set(
    tableRows(interfaceTables.ifEntry, answered)
      .filter(({ index, cells }) => index.length === 1 && numberOf(cells.get(3)) === ieee8023adLag)
      .map(({ index }) => index[0] ?? 0),
  );

/**
 * The aggregate that a port is attached to, else the one it is chosen for: a member whose other end is gone stays a member (IEEE 802.1AX). A port that is chosen for
 * what is no aggregate stands alone.
 */
function aggregateOf(cells: Cells | undefined, aggregates: Set<number>): number | undefined {
  const [selected, attached] = aggregateColumns.map((column) => numberOf(cells?.get(column)));
  if (attached) return attached;
  return selected !== undefined && aggregates.has(selected) ? selected : undefined;
}

/** Whether the agent has aggregates of which the LAG MIB names no member: what lies below them is told by ifStackTable alone. */
export function lacksMembers(answered: Answered): boolean {
  const aggregates = aggregatesOf(answered);
  const named = new Set(
    tableRows(interfaceTables.dot3adAggPortEntry, answered).map(({ cells }) => aggregateOf(cells, aggregates)),
  );
  return [...aggregates].some((aggregate) => !named.has(aggregate));
}

/** What lies directly below an aggregate in ifStackTable is its member, where the LAG MIB names none of it: some are made by hand, others by LACP. */
function withStackedAggregates(rows: InterfaceRow[], answered: Answered): InterfaceRow[] {
  const named = new Set(rows.map(({ aggregate }) => aggregate));
  const stacked = new Set(
    rows.filter(({ ifType, ifIndex }) => ifType === ieee8023adLag && !named.has(ifIndex)).map(({ ifIndex }) => ifIndex),
  );
  if (stacked.size === 0) return rows;
  const above = new Map<number, number>();
  for (const {
    index: [higher = 0, lower = 0],
    cells,
  } of tableRows(interfaceTables.ifStackEntry, answered))
    if (stacked.has(higher) && lower !== 0 && (numberOf(cells.get(3)) ?? active) === active) above.set(lower, higher);
  return rows.map((row) => ({ ...row, aggregate: row.aggregate ?? above.get(row.ifIndex) ?? null }));
}

/** ifStackStatus of a layer that holds. */
const active = 1;
/** ifSpeed ends here, and says so of everything faster (RFC 2863). */
const mostSpeed = 2 ** 32 - 1;
/** Mbit/s that no port has: the agent gave bits a second. */
const fastest = 10_000_000;

/**
 * Bits a second: ifSpeed to the bit where it says the same as ifHighSpeed, which is rounded to Mbit/s; ifHighSpeed beyond the end of ifSpeed, and where the two contradict each
 * other. What neither can mean is unknown. Zero means that the interface has no notion of bandwidth (RFC 2863 3.1.14).
 */
function speed(ifSpeed: SnmpValue | undefined, ifHighSpeed: SnmpValue | undefined): number | null {
  const high = numberOf(ifHighSpeed) ?? 0;
  const low = numberOf(ifSpeed) ?? 0;
  const exact = low > 0 && low < mostSpeed ? low : null;
  if (high <= 0 || high >= fastest) return exact;
  return exact !== null && Math.abs(exact - high * 1e6) <= 1e6 ? exact : high * 1e6;
}

function byIndex(entry: string, answered: Answered): Map<number, Cells> {
  return new Map(tableRows(entry, answered).map((row) => [row.index[0] ?? 0, row.cells]));
}
