import { tableRows, type Answered, type Cells, type TableRow } from './table';
import type { SnmpValue } from './varbind';

/**
 * The bridge MIBs of IEEE 802.1 (IEEE8021-BRIDGE, -Q-BRIDGE, -SPANNING-TREE), which have the tables of RFC 4188 and RFC 4363 once more, by component of the bridge. A switch
 * has one component, as a rule; a provider's bridge has several, of which the customers' is taken: the lowest that has ports.
 */
export const ieeeBridgeTables = {
  ieee8021BridgeBaseEntry: '1.3.111.2.802.1.1.2.1.1.1.1',
  ieee8021BridgeBasePortEntry: '1.3.111.2.802.1.1.2.1.1.4.1',
  ieee8021SpanningTreeEntry: '1.3.111.2.802.1.1.3.1.1.1',
  ieee8021SpanningTreePortEntry: '1.3.111.2.802.1.1.3.1.2.1',
  ieee8021QBridgeTpFdbEntry: '1.3.111.2.802.1.1.4.1.2.2.1',
  ieee8021QBridgeVlanCurrentEntry: '1.3.111.2.802.1.1.4.1.4.2.1',
  ieee8021QBridgeVlanStaticEntry: '1.3.111.2.802.1.1.4.1.4.3.1',
  ieee8021QBridgePortVlanEntry: '1.3.111.2.802.1.1.4.1.4.5.1',
} as const;
/** All MIBs of IEEE 802.1 since 2008 lie below it. */
export const ieee8021Family = '1.3.111.2.802.1.1';

/** ieee8021BridgeBaseBridgeAddress. */
export const ieee8021BridgeBaseColumns = [2] as const;
/** ieee8021SpanningTreeDesignatedRoot, RootPort. */
export const ieee8021SpanningTreeColumns = [6, 8] as const;

/** How a table of IEEE 802.1 lies beside the one of the RFCs. */
export interface IeeeTable {
  entry: string;
  /** column here → column there */
  columns: ReadonlyMap<number, number>;
  /** where in the index the component stands */
  component: number;
}

/** The table of IEEE 802.1 for one of the RFCs, by the entry of the latter. */
export const ieeeTableOf: Readonly<Record<string, IeeeTable>> = {
  // dot1dBasePortEntry
  '1.3.6.1.2.1.17.1.4.1': {
    entry: ieeeBridgeTables.ieee8021BridgeBasePortEntry,
    columns: new Map([[3, 2]]),
    component: 0,
  },
  // dot1dStpPortEntry: state, designated bridge and port
  '1.3.6.1.2.1.17.2.15.1': {
    entry: ieeeBridgeTables.ieee8021SpanningTreePortEntry,
    columns: new Map([
      [4, 3],
      [9, 8],
      [10, 9],
    ]),
    component: 0,
  },
  // dot1qTpFdbEntry: port, status
  '1.3.6.1.2.1.17.7.1.2.2.1': {
    entry: ieeeBridgeTables.ieee8021QBridgeTpFdbEntry,
    columns: new Map([
      [2, 2],
      [3, 3],
    ]),
    component: 0,
  },
  // dot1qVlanCurrentEntry: database, egress, untagged
  '1.3.6.1.2.1.17.7.1.4.2.1': {
    entry: ieeeBridgeTables.ieee8021QBridgeVlanCurrentEntry,
    columns: new Map([
      [4, 3],
      [5, 4],
      [6, 5],
    ]),
    component: 1,
  },
  // dot1qVlanStaticEntry: name, egress, untagged, row status
  '1.3.6.1.2.1.17.7.1.4.3.1': {
    entry: ieeeBridgeTables.ieee8021QBridgeVlanStaticEntry,
    columns: new Map([
      [3, 1],
      [4, 2],
      [6, 4],
      [7, 5],
    ]),
    component: 0,
  },
  // dot1qPortVlanEntry: PVID
  '1.3.6.1.2.1.17.7.1.4.5.1': {
    entry: ieeeBridgeTables.ieee8021QBridgePortVlanEntry,
    columns: new Map([[1, 1]]),
    component: 0,
  },
};

/** The lowest component that has ports; where none are told, the lowest of those that something else is told of. */
export function componentOf(answered: Answered, others: readonly number[]): number {
  const withPorts = tableRows(ieeeBridgeTables.ieee8021BridgeBasePortEntry, answered).map(({ index }) => index[0] ?? 0);
  return (withPorts.length > 0 ? withPorts : others).reduce((least, one) => Math.min(least, one), Infinity);
}

/** Rows of a table of the RFCs; where the agent has none there, those of IEEE 802.1 as if they were. */
export function bridgeRows(entry: string, answered: Answered): TableRow[] {
  const rows = tableRows(entry, answered);
  const other = ieeeTableOf[entry];
  if (rows.length > 0 || !other) return rows;
  const told = tableRows(other.entry, answered);
  const component = componentOf(
    answered,
    told.map(({ index }) => index[other.component] ?? 0),
  );
  return told
    .filter(({ index }) => index[other.component] === component)
    .map(({ index, cells }) => ({
      index: index.filter((_, at) => at !== other.component),
      cells: new CellsAs(cells, other.columns),
    }));
}

/** Cells by the numbers that another table has for them. */
class CellsAs implements Cells {
  readonly #here: ReadonlyMap<number, number>;

  constructor(
    readonly cells: Cells,
    columns: ReadonlyMap<number, number>,
  ) {
    this.#here = new Map([...columns].map(([here, there]) => [there, here]));
  }

  get(column: number): SnmpValue | undefined {
    const here = this.#here.get(column);
    return here === undefined ? undefined : this.cells.get(here);
  }
}
