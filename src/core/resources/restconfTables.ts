import type { ActiveAlarm } from '../mib/alarm';
import type { Bridge, ForwardingRow, VlanRow } from '../mib/bridge';
import type { RouteProtocol, RouteRow } from '../mib/routes';
import { addressOrNull } from '../values/ipAddress';
import { isEmptyMac, isGroupMac, parseMac } from '../values/mac';
import { listAt, numberAt, objectAt, textAt, type Json } from './json';

/** Identities of ietf-routing (RFC 8349) and the modules that extend it. */
const protocols: Record<string, RouteProtocol> = {
  direct: 'local',
  static: 'static',
  ospfv2: 'ospf',
  ospfv3: 'ospf',
  ospf: 'ospf',
  bgp: 'bgp',
  isis: 'is-is',
  ripv2: 'rip',
  ripng: 'rip',
};
const withoutModule = (text: string) => text.split(':').at(-1) ?? '';

/** A leaf by its name, whichever module it stands under. */
const leaf = (item: Json, name: string): string =>
  Object.entries(objectAt(item) ?? {})
    .filter(([key]) => withoutModule(key) === name)
    .map(([key]) => textAt(item, key))
    .find(Boolean) ?? '';

/** Active routes of all tables (RIBs) of ietf-routing, each once. Those that lead nowhere (special-next-hop) are left out. */
export function routesOfModel(routing: Json, numbers: ReadonlyMap<string, number>): RouteRow[] {
  const found = new Map<string, RouteRow>();
  for (const rib of listAt(routing, 'ribs', 'rib'))
    for (const route of listAt(rib, 'routes', 'route')) {
      const destination = leaf(route, 'destination-prefix');
      if (!/^[0-9a-f.:]+\/\d+$/i.test(destination)) continue;
      const hop = objectAt(route, 'next-hop') ?? null;
      const several = listAt(hop, 'next-hop-list', 'next-hop');
      for (const one of several.length > 0 ? several : [hop]) {
        const port = leaf(one, 'outgoing-interface');
        const address = addressOrNull(leaf(one, 'next-hop-address') || leaf(one, 'address'));
        if (port === '' && address === null) continue;
        const row: RouteRow = {
          destination,
          nextHop: address,
          ifIndex: numbers.get(port) ?? 0,
          protocol: protocols[withoutModule(textAt(route, 'source-protocol'))] ?? 'other',
        };
        found.set(`${row.destination} ${row.nextHop ?? ''} ${row.ifIndex}`, row);
      }
    }
  return [...found.values()];
}

/** Alarms of ietf-alarms (RFC 8632) that are not cleared. */
export const alarmsOfModel = (alarms: Json): ActiveAlarm[] =>
  listAt(alarms, 'alarm-list', 'alarm').flatMap((alarm) => {
    const since = Date.parse(textAt(alarm, 'last-raised') || textAt(alarm, 'time-created'));
    if (objectAt(alarm)?.['is-cleared'] === true) return [];
    // an instance identifier names what it is about by its last key
    const resource = textAt(alarm, 'resource');
    const named = /\[[^\]]*=["']([^"']+)["']\]$/.exec(resource)?.[1] ?? resource;
    return [
      {
        resource: named,
        words: textAt(alarm, 'alarm-text') || withoutModule(textAt(alarm, 'alarm-type-id')) || 'an alarm without words',
        since: Number.isNaN(since) ? null : new Date(since).toISOString(),
      },
    ];
  });

/**
 * The first bridge of ieee802-dot1q-bridge (IEEE 802.1Qcp), and of it the first component: VLANs with their ports by name, PVIDs from the interfaces, and machines where the map of an entry
 * names ports. Null where there is none.
 * @param numbers name of an interface → its number, which is that of the bridge port too
 */
export function bridgeOfModel(bridges: Json, interfaces: Json[], numbers: ReadonlyMap<string, number>): Bridge | null {
  const bridge = listAt(bridges, 'bridge')[0];
  const component = listAt(bridge ?? null, 'component')[0];
  if (bridge === undefined || component === undefined) return null;
  const mac = parseMac(textAt(bridge, 'address') || textAt(component, 'address'));
  const portsIn = (item: Json, name: string): number[] =>
    listAt(item, name).flatMap((port) => (typeof port === 'string' ? (numbers.get(port) ?? []) : []));
  const vlans = listAt(component, 'bridge-vlan', 'vlan').flatMap((item): VlanRow[] => {
    const vlan = numberAt(item, 'vid');
    const untagged = portsIn(item, 'untagged-ports');
    return vlan !== null && vlan >= 1 && vlan <= 4094
      ? [
          {
            vlan,
            name: textAt(item, 'name'),
            egressBridgePorts: [...new Set([...portsIn(item, 'egress-ports'), ...untagged])],
            untaggedBridgePorts: untagged,
          },
        ]
      : [];
  });
  const pvid = new Map<number, number>();
  const byPortNumber = new Map<number, number>();
  for (const item of interfaces) {
    const own = objectAt(item, 'ieee802-dot1q-bridge:bridge-port') ?? objectAt(item, 'bridge-port');
    const number = numbers.get(textAt(item, 'name'));
    const vlan = numberAt(own, 'pvid');
    if (own === undefined || number === undefined) continue;
    if (vlan !== null && vlan >= 1 && vlan <= 4094) pvid.set(number, vlan);
    const told = numberAt(own, 'port-number');
    if (told !== null) byPortNumber.set(told, number);
  }
  const members = new Set([...pvid.keys(), ...vlans.flatMap(({ egressBridgePorts }) => egressBridgePorts)]);
  const forwarding = listAt(component, 'filtering-database', 'filtering-entry').flatMap((entry): ForwardingRow[] => {
    const heard = parseMac(textAt(entry, 'address'));
    const vids = textAt(entry, 'vids');
    const ports = listAt(entry, 'port-map').flatMap((map) => {
      const ref = numberAt(map, 'port-ref');
      return (ref === null ? numbers.get(textAt(map, 'port-ref')) : byPortNumber.get(ref)) ?? [];
    });
    const [only, ...others] = ports;
    if (heard === null || isEmptyMac(heard) || isGroupMac(heard) || only === undefined || others.length > 0) return [];
    return [{ mac: heard, bridgePort: only, vlan: /^\d+$/.test(vids) ? Number(vids) : null }];
  });
  return {
    address: mac !== null && isEmptyMac(mac) ? null : mac,
    ifIndexByBridgePort: new Map([...members].map((number) => [number, number])),
    forwarding,
    vlans: vlans.toSorted((x, y) => x.vlan - y.vlan),
    pvid,
    stp: { root: null, rootBridgePort: null, ports: [] },
  };
}
