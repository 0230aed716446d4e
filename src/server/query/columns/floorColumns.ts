import { roomAt } from '../../../core/floor/floorPlan';
import { panelWords, portKey, type Outlet } from '../../../core/floor/outlet';
import { constantColumn, valueAt, type Column } from '../../../core/tables/column';
import { Dictionary } from '../../../core/tables/dictionary';
import type { KeptFloorPlan } from '../../../store/floorPlans';
import { sparseColumn } from './addedColumns';
import type { ThingTable } from '../tables/thingTable';

/** Where the wire of a port ends: the outlet, its place on the patch panel, its room. */
export const outletFields = ['outlet', 'panel', 'room'] as const;
export type OutletField = (typeof outletFields)[number];

const said = (field: OutletField, outlet: Outlet): string =>
  field === 'outlet' ? outlet.label : field === 'panel' ? panelWords(outlet) : outlet.room;

/** A field of the outlet that a port is patched to; of an endpoint that at which it hangs. */
export function outletColumn(
  table: ThingTable,
  thing: 'ports' | 'endpoints',
  field: OutletField,
  outlets: readonly Outlet[],
): Column {
  const patched = outlets.filter((outlet) => outlet.port !== null);
  if (patched.length === 0) return constantColumn('', table.size);
  if (thing === 'ports')
    return sparseColumn(
      table,
      new Map(
        patched.map((outlet) => [`${outlet.port?.deviceId ?? 0}:${outlet.port?.name ?? ''}`, said(field, outlet)]),
      ),
      '',
    );
  const byPort = new Map(patched.map((outlet) => [portKey(outlet), said(field, outlet)]));
  const onFloor = new Set(patched.map(({ port }) => port?.deviceId));
  const dictionary = new Dictionary();
  const codes = new Uint32Array(table.size).fill(dictionary.codeOf(''));
  const ports = table.column('port');
  const owners = table.owners();
  for (let row = 0; row < table.size; row++) {
    const deviceId = owners[row] ?? 0;
    if (!onFloor.has(deviceId)) continue;
    const words = byPort.get(portKey({ port: { deviceId, name: String(valueAt(ports, row) ?? '') } }));
    if (words !== undefined) codes[row] = dictionary.codeOf(words);
  }
  return { dictionary, codes };
}

/** In which room each device stands, by its id, as plans have it. */
export function roomsOfDevices(plans: readonly KeptFloorPlan[]): Map<string, string> {
  return new Map(
    plans.flatMap(({ layout: { marks, rooms } }) =>
      marks.flatMap(({ kind, id, at }) => {
        const room = kind === 'device' ? roomAt(at, rooms) : null;
        return room ? [[String(id), room.name] as const] : [];
      }),
    ),
  );
}
