import { term } from '../../core/things/near';
import { valueAt } from '../../core/tables/column';
import type { Store } from '../../store/base/database';
import { tablesOf } from './tables/estateTables';
import type { ThingTable } from './tables/thingTable';

const known = new WeakMap<ThingTable, ReadonlySet<string>>();

/** A filter of the parts of one device: by its name, as people write it; by its number where another device has the name too. */
export function deviceTerm(store: Store, survey: number, deviceId: number): string {
  const devices = tablesOf(store).table('devices', survey, null);
  const row = devices.rowOf(String(deviceId));
  const name = row < 0 ? '' : String(valueAt(devices.column('name'), row) ?? '');
  return name === '' || namesakes(devices).has(name) ? term('device.id', deviceId) : term('device', name);
}

/** Names that several devices have. */
function namesakes(devices: ThingTable): ReadonlySet<string> {
  let names = known.get(devices);
  if (names) return names;
  const { dictionary, codes } = devices.column('name');
  const counts = new Uint32Array(dictionary.values.length);
  for (const code of codes) counts[code] = (counts[code] ?? 0) + 1;
  names = new Set(dictionary.values.flatMap((value, code) => ((counts[code] ?? 0) > 1 ? [String(value)] : [])));
  known.set(devices, names);
  return names;
}
