import { runsOnIn } from './graph';
import type { Providers } from './providers';
import { fates, type Rehearsals } from './rehearse';
import { carriersOfAll } from './stoppers';

/** One thing whose loss alone costs others. */
export interface SingleStop {
  thing: number;
  /** of the things asked for, those that would be lost */
  stops: number[];
  /** devices and endpoints that would be lost with it */
  devices: number;
  endpoints: number;
}

/** So many devices behind which others hang are looked at beside what carries the things asked for. */
const mostJoints = 300;

/**
 * What stands alone: each thing whose loss stops one of some others, or parts the network. Every candidate is rehearsed once.
 * What only tells again what is told of the device it is in is left out: a machine beside the device in it, a service beside its device.
 * @param things what is asked for: applications
 * @param isItself of endpoints, those that are devices themselves: they are counted as devices
 */
export function singleStops(
  rehearsals: Rehearsals,
  things: readonly number[],
  providers: Providers,
  isItself: (endpoint: number) => boolean = () => false,
): SingleStop[] {
  const { graph, ways } = rehearsals;
  // without a heart what hangs on it alone is parted too
  const behind = new Map(rehearsals.hearts.map((heart) => [heart, 1]));
  for (let device = 0; device < graph.deviceCount; device++)
    for (let at = ways.nearest[device] ?? -1; at !== -1; at = ways.nearest[at] ?? -1)
      behind.set(at, (behind.get(at) ?? 0) + 1);
  const joints = [...behind]
    .sort((x, y) => y[1] - x[1] || x[0] - y[0])
    .slice(0, mostJoints)
    .map(([device]) => device);
  const asked = new Set(things);
  const candidates = new Set([...carriersOfAll(rehearsals, things, providers), ...joints]);
  const found = [...candidates]
    .filter((one) => !asked.has(one))
    .map((thing): SingleStop => {
      const { fate } = rehearsals.rehearse({ things: [thing], lostAlone: true });
      const found: SingleStop = { thing, stops: [], devices: 0, endpoints: 0 };
      for (let at = 0; at < fate.length; at++) {
        if (fates[fate[at] ?? 0] !== 'lost') continue;
        const kind = graph.things[at]?.kind;
        if (asked.has(at)) found.stops.push(at);
        else if (kind === 'device') found.devices++;
        else if (kind === 'endpoint' && !isItself(at)) found.endpoints++;
      }
      return found;
    })
    .filter(({ stops, devices }) => stops.length > 0 || devices > 0);
  const stopsOf = new Map(found.map(({ thing, stops }) => [thing, new Set(stops)]));
  const inside = new Map(graph.machines.map((one) => [one.machine, one.inside]));
  const runsOn = runsOnIn(graph);
  const toldWith = (thing: number): number => {
    if (graph.things[thing]?.kind === 'machine') return inside.get(thing) ?? -1;
    if (graph.things[thing]?.kind !== 'service') return -1;
    return runsOn.get(thing) ?? -1;
  };
  return found.filter(({ thing, stops }) => {
    const whole = stopsOf.get(toldWith(thing));
    return !whole || !stops.every((one) => whole.has(one));
  });
}
