import { judgeAct, type Hanging, type Verdict } from '../../core/acting/portGuard';
import type { PortAct } from '../../core/acting/portAct';
import type { PortKind, Role } from '../../core/estate/facts';
import { passesThrough } from '../../core/switching/uplinks';
import { cutOffWithout, networkOf } from '../../core/dependency/network';
import { nothingAway } from '../../core/dependency/cabling';
import { valueAt } from '../../core/tables/column';
import type { LinkFacts } from '../../core/topology/links';
import { latestSealed } from '../../store/base/sealedSurveys';
import type { Store } from '../../store/base/database';
import { tablesOf } from '../query/tables/estateTables';
import type { MarkedRow } from '../query/tables/thingTable';
import { thingRow, thingRows } from '../query/query';

/** A port as it was in the newest survey, what hangs on it, and what that means for an act. */
export interface HangingThere extends Hanging {
  deviceId: number;
  device: string;
  port: string;
  alias: string;
}

/** @param id of the port: `12:1/0/3` @returns null where there is no such port */
export function hangingAt(store: Store, id: string): HangingThere | null {
  const survey = latestSealed(store.db);
  const row = survey === 0 ? undefined : thingRow(store, 'ports', survey, null, id);
  if (!row) return null;
  const deviceId = Number(row.deviceId);
  const [device, port, lag] = [String(row.device), String(row.name), row.lag === null ? null : String(row.lag)];
  const links = thingRows(store, 'links', survey, null) as unknown as (Pick<LinkFacts, 'a' | 'b'> & MarkedRow)[];
  const here = new Set([port, ...(lag === null ? [] : [lag])]);
  const atPort = links.flatMap(({ a, b }) =>
    a.deviceId === deviceId && here.has(a.port) ? [b] : b.deviceId === deviceId && here.has(b.port) ? [a] : [],
  );
  const neighbour = row.neighbour as { device: string; port: string } | null;
  const far = atPort[0];
  // the others of a bundle keep the way
  const cutOff = far === undefined || lag !== null ? [] : cutOffAt(store, survey, links, deviceId, port);
  const nameOf = (of: number) => thingRow(store, 'devices', survey, null, String(of));
  return {
    deviceId,
    device,
    port,
    alias: String(row.alias),
    kind: row.kind as PortKind,
    lag,
    far: far
      ? { device: far.device, port: far.port, passesOn: passesThrough.has(String(nameOf(far.deviceId)?.role) as Role) }
      : neighbour
        ? { ...neighbour, passesOn: false }
        : null,
    guests: (row.endpoints as { mac: string; host: string; address: string }[]).map(
      ({ mac, host, address }) => host || address || mac,
    ),
    cutOff: cutOff.map((of) => String(nameOf(of)?.name ?? '')).filter(Boolean),
    behind: cutOff.length === 0 ? 0 : endpointsOn(store, survey, new Set(cutOff)),
  };
}

/** The devices that reach the rest of their network over one port alone. */
function cutOffAt(
  store: Store,
  survey: number,
  links: readonly Pick<LinkFacts, 'a' | 'b'>[],
  deviceId: number,
  port: string,
): number[] {
  const devices = tablesOf(store).table('devices', survey, null);
  const roles = devices.column('role');
  const { cabling, ids, linkOf } = networkOf(
    Array.from(devices.keys(), (id, row) => ({ id: Number(id), role: valueAt(roles, row) as Role })),
    links.map(({ a, b }) => ({ a: a.deviceId, b: b.deviceId })),
  );
  const away = nothingAway(cabling);
  linkOf.forEach((at, cable) => {
    const link = links[at];
    if ([link?.a, link?.b].some((end) => end?.deviceId === deviceId && end.port === port)) away.cables[cable] = 1;
  });
  return cutOffWithout(cabling, away).map((place) => ids[place] ?? 0);
}

function endpointsOn(store: Store, survey: number, devices: ReadonlySet<number>): number {
  const owners = tablesOf(store).table('endpoints', survey, null).owners();
  let count = 0;
  for (let row = 0; row < owners.length; row++) if (devices.has(owners[row] ?? 0)) count++;
  return count;
}

export const verdictOn = (act: PortAct, there: HangingThere): Verdict =>
  judgeAct(act, there, `${there.device} ${there.port}`);
