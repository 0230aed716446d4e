import { dateAndTime } from './hostSoftware';
import { lengthPrefixed, tableRows, type Answered } from './table';
import { textOf } from './varbind';

/** ALARM-MIB (RFC 3877): alarmActiveTable, what is raised and not cleared. */
export const alarmTables = { alarmActiveEntry: '1.3.6.1.2.1.118.1.2.2.1' } as const;

/** alarmActiveResourceId, alarmActiveDescription. */
export const alarmActiveColumns = [10, 11] as const;

export interface ActiveAlarm {
  /** what it is about; empty where the agent does not name it in words */
  resource: string;
  words: string;
  /** ISO moment, from the index; null where that is none */
  since: string | null;
}

/** The index is the name of the list, the moment it was raised, and a number; the first two say their own length. */
export function parseActiveAlarms(answered: Answered): ActiveAlarm[] {
  return tableRows(alarmTables.alarmActiveEntry, answered).flatMap(({ index, cells }) => {
    const list = lengthPrefixed(index, 0);
    const moment = list && lengthPrefixed(index, list.next);
    if (!moment || moment.next !== index.length - 1) return [];
    const words = textOf(cells.get(11)) ?? '';
    const named = textOf(cells.get(10)) ?? '';
    return [
      {
        // an instance is named by its object identifier: zeroDotZero where it is none
        resource: named === '0.0' ? '' : named,
        words: words || 'an alarm without words',
        since: dateAndTime(Uint8Array.from(moment.part)),
      },
    ];
  });
}
