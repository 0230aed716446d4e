import { tableRows, type Answered } from './table';
import { numberOf, textOf } from './varbind';

/** Printer-MIB (RFC 3805). */
export const printerTables = {
  prtGeneralEntry: '1.3.6.1.2.1.43.5.1.1',
  prtMarkerSuppliesEntry: '1.3.6.1.2.1.43.11.1.1',
  prtAlertEntry: '1.3.6.1.2.1.43.18.1.1',
} as const;
export const printerFamily = '1.3.6.1.2.1.43';

/** prtGeneralPrinterName, prtGeneralSerialNumber. */
export const prtGeneralColumns = [16, 17] as const;
/** prtMarkerSuppliesClass, Description, SupplyUnit, MaxCapacity, Level. */
export const prtMarkerSuppliesColumns = [4, 6, 7, 8, 9] as const;
/** prtAlertSeverityLevel, Description. */
export const prtAlertColumns = [2, 8] as const;

export interface Printer {
  name: string;
  serial: string;
  /** how full what it prints with is, 0 to 100 percent; for a container of waste, how full that is. Null where it cannot say */
  supplies: { name: string; percent: number | null; isWaste: boolean }[];
  alerts: { words: string; critical: boolean }[];
}

const receptacleThatIsFilled = 4;
const [critical, warning] = [3, 4];
/** PrtMarkerSuppliesSupplyUnitTC: the level is a percentage by itself. */
const percentUnit = 19;

/** What a printer tells of itself, or null where the agent speaks for none. */
export function parsePrinter(answered: Answered): Printer | null {
  const general = tableRows(printerTables.prtGeneralEntry, answered).find(({ index }) => index.length === 1);
  const supplies = tableRows(printerTables.prtMarkerSuppliesEntry, answered).flatMap(({ index, cells }) => {
    if (index.length !== 2) return [];
    const isWaste = numberOf(cells.get(4)) === receptacleThatIsFilled;
    return [
      {
        name: textOf(cells.get(6)) || `supply ${index[1]}`,
        percent: percentOf(numberOf(cells.get(7)), numberOf(cells.get(8)), numberOf(cells.get(9))),
        isWaste,
      },
    ];
  });
  if (!general && supplies.length === 0) return null;
  return {
    name: textOf(general?.cells.get(16)) ?? '',
    serial: textOf(general?.cells.get(17)) ?? '',
    supplies,
    alerts: tableRows(printerTables.prtAlertEntry, answered).flatMap(({ cells }) => {
      const severity = numberOf(cells.get(2));
      const words = textOf(cells.get(8)) ?? '';
      // others tell that something was set or is over
      return severity === critical || severity === warning
        ? [{ words: words || 'an alert without words', critical: severity === critical }]
        : [];
    }),
  };
}

/** -1 means other, -2 unknown, -3 that something is left: none of them is a number (RFC 3805, prtMarkerSuppliesLevel). */
function percentOf(unit: number | undefined, most: number | undefined, level: number | undefined): number | null {
  if (level === undefined || level < 0) return null;
  if (unit === percentUnit) return level <= 100 ? level : null;
  return most !== undefined && most > 0 && level <= most ? Math.round((level / most) * 100) : null;
}
