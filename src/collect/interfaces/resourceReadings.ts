import type { ReadingValue } from '../../core/estate/facts';
import type { Json } from '../../core/resources/json';
import { splitResource, valueAtPointer } from '../../core/resources/jsonPointer';
import { readingValue, withoutNamesakes, type Reading } from '../../core/signatures/reading';
import { ResourceError } from '../https/resourceSource';

/** Values that somebody wants of resources, each resource asked once. One that cannot be had, or holds no number at its place, gives no value. */
export async function resourceReadings(
  readings: Reading[],
  resource: (path: string) => Promise<Json>,
): Promise<ReadingValue[]> {
  const bodies = new Map<string, Json>();
  const values: ReadingValue[] = [];
  for (const reading of withoutNamesakes(readings)) {
    const place = reading.resource === undefined ? null : splitResource(reading.resource);
    if (!place) continue;
    if (!bodies.has(place.path)) bodies.set(place.path, await bodyOf(resource, place.path));
    const answered = valueAtPointer(bodies.get(place.path) ?? null, place.pointer);
    const value = typeof answered === 'number' || typeof answered === 'string' ? readingValue(reading, answered) : null;
    if (value) values.push(value);
  }
  return values;
}

async function bodyOf(resource: (path: string) => Promise<Json>, path: string): Promise<Json> {
  try {
    return await resource(path);
  } catch (error) {
    if (!(error instanceof ResourceError)) throw error;
    return null;
  }
}
