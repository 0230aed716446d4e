import type { AddressFacts, DeviceFacts, PortFacts, RouteFacts } from '../../core/estate/facts';
import { routesNotRead } from '../../core/estate/interpretRouting';
import { valueAt } from '../../core/tables/column';
import type { LinkFacts } from '../../core/topology/links';
import { BridgedWays } from '../../core/trace/layer2';
import { RoutedWays } from '../../core/trace/layer3';
import { trace, type Trace } from '../../core/trace/trace';
import { parsePrefix, prefixContains } from '../../core/values/ipAddress';
import { macNumber } from '../../core/values/mac';
import { heardReader } from '../../store/sightings';
import { latestSealed } from '../../store/base/sealedSurveys';
import type { Store } from '../../store/base/database';
import { byDevice, factsAsOf } from '../../store/base/facts';
import { latestVolatile } from '../../store/base/volatileValues';
import { tablesOf } from '../query/tables/estateTables';
import { EndMistake, TraceEnds } from './traceEnds';

export type TraceAnswer = Trace | { mistakes: { path: 'from' | 'to'; message: string }[] };

/** From one end to another as of a survey: over which ports, VLANs and routes. Mistakes where an end is none. */
export function traceBetween(store: Store, survey: number, from: string, to: string): TraceAnswer {
  const ends = new TraceEnds(store, survey);
  const mistakes: { path: 'from' | 'to'; message: string }[] = [];
  const find = (path: 'from' | 'to', text: string) => {
    try {
      return ends.find(text);
    } catch (error) {
      if (!(error instanceof EndMistake)) throw error;
      mistakes.push({ path, message: error.message });
      return null;
    }
  };
  const [start, end] = [find('from', from), find('to', to)];
  if (!start || !end) return { mistakes };
  const { db } = store;
  const devices = new Map(
    factsAsOf<DeviceFacts>(db, 'device', survey).map(({ deviceId, content }) => [deviceId, content]),
  );
  const nameOf = (deviceId: number) => devices.get(deviceId)?.name ?? '';
  const addresses = byDevice(factsAsOf<AddressFacts>(db, 'address', survey));
  const routes = byDevice([
    ...factsAsOf<RouteFacts>(db, 'route', survey),
    ...factsAsOf<RouteFacts>(db, 'learnedRoute', survey),
  ]);
  const volatile = latestVolatile(db, survey);
  return trace(start, end, {
    nameOf,
    bridged: new BridgedWays({
      links: factsAsOf<LinkFacts>(db, 'link', survey).map(({ content }) => content),
      nameOf,
      roleOf: (deviceId) => devices.get(deviceId)?.role,
      portOf: portsReader(store, survey),
    }),
    routed: new RoutedWays(
      [...devices].map(([deviceId, { name }]) => ({
        deviceId,
        name,
        addresses: addresses.get(deviceId) ?? [],
        routes: routes.get(deviceId) ?? [],
        unread: volatile.get(deviceId)?.routeCounts?.[routesNotRead] ?? 0,
      })),
    ),
    vlanOf: (network) => vlanOf(store, survey, network),
    listedAt: listedAt(store, survey),
  });
}

/** Ports of a device are read when the way comes by it. */
function portsReader({ db }: Store, survey: number): (deviceId: number, port: string) => PortFacts | undefined {
  const known = new Map<number, Map<string, PortFacts>>();
  return (deviceId, port) => {
    let own = known.get(deviceId);
    if (!own)
      known.set(
        deviceId,
        (own = new Map(
          factsAsOf<PortFacts>(db, 'port', survey, [deviceId]).map(({ content }) => [content.name, content]),
        )),
      );
    return own.get(port);
  };
}

/** The VLAN in which most machines of a network are heard. */
function vlanOf(store: Store, survey: number, network: string): number | null {
  const endpoints = tablesOf(store).table('endpoints', survey, null);
  const [addresses, vlans] = [endpoints.column('addresses'), endpoints.column('vlan')];
  const prefix = parsePrefix(network);
  const lies = new Map<number, boolean>();
  const counts = new Map<number, number>();
  for (let row = 0; row < endpoints.size; row++) {
    const code = addresses.codes[row] ?? 0;
    let there = lies.get(code);
    if (there === undefined)
      lies.set(
        code,
        (there = (valueAt(addresses, row) as string[]).some(
          (address) => address.includes(':') === network.includes(':') && prefixContains(prefix, address),
        )),
      );
    const vlan = there ? valueAt(vlans, row) : null;
    if (typeof vlan === 'number') counts.set(vlan, (counts.get(vlan) ?? 0) + 1);
  }
  return [...counts].sort((x, y) => y[1] - x[1] || x[0] - y[0])[0]?.[0] ?? null;
}

/** Forwarding tables are not kept of earlier surveys. */
function listedAt({ db }: Store, survey: number): (deviceId: number, mac: string) => string | null {
  if (survey !== latestSealed(db)) return () => null;
  const read = heardReader(db);
  return (deviceId, mac) => {
    const { macs, portPlaces, ports } = read(deviceId);
    const at = macs.indexOf(macNumber(mac) ?? -1);
    return at < 0 ? null : (ports[portPlaces[at] ?? 0] ?? null);
  };
}
