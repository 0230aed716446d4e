import { dependantsOf, type Joint } from '../../core/topology/dependants';
import type { LinkFacts } from '../../core/topology/links';
import { writtenValue } from '../../core/filter/completion';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/database';
import { tablesOf } from '../tables/estateTables';
import type { ThingRow } from './asked';
import { thingRow } from './query';

/** What depends on a device, as far as links and places of endpoints tell. */
export interface DeviceDependants {
  /** devices that reach the rest of the network only through it */
  devices: { id: string; name: string }[];
  /** direct neighbours that keep another way */
  spared: number;
  /** at its ports and at those of the devices that are cut off; the filter that shows them, empty where it would be too long */
  endpoints: { total: number; where: string };
  /** virtual machines that it and the devices that are cut off run */
  machines: number;
}

/** A filter names so many devices at most. */
const mostNamed = 12;

export function deviceDependants(store: Store, survey: number, deviceId: number, name: string, links: readonly Pick<LinkFacts, 'a' | 'b'>[], machines: readonly ThingRow[]): DeviceDependants {
  const { cutOff, spared } = dependantsOf(deviceId, links.map(({ a, b }): Joint => ({ a: a.deviceId, b: b.deviceId })));
  const devices = cutOff
    .map((id) => ({ id: String(id), name: String(thingRow(store, 'devices', survey, null, String(id))?.name ?? '') }))
    .sort((x, y) => compareNaturally(x.name, y.name));
  const taken = new Set([deviceId, ...cutOff]);
  const names = new Set([name, ...devices.map((device) => device.name)]);
  let total = 0;
  for (const owner of tablesOf(store).table('endpoints', survey, null).owners()) if (taken.has(owner)) total++;
  return {
    devices, spared: spared.length,
    endpoints: { total, where: names.size <= mostNamed ? [...names].map((one) => `device=${writtenValue(one)}`).join(' or ') : '' },
    machines: machines.filter(({ host }) => names.has(String(host))).length,
  };
}
