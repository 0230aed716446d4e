import { relatedThings, things, type ThingName } from '../../core/things/things';
import type { Thing, ThingField } from '../../core/things/thing';
import type { RelatedTable } from '../../core/tables/select';
import type { ThingTable } from './tables/thingTable';

/** What a filter may ask one step away from the rows of a table: the parts of devices, or the device that a part belongs to. */
export function relationsOf(
  name: ThingName,
  own: ThingTable,
  tableOf: (other: ThingName) => ThingTable,
  fieldsOf: (other: ThingName) => ThingField[],
): Record<string, () => RelatedTable> {
  return {
    ...(own.steps && Object.fromEntries(own.steps.map(({ word, ...step }) => [word, () => step]))),
    ...Object.fromEntries(
      Object.entries(relatedThings[name] ?? {}).map(([word, other]) => [
        word,
        () => {
          const table = tableOf(other);
          return {
            fields: fieldsOf(other),
            table,
            spread: Array.isArray((things[name] as Thing).belongsTo)
              ? toEnds(own, word, table)
              : other === 'devices'
                ? toParts(own, table)
                : toDevices(own, table),
          };
        },
      ]),
    ),
  };
}

/** From found devices to the rows that belong to them. */
const toParts =
  (own: ThingTable, devices: ThingTable) =>
  (found: Uint8Array): Uint8Array => {
    const keys = devices.keys();
    const wanted = new Set<number>();
    found.forEach((fits, row) => fits && wanted.add(Number(keys[row])));
    const owners = own.owners();
    const fits = new Uint8Array(own.size);
    for (let row = 0; row < fits.length; row++) if (wanted.has(owners[row] ?? 0)) fits[row] = 1;
    return fits;
  };

/** From found parts to the devices they belong to. */
const toDevices =
  (own: ThingTable, parts: ThingTable) =>
  (found: Uint8Array): Uint8Array => {
    const owners = parts.owners();
    const devices = new Set<number>();
    found.forEach((fits, row) => fits && devices.add(owners[row] ?? 0));
    return Uint8Array.from(Array.from(own.keys()), (key) => (devices.has(Number(key)) ? 1 : 0));
  };

/** From found devices to the links that end at them, or to the talk of which they are that end. */
const toEnds =
  (own: ThingTable, end: string, devices: ThingTable) =>
  (found: Uint8Array): Uint8Array => {
    const keys = devices.keys();
    const wanted = new Set<unknown>();
    found.forEach((fits, row) => fits && wanted.add(Number(keys[row])));
    const { dictionary, codes } = own.column(`${end}Id`);
    const known = dictionary.passing((id) => wanted.has(id));
    const fits = new Uint8Array(own.size);
    for (let row = 0; row < fits.length; row++) fits[row] = known[codes[row] ?? 0] ?? 0;
    return fits;
  };
