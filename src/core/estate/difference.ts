/** One change as tables, exports and dossiers show it. */
export interface FieldChange {
  field: string;
  before: unknown;
  after: unknown;
}

/**
 * Top-level fields in which two contents differ, in the order of their names. Arrays and objects are compared by
 * value, without regard to the order of an object's keys.
 */
export function changedFields(before: Record<string, unknown>, after: Record<string, unknown>): FieldChange[] {
  const names = [...new Set([...Object.keys(before), ...Object.keys(after)])].sort();
  return names.flatMap((field) => (stable(before[field]) === stable(after[field]) ? [] : [{ field, before: before[field] ?? null, after: after[field] ?? null }]));
}

/** JSON with sorted keys: equal content, equal text. */
export function stable(value: unknown): string {
  return JSON.stringify(value ?? null, (_, inner: unknown) =>
    inner && typeof inner === 'object' && !Array.isArray(inner)
      ? Object.fromEntries(Object.entries(inner).sort(([x], [y]) => (x < y ? -1 : 1)))
      : inner,
  );
}
