import { worstCover, type Cover, type CoverIndex } from '../../../core/cover/cover';
import { valueAt, type Column } from '../../../core/tables/column';
import { Dictionary } from '../../../core/tables/dictionary';
import type { ThingRow } from '../rows/rowBuilder';
import { RowsTable, type ThingTable } from '../tables/thingTable';

export const coverFields = ['cover', 'coverUntil', 'coveredBy'] as const;
export type CoverField = (typeof coverFields)[number];

/** What a field says of a cover; of a row without serial nothing. */
const said = (field: CoverField, cover: Cover | null): unknown => {
  switch (field) {
    case 'cover':
      return cover?.state ?? '';
    case 'coverUntil':
      return cover?.until ?? '';
    case 'coveredBy':
      return cover?.by.map(({ number }) => number) ?? [];
  }
};

/** A field of cover for all rows, whose covers are told one by one. */
export function coverColumn(size: number, field: CoverField, coverOf: (row: number) => Cover | null): Column {
  const dictionary = new Dictionary();
  const codes = new Uint32Array(size);
  // few covers, many rows
  const known = new Map<Cover | null, number>();
  for (let row = 0; row < size; row++) {
    const cover = coverOf(row);
    let code = known.get(cover);
    if (code === undefined) known.set(cover, (code = dictionary.codeOf(said(field, cover))));
    codes[row] = code;
  }
  return { dictionary, codes };
}

/** Cover by row of devices: that of its serial, or of several units the worst. */
export function deviceCovers(devices: ThingTable, index: CoverIndex): (row: number) => Cover | null {
  const [serials, units] = [devices.column('serial'), devices.column('units')];
  return (row) => {
    const own = String(valueAt(serials, row) ?? '');
    const list = [
      ...new Set([own, ...((valueAt(units, row) as { serial: string }[] | null) ?? []).map(({ serial }) => serial)]),
    ].filter(Boolean);
    return list.length === 0 ? null : worstCover(list.map((serial) => index.ofSerial(serial)));
  };
}

/** Serials of the chassis that hold each part of each device, by device and path. */
export class ChassisOf {
  readonly #chassis = new Map<number, { path: string; serial: string }[]>();

  constructor(
    modules: ThingTable,
    readonly deviceSerial: (deviceId: number) => string,
  ) {
    const [paths, classes, serials] = [modules.column('path'), modules.column('class'), modules.column('serial')];
    const chassis = classes.dictionary.find('chassis');
    const owners = modules.owners();
    for (let row = 0; row < modules.size; row++) {
      if (classes.codes[row] !== chassis) continue;
      const serial = String(valueAt(serials, row) ?? '');
      if (serial === '') continue;
      const owner = owners[row] ?? 0;
      const list = this.#chassis.get(owner);
      const one = { path: `${String(valueAt(paths, row))} / `, serial };
      if (list) list.push(one);
      else this.#chassis.set(owner, [one]);
    }
  }

  /** Those that hold a part, the nearest first; of a device that tells no chassis its own serial. */
  holding(deviceId: number, path: string): string[] {
    const list = this.#chassis.get(deviceId);
    if (!list) return [this.deviceSerial(deviceId)].filter(Boolean);
    return list
      .filter((one) => path.startsWith(one.path))
      .sort((x, y) => y.path.length - x.path.length)
      .map(({ serial }) => serial);
  }
}

/** Cover by row of a table of parts: what has no serial has none. */
export function partCovers(
  table: ThingTable,
  index: CoverIndex,
  places: { path: string; held?: (row: number) => boolean },
  chassis: () => ChassisOf,
): (row: number) => Cover | null {
  const [serials, paths] = [table.column('serial'), table.column(places.path)];
  const owners = table.owners();
  const named = index.contracts.length > 0;
  const held = named ? chassis() : null;
  return (row) => {
    const serial = String(valueAt(serials, row) ?? '');
    if (serial === '') return null;
    if (!held || (places.held && !places.held(row))) return index.ofSerial(serial);
    return index.ofPart(serial, held.holding(owners[row] ?? 0, String(valueAt(paths, row) ?? '')));
  };
}

/** Parts of one device as rows, with what covers each. */
export function rowsWithCover(
  rows: ThingRow[],
  index: CoverIndex,
  deviceSerial: (deviceId: number) => string,
): ThingRow[] {
  const table = new RowsTable(rows);
  const coverOf = partCovers(table, index, { path: 'path' }, () => new ChassisOf(table, deviceSerial));
  return rows.map((row, at) => ({
    ...row,
    ...Object.fromEntries(coverFields.map((field) => [field, said(field, coverOf(at))])),
  }));
}
