import { tableRows, type Answered } from './table';
import { numberOf, textOf } from './varbind';

/** MAU-MIB (RFC 4836): ifMauTable and ifMauAutoNegTable; types are numbered by IANA-MAU-MIB. */
export const mauTables = {
  ifMauEntry: '1.3.6.1.2.1.26.2.1.1',
  ifMauAutoNegEntry: '1.3.6.1.2.1.26.5.1.1',
} as const;

export interface MauRow {
  ifIndex: number;
  /** as IEEE 802.3 writes it: `1000BASE-T`; empty where the agent names no known type */
  media: string;
  duplex: 'half' | 'full' | 'unknown';
  autoNegotiation: boolean | null;
}

const dot3MauType = '1.3.6.1.2.1.26.4.';

/** [number, media, duplex] of IANA-MAU-MIB. Types above 100 Mbit/s without a letter pair are full duplex only. */
const types: Record<number, [media: string, duplex?: 'half' | 'full']> = {
  5: ['10BASE-T'],
  8: ['10BASE-FL'],
  10: ['10BASE-T', 'half'],
  11: ['10BASE-T', 'full'],
  12: ['10BASE-FL', 'half'],
  13: ['10BASE-FL', 'full'],
  15: ['100BASE-TX', 'half'],
  16: ['100BASE-TX', 'full'],
  17: ['100BASE-FX', 'half'],
  18: ['100BASE-FX', 'full'],
  21: ['1000BASE-X', 'half'],
  22: ['1000BASE-X', 'full'],
  23: ['1000BASE-LX', 'half'],
  24: ['1000BASE-LX', 'full'],
  25: ['1000BASE-SX', 'half'],
  26: ['1000BASE-SX', 'full'],
  27: ['1000BASE-CX', 'half'],
  28: ['1000BASE-CX', 'full'],
  29: ['1000BASE-T', 'half'],
  30: ['1000BASE-T', 'full'],
  31: ['10GBASE-X', 'full'],
  32: ['10GBASE-LX4', 'full'],
  33: ['10GBASE-R', 'full'],
  34: ['10GBASE-ER', 'full'],
  35: ['10GBASE-LR', 'full'],
  36: ['10GBASE-SR', 'full'],
  37: ['10GBASE-W', 'full'],
  38: ['10GBASE-EW', 'full'],
  39: ['10GBASE-LW', 'full'],
  40: ['10GBASE-SW', 'full'],
  41: ['10GBASE-CX4', 'full'],
  44: ['100BASE-BX10-D', 'full'],
  45: ['100BASE-BX10-U', 'full'],
  46: ['100BASE-LX10', 'full'],
  47: ['1000BASE-BX10-D', 'full'],
  48: ['1000BASE-BX10-U', 'full'],
  49: ['1000BASE-LX10', 'full'],
  50: ['1000BASE-PX10-D', 'full'],
  51: ['1000BASE-PX10-U', 'full'],
  52: ['1000BASE-PX20-D', 'full'],
  53: ['1000BASE-PX20-U', 'full'],
  54: ['10GBASE-T', 'full'],
  55: ['10GBASE-LRM', 'full'],
  56: ['1000BASE-KX', 'full'],
  57: ['10GBASE-KX4', 'full'],
  58: ['10GBASE-KR', 'full'],
  59: ['10/1GBASE-PRX-D1', 'full'],
  60: ['10/1GBASE-PRX-D2', 'full'],
  61: ['10/1GBASE-PRX-D3', 'full'],
  62: ['10/1GBASE-PRX-U1', 'full'],
  63: ['10/1GBASE-PRX-U2', 'full'],
  64: ['10/1GBASE-PRX-U3', 'full'],
  65: ['10GBASE-PR-D1', 'full'],
  66: ['10GBASE-PR-D2', 'full'],
  67: ['10GBASE-PR-D3', 'full'],
  68: ['10GBASE-PR-U1', 'full'],
  69: ['10GBASE-PR-U3', 'full'],
  70: ['40GBASE-KR4', 'full'],
  71: ['40GBASE-CR4', 'full'],
  72: ['40GBASE-SR4', 'full'],
  73: ['40GBASE-FR', 'full'],
  74: ['40GBASE-LR4', 'full'],
  75: ['100GBASE-CR10', 'full'],
  76: ['100GBASE-SR10', 'full'],
  77: ['100GBASE-LR4', 'full'],
  78: ['100GBASE-ER4', 'full'],
};

/** Duplex of an attachment unit by its number in IANA-MAU-MIB. */
export const duplexOfMau = (type: number): 'half' | 'full' | 'unknown' => types[type]?.[1] ?? 'unknown';
/** The unit as IEEE 802.3 writes it; empty for one that is not known. */
export const mediaOfMau = (type: number): string => types[type]?.[0] ?? '';

/** Type and status. */
export const ifMauColumns = [3, 4] as const;
/** ifMauStatus of the unit that carries the traffic; an interface with several has one such at a time. */
const operational = 3;

/** The attachment unit of each interface that works; of several none of which does, or says so, the first. */
export function parseMau(answered: Answered): Map<number, MauRow> {
  const negotiation = new Map(
    tableRows(mauTables.ifMauAutoNegEntry, answered).map(({ index, cells }) => [
      index.join('.'),
      numberOf(cells.get(1)),
    ]),
  );
  const found = new Map<number, MauRow>();
  const working = new Set<number>();
  for (const { index, cells } of tableRows(mauTables.ifMauEntry, answered)) {
    const [ifIndex] = index;
    const pointer = textOf(cells.get(3)) ?? '';
    if (ifIndex === undefined || index.length !== 2) continue;
    const works = numberOf(cells.get(4)) === operational;
    if (found.has(ifIndex) && (!works || working.has(ifIndex))) continue;
    if (works) working.add(ifIndex);
    const [media = '', duplex = 'unknown'] =
      (pointer.startsWith(dot3MauType) ? types[Number(pointer.slice(dot3MauType.length))] : undefined) ?? [];
    const enabled = negotiation.get(index.join('.'));
    found.set(ifIndex, { ifIndex, media, duplex, autoNegotiation: enabled === undefined ? null : enabled === 1 });
  }
  return found;
}
