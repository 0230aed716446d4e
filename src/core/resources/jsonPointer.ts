import type { Json } from './json';

/** The value at a JSON pointer (RFC 6901): `/Temperatures/0/ReadingCelsius`; the whole for an empty one. Undefined where nothing is. */
export function valueAtPointer(whole: Json, pointer: string): Json | undefined {
  if (pointer === '') return whole;
  if (!pointer.startsWith('/')) return undefined;
  let value: Json | undefined = whole;
  for (const token of pointer.slice(1).split('/')) {
    const name = token.replaceAll('~1', '/').replaceAll('~0', '~');
    if (Array.isArray(value)) value = /^(0|[1-9]\d*)$/.test(name) ? value[Number(name)] : undefined;
    else if (value !== null && typeof value === 'object') value = Object.hasOwn(value, name) ? value[name] : undefined;
    else return undefined;
  }
  return value;
}

/** A resource and the place in it, as they are written together: `/redfish/v1/Chassis/1/Thermal#/Temperatures/0/ReadingCelsius`. Null where the text is no such thing. */
export function splitResource(text: string): { path: string; pointer: string } | null {
  const match = /^(\/[^#\s]*)#((?:\/[^#\s]*)+)$/.exec(text);
  return match ? { path: match[1] ?? '', pointer: match[2] ?? '' } : null;
}
