import { dependantsOf } from '../../core/topology/dependants';
import type { Joint } from '../../core/topology/joints';
import type { LinkEnd, LinkFacts } from '../../core/topology/links';
import { writtenValue } from '../../core/filter/written';
import { valueAt } from '../../core/tables/column';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/base/database';
import { tablesOf } from '../query/tables/estateTables';
import type { ThingRow } from '../query/rows/rowBuilder';
import { deviceTerm } from '../query/deviceTerm';
import { thingRow } from '../query/query';

/** What depends on a device, as far as links and places of endpoints tell. */
export interface DeviceDependants {
  /** devices that reach the rest of the network only through it */
  devices: { id: string; name: string }[];
  /** direct neighbours that keep another way */
  spared: number;
  /** at its ports and at those of the devices that are cut off, and those that it passes on from the air, a hypervisor or a phone, which are heard where it is plugged in; the filter that shows them, empty where it would be too long */
  endpoints: { total: number; where: string };
  /** virtual machines that it and the devices that are cut off run */
  machines: number;
}

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
  const { cutOff, spared } = dependantsOf(
    deviceId,
    links.map(({ a, b }): Joint => ({ a: a.deviceId, b: b.deviceId })),
  );
  const devices = cutOff
    .map((id) => ({ id: String(id), name: String(thingRow(store, 'devices', survey, null, String(id))?.name ?? '') }))
    .sort((x, y) => compareNaturally(x.name, y.name));
  const taken = new Set([deviceId, ...cutOff]);
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
  return {
    devices,
    spared: spared.length,
    endpoints: { total, where: terms.length <= mostNamed ? terms.join(' or ') : '' },
    machines: machines.filter(({ hostId }) => taken.has(Number(hostId ?? 0))).length,
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
