import { addresses } from './list/addresses';
import { advisories } from './list/advisories';
import { applications } from './list/applications';
import { changes } from './list/changes';
import { circles } from './list/circles';
import { components } from './list/components';
import { contracts } from './list/contracts';
import { conversations } from './list/conversations';
import { devices } from './list/devices';
import { endpoints } from './list/endpoints';
import { exposures } from './list/exposures';
import { faults } from './list/faults';
import { images } from './list/images';
import { ledger } from './list/ledger';
import { links } from './list/links';
import { machines } from './list/machines';
import { modules } from './list/modules';
import { networks } from './list/networks';
import { peers } from './list/peers';
import { ports } from './list/ports';
import { readiness } from './list/readiness';
import { releases } from './list/releases';
import { routes } from './list/routes';
import { services } from './list/services';
import { software } from './list/software';
import { virtualRouters } from './list/virtualRouters';
import { visits } from './list/visits';
import { vlans } from './list/vlans';
import { wlans } from './list/wlans';
import type { Thing, ThingField } from './thing';

/** Every thing there is tables of, in the order they are named. A thing more is a file in `list` and a line here; where its rows come from says `server/query/rows`. */
const list = [
  devices,
  modules,
  ports,
  links,
  endpoints,
  machines,
  services,
  conversations,
  circles,
  applications,
  software,
  vlans,
  addresses,
  networks,
  routes,
  peers,
  virtualRouters,
  wlans,
  faults,
  components,
  releases,
  images,
  readiness,
  advisories,
  exposures,
  ledger,
  contracts,
  changes,
  visits,
] as const;

export type ThingName = (typeof list)[number]['name'];
export const thingNames = list.map(({ name }) => name) as ThingName[];
export const things = Object.fromEntries(list.map((one) => [one.name, one])) as unknown as Record<
  ThingName,
  Thing & { name: ThingName }
>;

// a change names its field as the heading of its thing
const changed = things.changes.fields.find(({ name }) => name === 'field');
if (changed) changed.shownAs = headings(list.flatMap(({ fields }) => fields));

const named = (test: (one: Thing) => boolean) => new Set(thingNames.filter((name) => test(things[name])));

/** Things whose rows belong to a device and say at which site it stands. */
export const sitedThings: ReadonlySet<ThingName> = named(({ isSited }) => isSited === true);

const ofDevice = { device: 'devices' } as const;

/** Things one step away from a row, by the word that stands before the dot in a filter. */
export const relatedThings: Partial<Record<ThingName, Record<string, ThingName>>> = {
  devices: Object.fromEntries(
    list.flatMap((one: Thing & { name: ThingName }) => (one.stepWord ? [[one.stepWord, one.name]] : [])),
  ),
  ...Object.fromEntries(
    list.flatMap(({ name, belongsTo }: Thing & { name: ThingName }) =>
      belongsTo
        ? // what has two ends belongs to the devices at both
          [[name, belongsTo === 'device' ? ofDevice : Object.fromEntries(belongsTo.map((end) => [end, 'devices']))]]
        : [],
    ),
  ),
};

/** What else may stand before the dot of a filter, and which fields it has: it is no thing of its own. */
export const otherSteps: Partial<Record<ThingName, Record<string, ThingField[]>>> = {
  conversations: { heard: [{ name: 'day', kind: 'date', label: 'Heard on', topic: 'Time', width: 100 }] },
};

/** The thing that changes are told of by a word: `module` of modules. */
export const thingOfWord: ReadonlyMap<string, ThingName> = new Map(
  list.flatMap(({ name, changeWord }: Thing & { name: ThingName }) =>
    changeWord ? [[changeWord, name] as const] : [],
  ),
);

/** Things that are found by a scrap of a name, an address or a serial, those of which there are most last. */
export const foundThings: ThingName[] = thingNames
  .filter((name) => things[name].foundBy)
  .sort((one, other) => Number(things[one].isFoundLast ?? false) - Number(things[other].isFoundLast ?? false));

/** By the name of a field, its headings: things may head the same name otherwise. */
function headings(fields: ThingField[]): Record<string, string[]> {
  const byName: Record<string, string[]> = {};
  for (const { name, label } of fields) {
    const known = (byName[name] ??= []);
    if (label.toLowerCase() !== name.toLowerCase() && !known.includes(label)) known.push(label);
  }
  return byName;
}
