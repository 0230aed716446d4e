/** All texts of a value: of a list those of its elements, of an object those of what it holds. */
export function valueTexts(value: unknown): string[] {
  if (value === null || value === undefined) return [];
  if (Array.isArray(value)) return value.flatMap(valueTexts);
  if (typeof value === 'object') return Object.values(value).flatMap(valueTexts);
  return [String(value)];
}
