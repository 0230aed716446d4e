import { tableRows, type Answered } from './table';
import { numberOf } from './varbind';

/** IEEE8021-PAE-MIB (IEEE 802.1X-2004): dot1xAuthConfigTable, indexed by dot1xPaePortNumber, which is the ifIndex. */
export const portAccessTables = { dot1xAuthConfigEntry: '1.0.8802.1.1.1.1.2.1.1' } as const;

/** dot1xAuthAuthControlledPortStatus, dot1xAuthAuthControlledPortControl. */
export const dot1xAuthConfigColumns = [5, 6] as const;

const controls = ['', 'forceUnauthorized', 'auto', 'forceAuthorized'] as const;

/** Whether whoever is plugged in was let in: `open` where nobody has to ask. */
export type PortAccess = 'authorized' | 'unauthorized' | 'blocked' | 'open';

/** ifIndex → whether a port lets in what is plugged into it, by IEEE 802.1X. */
export function parsePortAccess(answered: Answered): Map<number, PortAccess> {
  return new Map(
    tableRows(portAccessTables.dot1xAuthConfigEntry, answered).flatMap(({ index, cells }) => {
      const control = controls[numberOf(cells.get(6)) ?? 0] ?? '';
      const status = numberOf(cells.get(5));
      if (index.length !== 1 || control === '') return [];
      const access: PortAccess | null =
        control === 'forceAuthorized'
          ? 'open'
          : control === 'forceUnauthorized'
            ? 'blocked'
            : status === 1
              ? 'authorized'
              : status === 2
                ? 'unauthorized'
                : null;
      return access === null ? [] : [[index[0] ?? 0, access] as const];
    }),
  );
}
