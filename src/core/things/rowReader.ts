import { term } from './near';

/** A row as descriptors read it: texts, whatever the values are. */
export interface RowReader {
  row: Record<string, unknown>;
  /** a field as text, empty where there is nothing; several values with commas between them */
  text: (field: string) => string;
  /** the fields that say something, with blanks between them */
  words: (...fields: string[]) => string;
  /** whether all of these fields say something */
  has: (...fields: string[]) => boolean;
  /** a filter of what belongs to the same device */
  here: string;
  /** a filter of the same value on other devices */
  elsewhere: (field: string) => string;
}

/** @param here a filter of what belongs to the device of the row, where its name alone does not say it */
export function rowReader(row: Record<string, unknown>, here = term('device', row.device)): RowReader {
  const text = (field: string) => {
    const value = row[field];
    return Array.isArray(value) ? value.join(', ') : String(value ?? '');
  };
  return {
    row,
    text,
    words: (...fields) => fields.map(text).filter(Boolean).join(' '),
    has: (...fields) => fields.every((field) => text(field) !== ''),
    here,
    elsewhere: (field) => `${term(field, row[field])} -${here}`,
  };
}
