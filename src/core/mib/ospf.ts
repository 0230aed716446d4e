import { addressFromOctets } from '../values/ipAddress';
import { tableRows, type Answered } from './table';
import { numberOf, octetsOfValue, textOf } from './varbind';

/** OSPF-MIB (RFC 4750): ospfNbrTable, indexed by neighbour address and, on unnumbered links, ifIndex. OSPFV3-MIB (RFC 5643): ospfv3NbrTable, by interface, instance and router id. */
export const ospfTables = {
  ospfNbrEntry: '1.3.6.1.2.1.14.10.1',
  ospfv3NbrEntry: '1.3.6.1.2.1.191.1.9.1',
} as const;

/** Router id, state. */
export const ospfNbrColumns = [3, 6] as const;
/** ospfv3NbrAddress, State. */
export const ospfv3NbrColumns = [5, 8] as const;

const states = ['down', 'down', 'attempt', 'init', 'twoWay', 'exchangeStart', 'exchange', 'loading', 'full'] as const;

export interface OspfNeighbour {
  address: string;
  /** ifIndex of an unnumbered link, else null */
  ifIndex: number | null;
  routerId: string;
  state: (typeof states)[number];
}

/** Neighbours of both versions: those of version 3 are told by addresses that are unique on their link alone, which keep their zone. */
export function parseOspfNeighbours(answered: Answered): OspfNeighbour[] {
  return [...ofVersion2(answered), ...ofVersion3(answered)];
}

function ofVersion3(answered: Answered): OspfNeighbour[] {
  return tableRows(ospfTables.ospfv3NbrEntry, answered).flatMap(({ index: [ifIndex, , routerId, ...more], cells }) => {
    const address = addressFromOctets(octetsOfValue(cells.get(5)) ?? new Uint8Array());
    if (ifIndex === undefined || routerId === undefined || more.length > 0) return [];
    const id = [24, 16, 8, 0].map((shift) => (routerId >>> shift) & 0xff).join('.');
    return [
      {
        address: address === null ? id : address.startsWith('fe80:') ? `${address}%${ifIndex}` : address,
        ifIndex,
        routerId: id,
        state: states[numberOf(cells.get(8)) ?? 0] ?? 'down',
      },
    ];
  });
}

function ofVersion2(answered: Answered): OspfNeighbour[] {
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
