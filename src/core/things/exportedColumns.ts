import type { FieldKind } from '../filter/filterField';
import { ownTopic } from '../own/ownField';
import { spoken } from '../values/spoken';
import type { ThingField } from './thing';

/** What a spreadsheet's cell holds: a date is a moment in UTC. */
export type ExportedValue = string | number | boolean | Date | null;

export interface ExportedColumn {
  field: string;
  /** its heading as the table shows it, with the unit of its numbers */
  head: string;
  value: (value: unknown) => ExportedValue;
}

/** The one unit of a column: on the screen each cell has its own, in a spreadsheet they must add up. */
const units: Partial<Record<FieldKind, { name: string; size: number }>> = {
  bytes: { name: 'MB', size: 1024 ** 2 },
  bitsPerSecond: { name: 'Mbit/s', size: 1e6 },
  seconds: { name: 'days', size: 86_400 },
};

const isNothing = (value: unknown): boolean => value === null || value === undefined || value === '';

/**
 * How columns go into a spreadsheet: headed as they are shown, with numbers, days and yes or no as such.
 * @param names of the columns, in their order; what is no field of the thing is left out
 */
export function exportedColumns(fields: readonly ThingField[], names: readonly string[]): ExportedColumn[] {
  const wanted = names.flatMap((name) => fields.find((field) => field.name === name) ?? []);
  const heads = wanted.map((field) => headOf(field));
  return wanted.map((field, at) => {
    const head = heads[at] ?? field.label;
    const isTwice = heads.filter((other) => other === head).length > 1;
    return { field: field.name, head: isTwice ? `${head} (${field.name})` : head, value: valueOf(field) };
  });
}

function headOf({ label, kind, isDay, topic }: ThingField): string {
  // what people write as a day is one of the calendar, wherever one is
  const isMoment = kind === 'date' && !isDay && topic !== ownTopic;
  const unit = units[kind]?.name ?? (isMoment ? 'UTC' : null);
  return unit === null ? label : `${label} (${unit})`;
}

function valueOf({ kind, isDay, isSpoken }: ThingField): (value: unknown) => ExportedValue {
  const unit = units[kind];
  const one = (value: unknown): ExportedValue => {
    if (isNothing(value)) return null;
    if (kind === 'boolean') return Boolean(value);
    if (typeof value === 'number') return unit ? Number((value / unit.size).toFixed(3)) : value;
    const text = typeof value === 'object' ? JSON.stringify(value) : String(value);
    if (kind === 'date' || isDay) {
      const moment = new Date(text);
      return Number.isNaN(moment.getTime()) ? text : moment;
    }
    return isSpoken ? spoken(text) : text;
  };
  return (value) => {
    if (!Array.isArray(value)) return one(value);
    const parts = value.map(one).filter((part) => part !== null);
    return parts.length === 0 ? null : parts.length === 1 ? (parts[0] ?? null) : parts.join(', ');
  };
}
