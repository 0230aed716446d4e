import type { DeviceFacts } from '../core/estate/facts';
import { compileFilter } from '../core/filter/predicate';
import { FilterError } from '../core/filter/filterNode';
import { parseFilter } from '../core/filter/syntax';
import { withGroupsWrittenOut } from '../core/groups/group';
import { asThingField } from '../core/own/ownField';
import { things } from '../core/things/things';
import type { Db } from './base/database';
import { factsAsOf } from './base/facts';
import { readGroups } from './groups';
import { readOwnFields } from './ownFields';
import { ownValuesOf } from './ownValues';

/** What a device is, not how it fares: such a filter is looked at before anybody is asked. */
const rulable = new Set<string>([
  'name',
  'site',
  'role',
  'vendor',
  'family',
  'model',
  'serial',
  'release',
  'bootRelease',
  'address',
  'addresses',
  'objectId',
  'description',
  'contact',
  'location',
  'memoryBytes',
  'flashBytes',
] satisfies (keyof DeviceFacts)[]);
const fields = things.devices.fields.filter(({ name }) => rulable.has(name));

/** Which devices a filter means, by the facts that are kept of them, what people wrote of them, and their groups: for where no table is at hand. @throws FilterError */
export function deviceFilter(db: Db, where: string): (deviceId: number, device: DeviceFacts) => boolean {
  const own = readOwnFields(db).filter(({ thing }) => thing === 'devices');
  const test = compileFilter<Record<string, unknown>>(withGroupsWrittenOut(parseFilter(where), readGroups(db)), [
    ...fields,
    ...own.map(asThingField),
    { name: 'id', kind: 'text' },
  ]);
  const values = own.map(({ name }) => [name, ownValuesOf(db, 'devices', name)] as const);
  return (deviceId, device) =>
    test({
      ...device,
      id: String(deviceId),
      ...Object.fromEntries(values.map(([name, byId]) => [name, byId.get(String(deviceId)) ?? null])),
    });
}

/** Why a group cannot be what a target is for, or a scope asks: it asks for what only tables know. Null where it can. */
export function groupFilterMistake(db: Db, group: string): string | null {
  try {
    deviceFilter(db, `group="${group}"`);
    return null;
  } catch (error) {
    if (!(error instanceof FilterError)) throw error;
    return `“${group}” cannot be asked for here: ${error.message}. What a device is may be asked for, not how it fares nor what its parts are`;
  }
}

/** The addresses of the devices in a group, as the newest survey knows them; none where the group cannot be read. */
export function addressesOfGroup(db: Db, group: string): Set<string> {
  let isIn: ReturnType<typeof deviceFilter>;
  try {
    isIn = deviceFilter(db, `group="${group}"`);
  } catch (error) {
    if (!(error instanceof FilterError)) throw error;
    return new Set();
  }
  const latest =
    db.$client
      .prepare<[], { id: number }>('select coalesce(max(id), 0) as id from survey where sealed_at is not null')
      .get()?.id ?? 0;
  return new Set(
    factsAsOf<DeviceFacts>(db, 'device', latest).flatMap(({ deviceId, content }) =>
      isIn(deviceId, content) ? [content.address, ...content.addresses] : [],
    ),
  );
}
