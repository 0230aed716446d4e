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
  return names.flatMap((field) =>
    stable(before[field]) === stable(after[field])
      ? []
      : [{ field, before: before[field] ?? null, after: after[field] ?? null }],
  );
}

/** JSON with sorted keys: equal content, equal text. Top-level fields named in `without` are left out. */
export function stable(value: unknown, without?: ReadonlySet<string>): string {
  if (value === null || value === undefined) return 'null';
  if (typeof value === 'number') return Number.isFinite(value) ? String(value) : 'null';
  if (typeof value !== 'object') return JSON.stringify(value) ?? 'null';
  if (Array.isArray(value)) {
    let text = '[';
    for (let at = 0; at < value.length; at++) text += at === 0 ? stable(value[at]) : `,${stable(value[at])}`;
    return `${text}]`;
  }
  const content = value as Record<string, unknown>;
  let text = '{';
  for (const name of Object.keys(content).sort()) {
    if (content[name] === undefined || without?.has(name)) continue;
    text += `${text.length > 1 ? ',' : ''}${JSON.stringify(name)}:${stable(content[name])}`;
  }
  return `${text}}`;
}
