import type { FileMistake } from '../values/fileMistake';
import { outletKey, outletMistakes, panelKey, portKey, sameOutlet, type Outlet } from './outlet';

/** What a file makes of one outlet; `before` null where it is new. */
export interface OutletChange {
  before: Outlet | null;
  after: Outlet;
}

export interface OutletPlan {
  /** outlets the file names */
  outlets: number;
  /** those that are new or become other than they are */
  changes: OutletChange[];
  passedOver: string[];
  mistakes: FileMistake[];
}

/** Which device is meant by a name, and whether it has a port of a name. */
export type PortLookup = (device: string, port: string) => { deviceId: number; name: string } | 'no device' | 'no port';

const mostMistakes = 200;

type Column = Exclude<keyof Outlet, 'port'> | 'device' | 'port';
export const outletHeadings: Record<Column, string[]> = {
  site: ['site'],
  label: ['outlet', 'label', 'socket'],
  room: ['room'],
  panel: ['panel', 'patch panel'],
  position: ['position', 'place', 'panel position'],
  device: ['device', 'switch'],
  port: ['port', 'switch port'],
  note: ['note', 'notes'],
};
const needed: Column[] = ['site', 'label'];

/**
 * What a table of outlets comes to, a line for each. An outlet that is named becomes what the file says of it: what it leaves empty is empty then, and a column it does not have
 * stays as it is. Outlets that are not named stay. Nothing is taken if anything is wrong, two outlets at one port or one place of a panel included.
 */
export function planOutlets(
  head: string[],
  lines: { line: number; cells: string[] }[],
  known: readonly Outlet[],
  lookUp: PortLookup,
): OutletPlan {
  const mistakes: FileMistake[] = [];
  const add = (line: number, column: string, message: string) =>
    void (mistakes.length < mostMistakes && mistakes.push({ line, column, message }));
  const names = head.map((name) => name.trim());
  const columns = names.map(
    (name) =>
      (Object.keys(outletHeadings) as Column[]).find((column) => outletHeadings[column].includes(name.toLowerCase())) ??
      null,
  );
  const passedOver = names.filter((name, at) => columns[at] === null && name !== '');
  for (const column of needed)
    if (!columns.includes(column)) add(1, '', `No column “${outletHeadings[column][0] ?? ''}”`);
  columns.forEach((column, at) => {
    if (column && columns.indexOf(column) !== at)
      add(1, names[at] ?? '', `says the same as “${names[columns.indexOf(column)] ?? ''}”: one of them is enough`);
  });
  if (mistakes.length > 0) return { outlets: 0, changes: [], passedOver, mistakes };

  const byKey = new Map(known.map((outlet) => [outletKey(outlet), outlet]));
  const named = new Map<string, { line: number; outlet: Outlet }>();
  const heading = (column: Column) => names[columns.indexOf(column)] ?? column;
  for (const { line, cells } of lines) {
    if (cells.length > names.length) {
      add(line, '', `has ${cells.length} cells, the head has ${names.length}`);
      continue;
    }
    const cell = (column: Column) => (columns.includes(column) ? (cells[columns.indexOf(column)] ?? '').trim() : null);
    const before = byKey.get(outletKey({ site: cell('site') ?? '', label: cell('label') ?? '' }));
    const text = (column: Exclude<keyof Outlet, 'port'>) => cell(column) ?? before?.[column] ?? '';
    const [device, port] = [cell('device'), cell('port')];
    let patched = before?.port ?? null;
    if (device !== null || port !== null) {
      const found = patchedTo(device ?? '', port ?? '', lookUp);
      if (found !== null && 'mistake' in found) add(line, heading(found.column), found.mistake);
      else patched = found;
    }
    const outlet: Outlet = {
      site: text('site'),
      label: text('label'),
      room: text('room'),
      panel: text('panel'),
      position: text('position'),
      note: text('note'),
      port: patched,
    };
    for (const { field, message } of outletMistakes(outlet)) add(line, heading(field), message);
    const key = outletKey(outlet);
    const twice = named.get(key);
    if (twice) add(line, heading('label'), `${outlet.label} of ${outlet.site} is in line ${twice.line} already`);
    else named.set(key, { line, outlet });
  }
  // what the file makes, and what stays beside it, may not share what only one can have
  const stays = known.filter((outlet) => !named.has(outletKey(outlet))).map((outlet) => ({ line: 0, outlet }));
  for (const [keyOf, column, words] of [
    [panelKey, 'position', 'that place of the panel'],
    [portKey, 'port', 'that port'],
  ] as const) {
    const taken = new Map<string, { line: number; outlet: Outlet }>();
    for (const one of [...stays, ...named.values()]) {
      const key = keyOf(one.outlet);
      if (key === '') continue;
      const other = taken.get(key);
      if (other)
        add(
          one.line,
          heading(column),
          `${words} is ${other.line === 0 ? `${other.outlet.label}’s already` : `${other.outlet.label}’s, in line ${other.line}`}`,
        );
      else taken.set(key, one);
    }
  }
  const changes = [...named.values()].flatMap(({ outlet }): OutletChange[] => {
    const before = byKey.get(outletKey(outlet)) ?? null;
    return before === null || !sameOutlet(before, outlet) ? [{ before, after: outlet }] : [];
  });
  return {
    outlets: named.size,
    changes: mistakes.length > 0 ? [] : changes,
    passedOver,
    mistakes: mistakes.sort((x, y) => x.line - y.line),
  };
}

function patchedTo(
  device: string,
  port: string,
  lookUp: PortLookup,
): Outlet['port'] | { column: Column; mistake: string } {
  if (device === '' && port === '') return null;
  if (device === '') return { column: 'device', mistake: `does not say on which device port ${port} is` };
  if (port === '') return { column: 'port', mistake: `does not say which port of ${device}` };
  const found = lookUp(device, port);
  if (found === 'no device') return { column: 'device', mistake: `no survey knows a device “${device}”` };
  if (found === 'no port') return { column: 'port', mistake: `${device} has no port “${port}”` };
  return found;
}
