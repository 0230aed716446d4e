import same from 'fast-deep-equal';

/** A value that somebody writes: what it was, and what it becomes. `before` null for a new one, `after` null for one that goes. */
export interface EditChange<Value = unknown> {
  /** which thing it is of; null for a new one that has no key yet */
  key: string | null;
  /** which value of the thing, where each is written by itself; empty where it is written as a whole */
  field?: string;
  before: Value | null;
  after: Value | null;
}

/** Two values, equal in all they say, whatever the order of their names. */
export const sameValue = (one: unknown, other: unknown): boolean => same(one, other);

/** The changes that take others back, last first. */
export const reversed = <Value>(changes: readonly EditChange<Value>[]): EditChange<Value>[] =>
  [...changes].reverse().map(({ before, after, ...where }) => ({ ...where, before: after, after: before }));

export interface FieldDifference {
  field: string;
  before: unknown;
  after: unknown;
}

/** In which of their fields two values differ, in the order of the first; a value that is no object differs as a whole, under an empty name. */
export function fieldDifferences(before: unknown, after: unknown): FieldDifference[] {
  if (!isRecord(before) || !isRecord(after)) return same(before, after) ? [] : [{ field: '', before, after }];
  return [...new Set([...Object.keys(before), ...Object.keys(after)])]
    .map((field) => ({ field, before: before[field] ?? null, after: after[field] ?? null }))
    .filter((one) => !same(one.before, one.after));
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
