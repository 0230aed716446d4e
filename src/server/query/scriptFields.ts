import { things, type ThingName } from '../../core/things/things';
import type { MarkedRow } from './query';

/** What the fields that hold several values by name are made of, where that is always the same. */
const partsOfFields: Record<string, string[]> = {
  poe: ['enabled', 'state', 'class', 'watts'],
  stp: ['state', 'role', 'designatedBridge'],
  neighbour: ['device', 'port', 'source'],
};
/** Fields whose parts are known only from their rows. */
const unknownParts = new Set(['a', 'b', 'phases']);

/** The columns of the fields once they are flattened; null where only the rows can tell. */
export function flatColumns(name: ThingName, columns: string[] | undefined): string[] | null {
  const wanted = columns ?? things[name].script;
  return wanted.some((field) => unknownParts.has(field))
    ? null
    : wanted.flatMap((field) => partsOfFields[field]?.map((part) => `${field}.${part}`) ?? [field]);
}

/** A row as scripts get it: the fields of the contract, or just those asked for, and the change marks. */
export function scriptRow(name: ThingName, row: MarkedRow, columns?: string[]): Record<string, unknown> {
  const wanted = columns ?? things[name].script;
  const plain = Object.fromEntries(wanted.map((field) => [field, row[field] ?? null]));
  return { ...plain, ...(row.change && { change: row.change, ...(row.before && { was: row.before }) }) };
}
