import { formatBytes, formatSpeed } from '../values/quantity';
import { thingOfWord, things, type ThingName } from './things';

/** What a change was of, from its id: `8 port duplex 54:3` is of port 54:3. Null for what has no table of its own. */
export function thingOfChange(id: string): { thing: ThingName; id: string } | null {
  const [, word = '', thingId = ''] = /^\d+ (\S+) \S+ (.+)$/s.exec(id) ?? [];
  const thing = thingOfWord.get(word);
  return thing ? { thing, id: thingId } : null;
}

/** The heading of a changed field, in lower case: `memoryBytes` of a device is its `memory`. */
export function fieldWord(thing: string, field: string): string {
  const label = things[thingOfWord.get(thing) ?? 'devices'].fields.find(({ name }) => name === field)?.label;
  return (label ?? (field === 'issues' ? 'findings' : field)).replace(/^[A-Z](?=[a-z])/, (letter) =>
    letter.toLowerCase(),
  );
}

/** A value before or after a change as a person reads it, with its unit. */
export function changeValue(thing: string, field: string, value: unknown): string {
  const kind = things[thingOfWord.get(thing) ?? 'devices'].fields.find(({ name }) => name === field)?.kind;
  if (value === null || value === undefined || value === '') return '';
  if (typeof value === 'number')
    return kind === 'bytes' ? formatBytes(value) : kind === 'bitsPerSecond' ? formatSpeed(value) : String(value);
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value)) return value.map((item) => changeValue(thing, field, item)).join(', ');
  if (typeof value === 'object')
    return 'words' in value
      ? String(value.words)
      : Object.values(value)
          .map((inner) => changeValue(thing, '', inner))
          .join(' ');
  return String(value);
}
