import type { Thing } from '../../core/things/thing';
import { things, type ThingName } from '../../core/things/things';
import type { MarkedRow } from './query';

/** The columns of the fields once they are flattened; null where only the rows can tell. */
export function flatColumns(name: ThingName, columns: string[] | undefined): string[] | null {
  const { script, parts = {} } = things[name];
  const wanted = columns ?? script;
  if (wanted.some((field) => parts[field] === 'unknown')) return null;
  return wanted.flatMap((field) => {
    const known = parts[field];
    return Array.isArray(known) ? known.map((part) => `${field}.${part}`) : [field];
  });
}

/** A row as scripts get it: the fields of the contract, or just those asked for, and the change marks. */
export function scriptRow(name: ThingName, row: MarkedRow, columns?: string[]): Record<string, unknown> {
  const wanted = columns ?? things[name].script;
  const { formerly = {} }: Partial<Thing> = things[name];
  const plain = Object.fromEntries(wanted.map((field) => [field, row[formerly[field] ?? field] ?? null]));
  return { ...plain, ...(row.change && { change: row.change, ...(row.before && { was: row.before }) }) };
}
