import { yupResolver } from '@hookform/resolvers/yup';
import { get, set, type FieldErrors, type FieldValues, type Resolver } from 'react-hook-form';
import type { AnySchema, Lazy } from 'yup';
import type { FieldMistake } from '@/core/estate/scope';

/** What a form is held against: the schema that the server validates with, and mistakes that no schema can tell. */
export interface FormRules<Values> {
  schema?: AnySchema | Lazy<unknown>;
  mistakes?: (values: Values) => FieldMistake[];
  /** fields whose blanks count, as in passwords */
  exact?: readonly string[];
}

/** Texts without blanks at their ends: nobody means them, and the server refuses them. */
function trimmed(value: unknown, exact: readonly string[], at = ''): unknown {
  if (typeof value === 'string') return exact.includes(at) ? value : value.trim();
  if (Array.isArray(value)) return value.map((one) => trimmed(one, exact, at));
  if (typeof value !== 'object' || value === null || value instanceof Date) return value;
  const inner = (name: string) => (at === '' ? name : `${at}.${name}`);
  return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, trimmed(one, exact, inner(name))]));
}

export function resolverOf<Values extends FieldValues>({
  schema,
  mistakes = () => [],
  exact = [],
}: FormRules<Values>): Resolver<Values> {
  const bySchema = schema ? (yupResolver(schema as never, { strict: true }) as unknown as Resolver<Values>) : null;
  return async (given, context, options) => {
    const values = trimmed(given, exact) as Values;
    const { errors = {} } = bySchema ? await bySchema(values, context, options) : {};
    const all: FieldErrors = { ...errors };
    for (const { path, message } of mistakes(values)) {
      if (!get(all, path)) set(all, path, { type: 'mistake', message });
    }
    return Object.keys(all).length > 0 ? { values: {}, errors: all as FieldErrors<Values> } : { values, errors: {} };
  };
}
