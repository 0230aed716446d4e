import { withoutControls } from '../values/controls';

/** Foreign JSON, read without trust: every accessor gives a value of the type it names, or none. */
export type Json = null | boolean | number | string | Json[] | { [name: string]: Json };

export function objectAt(value: Json | undefined, ...path: string[]): { [name: string]: Json } | undefined {
  const found = at(value, path);
  return found !== null && typeof found === 'object' && !Array.isArray(found) ? found : undefined;
}

export function listAt(value: Json | undefined, ...path: string[]): Json[] {
  const found = at(value, path);
  return Array.isArray(found) ? found : [];
}

/** Text as it may stand on a page, see `withoutControls`; a number is written out. */
export function textAt(value: Json | undefined, ...path: string[]): string {
  const found = at(value, path);
  if (typeof found === 'number') return String(found);
  return typeof found === 'string' ? withoutControls(found) : '';
}

/** A finite number; RFC 7951 writes 64-bit ones as text. */
export function numberAt(value: Json | undefined, ...path: string[]): number | null {
  const found = at(value, path);
  const number =
    typeof found === 'number'
      ? found
      : typeof found === 'string' && /^-?\d+(\.\d+)?$/.test(found.trim())
        ? Number(found)
        : Number.NaN;
  return Number.isFinite(number) ? number : null;
}

export function booleanAt(value: Json | undefined, ...path: string[]): boolean | null {
  const found = at(value, path);
  return typeof found === 'boolean' ? found : null;
}

function at(value: Json | undefined, path: string[]): Json | undefined {
  let here = value;
  for (const name of path) {
    if (here === null || typeof here !== 'object' || Array.isArray(here) || !Object.hasOwn(here, name))
      return undefined;
    here = here[name];
  }
  return here;
}
