import { componentOf } from './ieeeBridge';
import { tableRows, type Answered } from './table';
import { numberOf } from './varbind';

/** RSTP-MIB (RFC 4318), which tells what is an edge, and IEEE8021-MSTP-MIB, which tells roles. */
export const spanningTreeRoleTables = {
  dot1dStpExtPortEntry: '1.3.6.1.2.1.17.2.19.1',
  ieee8021MstpCistPortEntry: '1.3.111.2.802.1.1.6.1.3.1',
} as const;

/** dot1dStpPortOperEdgePort. */
export const dot1dStpExtPortColumns = [3] as const;
/** ieee8021MstpCistPortOperEdgePort, Role. */
export const ieee8021MstpCistPortColumns = [9, 14] as const;

const roles = [undefined, 'root', 'alternate', 'designated', 'backup'] as const;
const truthTrue = 1;

/** What a bridge itself says of a port, by the number of the bridge port. */
export interface ToldRole {
  role?: 'root' | 'alternate' | 'designated' | 'backup';
  /** nothing but end stations behind it, as far as the bridge sees (IEEE 802.1D, operEdge) */
  edge?: boolean;
}

export function parseSpanningTreeRoles(answered: Answered): Map<number, ToldRole> {
  const found = new Map<number, ToldRole>();
  const truth = (value: number | undefined) => (value === undefined ? undefined : value === truthTrue);
  for (const { index, cells } of tableRows(spanningTreeRoleTables.dot1dStpExtPortEntry, answered)) {
    const edge = truth(numberOf(cells.get(3)));
    if (index.length === 1 && edge !== undefined) found.set(index[0] ?? 0, { edge });
  }
  const told = tableRows(spanningTreeRoleTables.ieee8021MstpCistPortEntry, answered);
  const component = componentOf(
    answered,
    told.map(({ index }) => index[0] ?? 0),
  );
  for (const { index, cells } of told) {
    const [ofComponent, port = 0] = index;
    if (index.length !== 2 || ofComponent !== component) continue;
    const edge = truth(numberOf(cells.get(9)));
    const role = roles[numberOf(cells.get(14)) ?? 0];
    found.set(port, { ...found.get(port), ...(role && { role }), ...(edge !== undefined && { edge }) });
  }
  return found;
}
