import type { Contract } from '../../core/cover/contract';
import type { Cover, CoverState } from '../../core/cover/cover';
import { daysBetween } from '../../core/values/day';
import type { Store } from '../../store/base/database';
import { tablesOf } from '../query/tables/estateTables';
import type { ThingRow } from '../query/rows/rowBuilder';

/** Under which contracts a serial is, and how long yet. */
export interface CoveredSerial {
  serial: string;
  what: string;
  state: CoverState;
  until: string | null;
  daysLeft: number | null;
  by: Omit<Contract, 'serials'>[];
}

/** Cover of a device: that of each of its units, and of the parts that contracts name themselves. */
export function deviceCover(
  store: Store,
  survey: number,
  device: ThingRow,
  modules: ThingRow[],
): { units: CoveredSerial[]; parts: CoveredSerial[] } {
  const index = tablesOf(store).coverAt(survey);
  const told = (serial: string, what: string, { state, until, by }: Cover): CoveredSerial => ({
    serial,
    what,
    state,
    until,
    daysLeft: until === null ? null : daysBetween(index.day, until),
    by: by.map(({ number, kind, supplier, level, contact, from, until: end, parts, note }) => ({
      number,
      kind,
      supplier,
      level,
      contact,
      from,
      until: end,
      parts,
      note,
    })),
  });
  const units = new Map<string, string>();
  if (device.serial) units.set(String(device.serial), String(device.model ?? ''));
  for (const { serial, model, name } of (device.units as
    | { serial: string; model: string; name: string }[]
    | undefined) ?? [])
    if (serial && !units.has(serial)) units.set(serial, model || name);
  return {
    units: [...units].map(([serial, what]) => told(serial, what, index.ofSerial(serial))),
    parts: modules.flatMap((row) => {
      const serial = String(row.serial ?? '');
      if (serial === '' || units.has(serial)) return [];
      const own = index.ofSerial(serial);
      return own.by.length === 0
        ? []
        : [
            told(
              serial,
              String(row.path ?? '')
                .split(' / ')
                .slice(1)
                .join(', ') || String(row.name ?? ''),
              own,
            ),
          ];
    }),
  };
}
