import { writtenValue } from './written';

const placeholder = /(\S*?)\{(\w+)\}/g;

/** The fields whose values an example speaks of: `site={site}`. */
export const exampleFields = (hint: string): string[] =>
  [...hint.matchAll(placeholder)].map(([, , field = '']) => field);

/** An example in words of the estate that is there; what it has no value for is left out. @param values by field */
export function exampleWith(hint: string, values: ReadonlyMap<string, string>): string {
  return hint
    .replace(placeholder, (_, before: string, field: string) => {
      const value = values.get(field);
      return value ? `${before}${writtenValue(value)}` : '';
    })
    .replace(/\s+/g, ' ')
    .replace(/\s*([;,])(?=\s*([;,]|$))/g, '')
    .replace(/^[\s;,]+|[\s;,]+$/g, '');
}
