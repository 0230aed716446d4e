import { searchedAnywhere } from '../../../core/filter/filterField';
import { things, type ThingName } from '../../../core/things/things';
import { Finder } from '../finder';
import { PortsTable } from './portsTable';
import type { ThingTable } from './thingTable';

/** Columns that are worked out over all rows of a thing. */
const costly: Partial<Record<ThingName, readonly string[]>> = {
  endpoints: ['firstSeen'],
  ports: ['lastChangeSeconds', 'watts', 'lastSeen', 'stateChanges', 'newNeighbour'],
  links: ['cutsDevices', 'spareLostBy'],
  devices: ['pluggedInto', 'cutsDevices'],
  modules: ['holds'],
};

/** The tables of one survey, as reading ahead needs them. */
export interface TablesAhead {
  loading: () => Generator<void>;
  /** fields of the rows themselves */
  plain: (name: ThingName) => ThingTable;
  /** with what follows from other things and from what people say */
  table: (name: ThingName) => ThingTable;
  isAdded: (field: string) => boolean;
  /** reads what was heard, a step at a time */
  talk: () => Generator<void>;
  /** who finds anything is there */
  found: (finder: Finder) => void;
}

/** Makes what is asked for most, a step at a time, so that questions that come meanwhile are answered between two steps. */
export function* readAhead({ loading, plain, table, isAdded, talk, found }: TablesAhead): Generator<void> {
  yield* loading();
  for (const name of ['devices', 'endpoints', 'ports', 'modules'] as const) {
    yield;
    const own = plain(name);
    if (own instanceof PortsTable) yield* own.plugging();
    // a word is looked for in all of them
    for (const field of things[name].fields.filter((one) => searchedAnywhere(one) && !isAdded(one.name))) {
      yield;
      own.column(field.name).dictionary.containing('0');
    }
  }
  yield* talk();
  const finder = new Finder();
  yield* finder.build(plain);
  finder.find('0', 1);
  yield;
  found(finder);
  // what takes long to work out, one at a step; the rest is made with the first row
  for (const [name, fields] of Object.entries(costly) as [ThingName, readonly string[]][]) {
    const whole = table(name);
    for (const field of fields) {
      yield;
      whole.column(field);
    }
    yield;
    whole.rows([0]);
  }
}
