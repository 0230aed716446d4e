import { formatSpeed } from '../values/quantity';

/** What can be watched. */
export const watchedThings = ['ports', 'endpoints'] as const;
export type WatchedThing = (typeof watchedThings)[number];

type Row = Record<string, unknown>;
const text = (row: Row, field: string): string => String(row[field] ?? '');

/** What a port or an endpoint is called in a line. */
export function watchedName(thing: WatchedThing, row: Row): string {
  if (thing === 'ports')
    return `${text(row, 'device')} ${text(row, 'name')}${text(row, 'alias') && ` (${text(row, 'alias')})`}`;
  return text(row, 'host') || (row.addresses as string[] | undefined)?.[0] || text(row, 'mac');
}

/**
 * What somebody who watches a port or an endpoint wants to be told of between two surveys: its state, speed, duplex, VLAN and who is plugged in; where a machine hangs.
 * @param before null where it was not known, or not heard
 * @param now null where it is not known any more, or not heard
 * @returns in words, one for each; none where nothing changed
 */
export function watchedChanges(thing: WatchedThing, before: Row | null, now: Row | null): string[] {
  if (!before && !now) return [];
  if (!now)
    return [thing === 'ports' ? 'is not there any more' : `is not heard any more, last ${placeOf(before ?? {})}`];
  if (!before) return [thing === 'ports' ? 'is new' : `is heard, ${placeOf(now)}`];
  return thing === 'ports' ? portChanges(before, now) : endpointChanges(before, now);
}

const placeOf = (row: Row): string =>
  text(row, 'device') ? `on ${text(row, 'device')} port ${text(row, 'port')}` : 'place not known';

function endpointChanges(before: Row, now: Row): string[] {
  const words: string[] = [];
  const moved = (x: Row, y: Row) => x.deviceId !== y.deviceId || text(x, 'port') !== text(y, 'port');
  if (moved(before, now))
    words.push(
      text(now, 'device')
        ? `moved to ${text(now, 'device')} port ${text(now, 'port')}, was ${placeOf(before)}`
        : `its place is not known any more, was ${placeOf(before)}`,
    );
  if (before.vlan !== now.vlan) words.push(`is in VLAN ${number(now.vlan)}, was in ${number(before.vlan)}`);
  const addresses = (row: Row) => ((row.addresses as string[] | undefined) ?? []).join(', ');
  if (addresses(before) !== addresses(now))
    words.push(`has ${addresses(now) || 'no address'}, had ${addresses(before) || 'none'}`);
  return words;
}

const number = (value: unknown): string => (value === null || value === undefined ? 'none' : String(value));

function portChanges(before: Row, now: Row): string[] {
  const words: string[] = [];
  if (before.admin !== now.admin) words.push(now.admin === 'down' ? 'was switched off' : 'was switched on');
  if (before.oper !== now.oper)
    words.push(
      now.oper === 'up'
        ? 'came up'
        : now.oper === 'down'
          ? 'went down'
          : `is ${text(now, 'oper')}, was ${text(before, 'oper')}`,
    );
  // what a port that is down once ran at says nothing
  const both = before.oper === 'up' && now.oper === 'up';
  if (both && before.speedBps !== now.speedBps) words.push(`runs at ${speed(now)}, ran at ${speed(before)}`);
  if (both && before.duplex !== now.duplex)
    words.push(`has ${text(now, 'duplex')} duplex, had ${text(before, 'duplex')}`);
  if (before.vlan !== now.vlan) words.push(`is in VLAN ${number(now.vlan)}, was in ${number(before.vlan)}`);
  if (text(before, 'pluggedIn') !== text(now, 'pluggedIn'))
    words.push(`has ${text(now, 'pluggedIn') || 'nothing'} plugged in, had ${text(before, 'pluggedIn') || 'nothing'}`);
  return words;
}

const speed = (row: Row): string => (Number(row.speedBps) > 0 ? formatSpeed(Number(row.speedBps)) : 'no speed');
