import { addressFromOctets } from '../values/ipAddress';
import { tableRows, type Answered } from './table';
import { numberOf, textOf } from './varbind';

/** OSPF-MIB (RFC 4750): ospfNbrTable, indexed by neighbour address and, on unnumbered links, ifIndex. */
export const ospfTables = { ospfNbrEntry: '1.3.6.1.2.1.14.10.1' } as const;

/** Router id, state. */
export const ospfNbrColumns = [3, 6] as const;

const states = ['down', 'down', 'attempt', 'init', 'twoWay', 'exchangeStart', 'exchange', 'loading', 'full'] as const;

export interface OspfNeighbour {
  address: string;
  /** ifIndex of an unnumbered link, else null */
  ifIndex: number | null;
  routerId: string;
  state: (typeof states)[number];
}

export function parseOspfNeighbours(answered: Answered): OspfNeighbour[] {
  return tableRows(ospfTables.ospfNbrEntry, answered).flatMap(({ index, cells }) => {
    const address = addressFromOctets(index.slice(0, 4));
    if (!address || index.length !== 5) return [];
    return [
      {
        address,
        ifIndex: index[4] || null,
        routerId: textOf(cells.get(3)) ?? '',
        state: states[numberOf(cells.get(6)) ?? 0] ?? 'down',
      },
    ];
  });
}
