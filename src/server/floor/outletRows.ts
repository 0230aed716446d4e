import { panelWords } from '../../core/floor/outlet';
import type { PortLookup } from '../../core/floor/planOutlets';
import type { Store } from '../../store/base/database';
import { readOutlets, type KeptOutlet } from '../../store/outlets';
import { tablesOf } from '../query/tables/estateTables';
import { thingRow, thingRows } from '../query/query';

/** An outlet with what is at the other end of its wire, as of a survey. */
export interface OutletRow extends KeptOutlet {
  /** panel and place in one word */
  way: string;
  device: string;
  /** state of the port, and who is plugged in; empty where it is patched to nothing, or the port is not there any more */
  admin: string;
  oper: string;
  duplex: string;
  pluggedIn: string;
}

/** Outlets as they stand now, with ports as of a survey. */
export function outletRows(store: Store, survey: number, ids: number[] | null): OutletRow[] {
  const wanted = ids === null ? null : new Set(ids);
  const outlets = readOutlets(store.db).filter(({ id }) => wanted === null || wanted.has(id));
  const ports = new Map<number, Map<string, Record<string, unknown>>>();
  const portsOf = (deviceId: number) => {
    let known = ports.get(deviceId);
    if (!known)
      ports.set(
        deviceId,
        (known = new Map(
          (survey === 0 ? [] : tablesOf(store).ofDevice('ports', survey, deviceId)).map((row) => [
            String(row.name),
            row,
          ]),
        )),
      );
    return known;
  };
  return outlets.map((outlet) => {
    const { port } = outlet;
    const row = port ? portsOf(port.deviceId).get(port.name) : undefined;
    const text = (field: string) => String(row?.[field] ?? '');
    const device = port
      ? text('device') ||
        String(survey === 0 ? '' : (thingRow(store, 'devices', survey, null, String(port.deviceId))?.name ?? ''))
      : '';
    return {
      ...outlet,
      way: panelWords(outlet),
      device: device || (port ? `device ${port.deviceId}` : ''),
      admin: text('admin'),
      oper: text('oper'),
      duplex: text('duplex'),
      pluggedIn: text('pluggedIn'),
    };
  });
}

/** Which port is meant by the names of a device and of a port, as of a survey. */
export function portLookup(store: Store, survey: number): PortLookup {
  const devices = new Map(
    (survey === 0 ? [] : thingRows(store, 'devices', survey, null)).map((row) => [
      String(row.name).toLowerCase(),
      Number(row.id),
    ]),
  );
  const ports = new Map<number, Map<string, string>>();
  return (device, port) => {
    const deviceId = devices.get(device.toLowerCase());
    if (deviceId === undefined) return 'no device';
    let names = ports.get(deviceId);
    if (!names)
      ports.set(
        deviceId,
        (names = new Map(
          tablesOf(store)
            .ofDevice('ports', survey, deviceId)
            .map((row) => [String(row.name).toLowerCase(), String(row.name)]),
        )),
      );
    const name = names.get(port.toLowerCase());
    return name === undefined ? 'no port' : { deviceId, name };
  };
}

export const findPortNamed = (store: Store, survey: number, device: string, port: string): ReturnType<PortLookup> =>
  portLookup(store, survey)(device, port);
