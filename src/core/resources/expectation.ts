import * as yup from 'yup';
import { listAt, type Json } from './json';

/** Rows that are as they are expected, and in what the others differ. */
export interface Expected<Row> {
  rows: Row[];
  /** null where everything fits; else words that name the field */
  drift: string | null;
}

/**
 * Holds rows of a private interface against what is known of it. A row that does not fit is left out, and the first difference is named:
 * such interfaces change without notice, and a silent gap would look like equipment that is gone.
 * @param where the resource, as the finding names it
 */
export function expectRows<Row>(
  schema: yup.Schema<Row>,
  body: Json | undefined,
  field: string,
  where: string,
): Expected<Row> {
  const present = body !== null && typeof body === 'object' && !Array.isArray(body) && Array.isArray(body[field]);
  if (!present) return { rows: [], drift: `this interface changed: ${where} has no list “${field}” any more` };
  const rows: Row[] = [];
  let drift: string | null = null;
  for (const item of listAt(body, field)) {
    try {
      rows.push(schema.validateSync(item, { strict: true }));
    } catch (error) {
      if (!(error instanceof yup.ValidationError)) throw error;
      drift ??= driftWords(`${where} ${field}[]`, error);
    }
  }
  return { rows, drift };
}

/** One object, or null with the difference. */
export function expectObject<Row>(
  schema: yup.Schema<Row>,
  body: Json | undefined,
  where: string,
): { value: Row | null; drift: string | null } {
  try {
    return { value: schema.validateSync(body ?? {}, { strict: true }), drift: null };
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    return { value: null, drift: driftWords(where, error) };
  }
}

function driftWords(where: string, { path = '', type, params }: yup.ValidationError): string {
  const field = path ? `field “${path}” of ${where}` : where;
  const missing =
    type === 'optionality' ||
    type === 'required' ||
    (type === 'typeError' && params?.value === undefined) ||
    type === 'nullable';
  return `this interface changed: ${field} ${missing ? 'is missing' : `is not what it was (${String(params?.type ?? type ?? 'other')} expected)`}`;
}
