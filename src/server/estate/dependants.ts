import { fates } from '../../core/dependency/rehearse';
import type { LinkEnd, LinkFacts } from '../../core/topology/links';
import { writtenValue } from '../../core/filter/written';
import { valueAt } from '../../core/tables/column';
import type { Store } from '../../store/base/database';
import { inOrder, type LostThing, type NamedThing } from '../dependencies/rehearsal';
import { dependenceAt } from '../dependencies/dependence';
import { tablesOf } from '../query/tables/estateTables';
import type { ThingRow } from '../query/rows/rowBuilder';
import { deviceTerm } from '../query/deviceTerm';

/** What depends on a device: what would be lost if it were down, by everything that is known of who rests on whom. */
export interface DeviceDependants {
  applications: (LostThing & { lost: boolean })[];
  /** those on other devices that ask something of it, the first of them with the reason */
  services: { total: number; first: LostThing[] };
  /** devices that reach the rest of their network only through it, or rest on it otherwise */
  devices: { id: string; name: string }[];
  /** devices that lose a spare with it */
  spared: number;
  /** at its ports and at those of the devices that are lost, and those that it passes on from the air, a hypervisor or a phone, which are heard where it is plugged in; the filter that shows them, empty where it would be too long */
  endpoints: { total: number; where: string };
  /** virtual machines that it and the devices that are lost run, and how many of them start again elsewhere */
  machines: number;
  restarted: number;
}

/** So many services are named. */
const mostServices = 4;

/** A filter names so many devices at most. */
const mostNamed = 12;

/** How endpoints hang on a port where the device that is plugged in passes them on. */
const passedOn = ['wireless', 'virtual', 'phone'];

export function deviceDependants(
  store: Store,
  survey: number,
  deviceId: number,
  links: readonly Pick<LinkFacts, 'a' | 'b'>[],
  machines: readonly ThingRow[],
): DeviceDependants {
  const { prepared, rehearsals, words: wordsOf, numberOf } = dependenceAt(store, survey);
  const at = numberOf({ kind: 'device', id: String(deviceId) });
  const outcome = rehearsals.rehearse({ things: at < 0 ? [] : [at] });
  const words = wordsOf(outcome);
  const lost: LostThing[] = [];
  const spared: LostThing[] = [];
  prepared.things.forEach((thing, place) => {
    const fate = fates[outcome.fate[place] ?? 0];
    const kept = fate === 'lost' ? lost : fate === 'degraded' ? spared : null;
    const isTold = thing.kind === 'application' || (thing.kind === 'service' && fate === 'lost');
    kept?.push({ ...thing, why: isTold ? words.why(place) : '' });
  });
  const of = (list: readonly LostThing[], kind: NamedThing['kind']) =>
    list.filter((one) => one.kind === kind).sort(inOrder);
  const devices = of(lost, 'device').map(({ id, name }) => ({ id, name }));
  const taken = new Set([deviceId, ...devices.map(({ id }) => Number(id))]);
  const elsewhere = of(lost, 'service').filter(({ id }) => !taken.has(Number.parseInt(id, 10)));
  const farEnds = links
    .flatMap(({ a, b }) => (a.deviceId === deviceId ? [b] : b.deviceId === deviceId ? [a] : []))
    .filter((end) => !taken.has(end.deviceId));
  const { total, passing } = endpointsAt(store, survey, taken, farEnds);
  const terms = [
    ...[...taken].map((one) => deviceTerm(store, survey, one)),
    ...farEnds
      .filter((end) => passing.has(placeOf(end.deviceId, end.port)))
      .map(
        (end) =>
          `(${deviceTerm(store, survey, end.deviceId)} port=${writtenValue(end.port)} (${passedOn.map((via) => `via=${via}`).join(' or ')}))`,
      ),
  ];
  const restarted = prepared.machines.filter(({ machine }) => {
    const why = outcome.cause.get(machine);
    return why?.kind === 'restart' && why.on !== null;
  });
  return {
    applications: [
      ...of(lost, 'application').map((one) => ({ ...one, lost: true })),
      ...of(spared, 'application').map((one) => ({ ...one, lost: false })),
    ],
    services: { total: elsewhere.length, first: elsewhere.slice(0, mostServices) },
    devices,
    spared: of(spared, 'device').length,
    endpoints: { total, where: terms.length <= mostNamed ? terms.join(' or ') : '' },
    machines: machines.filter(({ hostId }) => taken.has(Number(hostId ?? 0))).length,
    restarted: restarted.length,
  };
}

const placeOf = (deviceId: number, port: string) => `${deviceId}:${port}`;

/** How many endpoints hang on devices, or are passed on at some far ends, and at which of these. */
function endpointsAt(
  store: Store,
  survey: number,
  taken: ReadonlySet<number>,
  farEnds: readonly LinkEnd[],
): { total: number; passing: Set<string> } {
  const table = tablesOf(store).table('endpoints', survey, null);
  const [ports, ways] = [table.column('port'), table.column('via')];
  const far = new Set(farEnds.map(({ deviceId }) => deviceId));
  const farPorts = new Set(farEnds.map(({ deviceId, port }) => placeOf(deviceId, port)));
  const passing = new Set<string>();
  let total = 0;
  const owners = table.owners();
  for (let row = 0; row < owners.length; row++) {
    const owner = owners[row] ?? 0;
    if (taken.has(owner)) total++;
    if (!far.has(owner) || !passedOn.includes(String(valueAt(ways, row)))) continue;
    const place = placeOf(owner, String(valueAt(ports, row)));
    if (!farPorts.has(place)) continue;
    passing.add(place);
    total++;
  }
  return { total, passing };
}
