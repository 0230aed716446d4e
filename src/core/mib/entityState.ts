import { dateAndTime } from './hostSoftware';
import { tableRows, type Answered } from './table';
import { numberOf, octetsOfValue } from './varbind';

/** ENTITY-STATE-MIB (RFC 4268): entStateTable, indexed by entPhysicalIndex. */
export const entityStateTables = { entStateEntry: '1.3.6.1.2.1.131.1.1.1' } as const;

/** Last change, administrative and operational state, alarm bits, standby. */
export const entStateColumns = [1, 2, 3, 5, 6] as const;

const adminStates = ['unknown', 'unknown', 'locked', 'shuttingDown', 'unlocked'] as const;

const operStates = ['unknown', 'unknown', 'disabled', 'enabled', 'testing'] as const;
const standbyStates = ['unknown', 'unknown', 'hotStandby', 'coldStandby', 'providingService'] as const;
/** EntityAlarmStatus bits, the first one is the highest. */
const alarms = ['unknown', 'underRepair', 'critical', 'major', 'minor', 'warning', 'indeterminate'] as const;
export type EntityAlarm = (typeof alarms)[number];

export interface EntityStateRow {
  entPhysicalIndex: number;
  /** `locked`: a person took it out of use */
  admin: (typeof adminStates)[number];
  oper: (typeof operStates)[number];
  alarms: EntityAlarm[];
  standby: (typeof standbyStates)[number];
  /** ISO date and time without a zone, by the device's clock */
  changedAt: string | null;
}

export function parseEntityStates(answered: Answered): EntityStateRow[] {
  return tableRows(entityStateTables.entStateEntry, answered)
    .filter(({ index }) => index.length === 1)
    .map(({ index, cells }) => {
      const bits = octetsOfValue(cells.get(5))?.[0] ?? 0;
      return {
        entPhysicalIndex: index[0] ?? 0,
        admin: adminStates[numberOf(cells.get(2)) ?? 0] ?? 'unknown',
        oper: operStates[numberOf(cells.get(3)) ?? 0] ?? 'unknown',
        alarms: alarms.filter((_, at) => bits & (0x80 >> at)),
        standby: standbyStates[numberOf(cells.get(6)) ?? 0] ?? 'unknown',
        changedAt: dateAndTime(octetsOfValue(cells.get(1))),
      };
    });
}
