import { lengthPrefixed, tableRows, type Answered } from './table';

/** MPLS-L3VPN-STD-MIB (RFC 4382): which interface is in which virtual routing table. */
export const l3vpnTables = { mplsL3VpnIfConfEntry: '1.3.6.1.2.1.10.166.11.1.2.1.1' } as const;

/** mplsL3VpnIfVpnClassification: the name and the interface stand in the index. */
export const mplsL3VpnIfConfColumns = [2] as const;

/** ifIndex → name of the virtual routing table it is in. */
export function parseInterfaceVrfs(answered: Answered): Map<number, string> {
  const decoder = new TextDecoder();
  return new Map(
    tableRows(l3vpnTables.mplsL3VpnIfConfEntry, answered).flatMap(({ index }) => {
      const name = lengthPrefixed(index, 0);
      const ifIndex = name ? index[name.next] : undefined;
      if (!name || name.part.length === 0 || !ifIndex || name.next !== index.length - 1) return [];
      return [[ifIndex, decoder.decode(Uint8Array.from(name.part)).trim()] as const];
    }),
  );
}
