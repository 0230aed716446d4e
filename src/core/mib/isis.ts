import { macFromOctets } from '../values/mac';
import { tableRows, type Answered } from './table';
import { numberOf, octetsOfValue } from './varbind';

/** ISIS-MIB (RFC 4444): isisISAdjTable, indexed by circuit and a number; isisCircTable tells which interface a circuit is. */
export const isisTables = {
  isisCircEntry: '1.3.6.1.2.1.138.1.3.2.1',
  isisISAdjEntry: '1.3.6.1.2.1.138.1.6.1.1',
} as const;
export const isisFamily = '1.3.6.1.2.1.138';

/** isisCircIfIndex. */
export const isisCircColumns = [2] as const;
/** isisISAdjState, NeighSNPAAddress, NeighSysID. */
export const isisISAdjColumns = [2, 4, 6] as const;

const states = ['down', 'down', 'initializing', 'up', 'failed'] as const;

export interface IsisNeighbour {
  /** as such networks write it: `1921.6800.1001` */
  systemId: string;
  /** what it is known by on the link, where that is a MAC */
  mac: string | null;
  ifIndex: number | null;
  state: (typeof states)[number];
}

export function parseIsisNeighbours(answered: Answered): IsisNeighbour[] {
  const interfaces = new Map(
    tableRows(isisTables.isisCircEntry, answered).map(({ index, cells }) => [index[0] ?? 0, numberOf(cells.get(2))]),
  );
  return tableRows(isisTables.isisISAdjEntry, answered).flatMap(({ index, cells }) => {
    const id = octetsOfValue(cells.get(6));
    if (index.length !== 2 || id?.length !== 6) return [];
    const digits = Array.from(id, (octet) => octet.toString(16).padStart(2, '0')).join('');
    return [
      {
        systemId: `${digits.slice(0, 4)}.${digits.slice(4, 8)}.${digits.slice(8)}`,
        mac: macFromOctets(octetsOfValue(cells.get(4)) ?? new Uint8Array()),
        ifIndex: interfaces.get(index[0] ?? 0) || null,
        state: states[numberOf(cells.get(2)) ?? 0] ?? 'down',
      },
    ];
  });
}
