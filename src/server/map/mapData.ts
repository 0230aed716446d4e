import { worksByDevice } from './worksByDevice';
import { carriesVlan } from '../../core/estate/carriesVlan';
import type { DeviceFacts, PortFacts, Role, RouteFacts } from '../../core/estate/facts';
import { everyRow, valueAt } from '../../core/tables/column';
import type { MapData, MapDevice, MapLink } from '../../core/map/mapData';
import type { LinkFacts } from '../../core/topology/links';
import type { Store } from '../../store/base/database';
import { factHistory, factsAsOf } from '../../store/base/facts';
import { device as deviceTable } from '../../store/base/schema';
import { tablesOf } from '../query/tables/estateTables';
import type { MarkedRow, ThingTable } from '../query/tables/thingTable';
import { networkReach } from './networkReach';

/** The map of a survey, compared with another one where that is asked for. @param vlan also tells who carries this VLAN @param network also tells who has to do with this network */
export function mapData(
  store: Store,
  survey: number,
  against: number | null,
  vlan: number | null,
  network: string | null = null,
): MapData {
  const told = tablesOf(store).told('map', survey, () => toldFor(store, survey));
  const reach = network === null ? null : networkReach(store, survey, network);
  const ports = vlan === null ? noPorts : portsByDevice(store, survey);
  const [endpoints, faults] = [tablesOf(store).endpointsByDevice(survey), countedByDevice(store, 'faults', survey)];
  const rows = allRows(store, 'devices', survey, against);
  const works = worksByDevice(
    store,
    rows.map((row) => ({ id: Number(row.id), name: String(row.name) })),
  );
  const devices = rows.map((row): MapDevice => {
    const id = Number(row.id);
    const own = ports.get(id);
    return {
      id,
      name: String(row.name),
      role: row.role as Role,
      site: String(row.site ?? ''),
      state: String(row.state),
      model: String(row.model ?? ''),
      ...(told.routing.has(id) && { routes: true }),
      ...(Array.isArray(row.group) && row.group.length > 0 && { groups: row.group as string[] }),
      ...cutsOf(row),
      ...(reach?.has(id) && { network: reach.get(id) }),
      endpoints: endpoints.get(id) ?? 0,
      faults: faults.get(id) ?? 0,
      root: told.roots.has(id),
      ...(works.has(id) && { works: works.get(id) }),
      ...(row.change ? { change: String(row.change) } : {}),
      ...(vlan !== null && { vlan: own ? [...own.values()].some((port) => carries(port, vlan)) : false }),
    };
  });
  // servers and the like tell of no VLANs on any port: that one is not there says nothing then
  const tellVlans = new Set(
    [...ports].flatMap(([device, own]) =>
      [...own.values()].some(({ vlan: untagged, taggedVlans }) => untagged !== null || taggedVlans.length > 0)
        ? [device]
        : [],
    ),
  );
  // the units of a stack are one device
  const links = (allRows(store, 'links', survey, against) as unknown as (LinkFacts & MarkedRow)[])
    .filter(({ a, b }) => a.deviceId !== b.deviceId)
    .map((row): MapLink => {
      const [a, b] = [ports.get(row.a.deviceId)?.get(row.a.port), ports.get(row.b.deviceId)?.get(row.b.port)];
      const [inA, inB] = [carries(a, vlan), carries(b, vlan)];
      return {
        id: row.id,
        a: { device: row.a.deviceId, port: row.a.port },
        b: { device: row.b.deviceId, port: row.b.port },
        kind: row.kind,
        confidence: row.confidence,
        speedBps: row.speedBps,
        blocked: row.blocked,
        issues: row.issues.map(({ words }) => words),
        members: row.members?.filter((pair) => pair.a !== '').length ?? 0,
        segment: row.segment ?? false,
        ...(row.change ? { change: String(row.change) } : {}),
        ...(told.looksUp.has(placeOf(row.a)) ? { up: 'a' as const } : {}),
        ...(!told.looksUp.has(placeOf(row.a)) && told.looksUp.has(placeOf(row.b)) ? { up: 'b' as const } : {}),
        ...cutsOf(row),
        ...(row.spareLostBy ? { spareLost: String(row.spareLostBy) } : {}),
        ...(vlan !== null && {
          vlan:
            inA && inB
              ? 'both'
              : !inA && !inB
                ? 'none'
                : !tellVlans.has((inA ? row.b : row.a).deviceId)
                  ? 'toldOnce'
                  : inA
                    ? 'a'
                    : 'b',
        }),
      };
    });
  return { survey, against, devices, links, segments: told.segments, ever: told.ever };
}

const noPorts: ReadonlyMap<number, ReadonlyMap<string, PortFacts>> = new Map();
const placeOf = ({ deviceId, port }: { deviceId: number; port: string }) => `${deviceId} ${port}`;

/** What every map of a survey says, whatever it is compared with and whichever VLAN is looked at. */
interface ToldForMaps extends Pick<MapData, 'segments' | 'ever'> {
  /** devices that pass packets on */
  routing: ReadonlySet<number>;
  roots: ReadonlySet<number>;
  looksUp: ReadonlySet<string>;
}

function toldFor(store: Store, survey: number): ToldForMaps {
  const routing = new Set(
    (['route', 'learnedRoute'] as const).flatMap((kind) =>
      factsAsOf<RouteFacts>(store.db, kind, survey).flatMap(({ deviceId, content }) =>
        content.nextHop === null ? [] : [deviceId],
      ),
    ),
  );
  return {
    routing,
    ...spanningTree(tablesOf(store).table('ports', survey, null)),
    segments: unmanagedPorts(store, survey),
    ever: everKnown(store, survey),
  };
}

/** Which bridges are roots: they tell spanning tree and look up on none of their ports; and by which ports the others look up. */
function spanningTree(ports: ThingTable): Pick<ToldForMaps, 'roots' | 'looksUp'> {
  const [roles, names, owners] = [ports.column('stpRole'), ports.column('name'), ports.owners()];
  const looksUp = new Set<string>();
  const told = new Map<number, { ports: number; designated: number }>();
  for (let row = 0; row < ports.size; row++) {
    const role = String(valueAt(roles, row) ?? '');
    if (role === '' || role === 'disabled') continue;
    const deviceId = owners[row] ?? 0;
    const known = told.get(deviceId) ?? { ports: 0, designated: 0 };
    known.ports++;
    if (role === 'designated') known.designated++;
    if (role === 'root') looksUp.add(placeOf({ deviceId, port: String(valueAt(names, row)) }));
    told.set(deviceId, known);
  }
  const roots = [...told].filter(([, { ports: all, designated }]) => all > 1 && all === designated);
  return { roots: new Set(roots.map(([deviceId]) => deviceId)), looksUp };
}

const cutsOf = ({ cutsDevices, cutsEndpoints }: MarkedRow): Pick<MapDevice, 'cuts'> =>
  Number(cutsDevices) > 0 ? { cuts: { devices: Number(cutsDevices), endpoints: Number(cutsEndpoints) } } : {};

/** With those that are gone, where two surveys are compared. */
function allRows(store: Store, name: 'devices' | 'links', survey: number, against: number | null): MarkedRow[] {
  const table = tablesOf(store).table(name, survey, against);
  return table.rows(everyRow(table.size));
}

const carries = (port: PortFacts | undefined, vlan: number | null): boolean =>
  port !== undefined && vlan !== null && carriesVlan(port, vlan);

function portsByDevice(store: Store, survey: number): Map<number, Map<string, PortFacts>> {
  const found = new Map<number, Map<string, PortFacts>>();
  for (const { deviceId, content } of factsAsOf<PortFacts>(store.db, 'port', survey)) {
    const own = found.get(deviceId);
    if (own) own.set(content.name, content);
    else found.set(deviceId, new Map([[content.name, content]]));
  }
  return found;
}

function countedByDevice(store: Store, thing: 'faults', survey: number): Map<number, number> {
  const counts = new Map<number, number>();
  for (const owner of tablesOf(store).table(thing, survey, null).owners())
    if (owner > 0) counts.set(owner, (counts.get(owner) ?? 0) + 1);
  return counts;
}

/** Ports on which several machines hang behind something that nobody asked. */
function unmanagedPorts(store: Store, survey: number): MapData['segments'] {
  const endpoints = tablesOf(store).table('endpoints', survey, null);
  const [vias, ports, owners] = [endpoints.column('via'), endpoints.column('port'), endpoints.owners()];
  const unmanaged = vias.dictionary.find('unmanaged');
  const found = new Map<string, MapData['segments'][number]>();
  if (unmanaged === undefined) return [];
  for (let row = 0; row < endpoints.size; row++) {
    const [device, port] = [owners[row] ?? 0, String(valueAt(ports, row) ?? '')];
    if (vias.codes[row] !== unmanaged || device === 0) continue;
    const known = found.get(`${device} ${port}`) ?? { device, port, machines: 0 };
    known.machines++;
    found.set(`${device} ${port}`, known);
  }
  return [...found.values()];
}

/** Devices and pairs of joined ones that were known at any survey up to this one. */
function everKnown(store: Store, survey: number): MapData['ever'] {
  const since = new Map(
    store.db
      .select({ id: deviceTable.id, firstSurvey: deviceTable.firstSurvey })
      .from(deviceTable)
      .all()
      .map(({ id, firstSurvey }) => [id, firstSurvey]),
  );
  const devices = new Map<number, MapData['ever']['devices'][number]>();
  for (const { deviceId, fromSurvey, content } of factHistory<DeviceFacts>(store.db, 'device')) {
    // as it was when it was found: a name or a role that changes later moves nothing
    if (fromSurvey <= survey && !devices.has(deviceId))
      devices.set(deviceId, {
        id: deviceId,
        name: content.name,
        role: content.role,
        site: content.site,
        since: since.get(deviceId) ?? fromSurvey,
      });
  }
  const joints = new Map<string, MapData['ever']['joints'][number]>();
  for (const {
    fromSurvey,
    content: { a, b },
  } of factHistory<LinkFacts>(store.db, 'link')) {
    const [low, high] = a.deviceId < b.deviceId ? [a.deviceId, b.deviceId] : [b.deviceId, a.deviceId];
    const key = `${low} ${high}`;
    if (fromSurvey <= survey && low !== high && !joints.has(key))
      joints.set(key, { a: low, b: high, since: fromSurvey });
  }
  return { devices: [...devices.values()], joints: [...joints.values()] };
}
