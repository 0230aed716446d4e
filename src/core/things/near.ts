import { writtenValue } from '../filter/written';

/** A table that says more of a row: in words, which thing, and the filter. */
export type Near = [words: string, thing: string, where: string];

/** A filter that one field has one value. */
export const term = (field: string, value: unknown): string => `${field}=${writtenValue(String(value))}`;

/** The contracts that cover a row. */
export function contractsOf(row: Record<string, unknown>): Near[] {
  const numbers = (row.coveredBy as string[] | undefined) ?? [];
  if (numbers.length === 0) return [];
  return [['contracts that cover it', 'contracts', numbers.map((number) => term('number', number)).join(' or ')]];
}
