import { tableRows, type Answered } from './table';
import { numberOf, octetsOfValue, textOf } from './varbind';

/** HOST-RESOURCES-MIB (RFC 2790): what runs (hrSWRunTable) and what is installed (hrSWInstalledTable). */
export const hostSoftwareTables = {
  hrSWRunEntry: '1.3.6.1.2.1.25.4.2.1',
  hrSWInstalledEntry: '1.3.6.1.2.1.25.6.3.1',
} as const;

/** Name, path, parameters, type. */
export const hrSWRunColumns = [2, 4, 5, 6] as const;
/** Name, type, date. */
export const hrSWInstalledColumns = [2, 4, 5] as const;

export interface RunningProcess {
  /** hrSWRunIndex: the process number by which TCP and UDP tables name it */
  process: number;
  name: string;
  path: string;
  parameters: string;
}

export interface InstalledSoftware {
  name: string;
  kind: 'unknown' | 'operatingSystem' | 'deviceDriver' | 'application';
  /** ISO date and time without a zone, as the machine writes it; null where it does not tell */
  installedAt: string | null;
}

const kinds = ['unknown', 'unknown', 'operatingSystem', 'deviceDriver', 'application'] as const;

export function parseRunning(answered: Answered): RunningProcess[] {
  return tableRows(hostSoftwareTables.hrSWRunEntry, answered)
    .filter(({ index }) => index.length === 1)
    .map(({ index, cells }) => ({
      process: index[0] ?? 0,
      name: textOf(cells.get(2)) ?? '',
      path: textOf(cells.get(4)) ?? '',
      parameters: textOf(cells.get(5)) ?? '',
    }));
}

export function parseInstalled(answered: Answered): InstalledSoftware[] {
  return tableRows(hostSoftwareTables.hrSWInstalledEntry, answered).flatMap(({ index, cells }) => {
    const name = textOf(cells.get(2)) ?? '';
    if (index.length !== 1 || !name) return [];
    return [
      {
        name,
        kind: kinds[numberOf(cells.get(4)) ?? 0] ?? ('unknown' as const),
        installedAt: dateAndTime(octetsOfValue(cells.get(5))),
      },
    ];
  });
}

/** DateAndTime of SNMPv2-TC (RFC 2579): year in two octets, month, day, hour, minute, second. Null for anything that is no date. */
export function dateAndTime(octets: Uint8Array | undefined): string | null {
  if (!octets || (octets.length !== 8 && octets.length !== 11)) return null;
  const [high = 0, low = 0, month = 0, day = 0, hour = 0, minute = 0, second = 0] = octets;
  const year = high * 256 + low;
  if (year < 1970 || month < 1 || month > 12 || day < 1 || day > 31 || hour > 23 || minute > 59 || second > 60)
    return null;
  const two = (value: number) => String(value).padStart(2, '0');
  return `${String(year).padStart(4, '0')}-${two(month)}-${two(day)}T${two(hour)}:${two(minute)}:${two(second)}`;
}
