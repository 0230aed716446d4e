import type { DeviceFacts, HostNetworkFacts, MachineFacts, PortFacts, Role } from '../../core/estate/facts';
import type { ColumnSource } from '../../core/tables/column';
import { valueAt } from '../../core/tables/column';
import { NameIndex, shortName } from '../../core/topology/nameIndex';
import { hostLadder, type HostLadder, type LadderPlug } from '../../core/topology/hostLadder';
import { cabledPorts, type LinkFacts } from '../../core/topology/links';
import { macNumber, macOfNumber } from '../../core/values/mac';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Db } from '../../store/base/database';
import { byDevice, factsAsOf } from '../../store/base/facts';

const mayBeHost = new Set<Role>(['server', 'hypervisor', 'host', 'unknown']);

/** What is put together of one host. */
interface Host {
  /** the number of its device, or `name:` and its name where it is none that is known */
  key: string;
  name: string;
  deviceId: number | null;
  network: HostNetworkFacts | null;
  machines: MachineFacts[];
}

/**
 * From machines to switch ports, of every host that has virtual machines, a virtual switch or a bundle.
 * @param endpoints as of the same survey: by them adapters are found of hosts that do not answer themselves
 * @param only hosts that are these devices; all where it is not given
 */
export function laddersAt(
  db: Db,
  survey: number,
  endpoints: () => ColumnSource,
  only?: readonly number[],
): HostLadder[] {
  // most devices are no hosts: of them nothing more is read
  if (
    only &&
    !factsAsOf<DeviceFacts>(db, 'device', survey, [...only]).some(({ content: { role } }) => mayBeHost.has(role))
  )
    return [];
  const devices = new Map(
    factsAsOf<DeviceFacts>(db, 'device', survey).map(({ deviceId, content }) => [deviceId, content]),
  );
  const hosts = hostsAt(db, survey, devices).filter(
    ({ deviceId }) => only === undefined || (deviceId !== null && only.includes(deviceId)),
  );
  if (hosts.length === 0) return [];
  const ids = new Set(hosts.flatMap(({ deviceId }) => deviceId ?? []));
  const ownPorts = portsOf(db, survey, [...ids]);
  const plugs = plugsOf(db, survey, ids, devices);
  const plugged = (host: Host, adapter: string) =>
    host.deviceId === null ? undefined : plugs.get(`${host.deviceId} ${adapter}`);
  const missing = new Set(
    hosts.flatMap((host) =>
      (host.network?.adapters ?? []).flatMap(({ name, mac }) => (mac && !plugged(host, name) ? [mac] : [])),
    ),
  );
  const heard =
    missing.size > 0 ? placesOf(endpoints(), missing) : new Map<string, { deviceId: number; port: string }>();
  const far = new Set([...plugs.values(), ...heard.values()].map(({ deviceId }) => deviceId));
  const farPorts = portsOf(db, survey, [...far]);
  const plugOf = (
    place: { deviceId: number; port: string; confidence?: LadderPlug['confidence'] } | undefined,
  ): LadderPlug | null => {
    const device = place && devices.get(place.deviceId);
    if (!place || !device) return null;
    return {
      deviceId: place.deviceId,
      device: device.name,
      port: place.port,
      confidence: place.confidence ?? 'concluded',
      facts: farPorts.get(place.deviceId)?.find(({ name }) => name === place.port),
      units: device.units.length,
    };
  };
  return hosts
    .map((host) =>
      hostLadder({
        key: host.key,
        host: host.name,
        hostId: host.deviceId,
        network: host.network,
        machines: host.machines,
        ports: ownPorts.get(host.deviceId ?? 0) ?? [],
        plugOf: (adapter, mac) => plugOf(plugged(host, adapter) ?? heard.get(mac ?? '')),
      }),
    )
    .filter(({ machines, switches }) => machines.length > 0 || switches.length > 0)
    .sort((x, y) => compareNaturally(x.host, y.host) || compareNaturally(x.key, y.key));
}

/**
 * Hosts by what they tell themselves and what managers tell of them; a machine that both tell of is one, with the manager’s words. A manager calls a
 * host by its name: where several devices are called so, what it tells is of a host of its own, and of none of them.
 */
function hostsAt(db: Db, survey: number, devices: ReadonlyMap<number, DeviceFacts>): Host[] {
  const named = new NameIndex(Array.from(devices, ([id, { name }]) => [name, id]));
  const hosts = new Map<string, Host>();
  const host = (key: string, name: string, deviceId: number | null) => {
    let known = hosts.get(key);
    if (!known) hosts.set(key, (known = { key, name, deviceId, network: null, machines: [] }));
    return known;
  };
  const device = (id: number) => host(String(id), devices.get(id)?.name ?? '', id);
  const called = (name: string) => {
    const id = named.get(name);
    return id === undefined ? host(`name:${shortName(name)}`, name, null) : device(id);
  };
  for (const [id, { role }] of devices) if (role === 'hypervisor' || role === 'server') device(id);
  for (const { content } of factsAsOf<HostNetworkFacts>(db, 'hostNetwork', survey))
    called(content.host).network = content;
  for (const { deviceId, content } of factsAsOf<MachineFacts>(db, 'machine', survey)) {
    const own = content.host ? called(content.host) : device(deviceId);
    const known = own.machines.findIndex(({ uuid, name }) => (uuid ? uuid === content.uuid : name === content.name));
    if (known < 0) own.machines.push(content);
    else if (content.host) own.machines[known] = content;
  }
  return [...hosts.values()];
}

const portsOf = (db: Db, survey: number, devices: number[]): Map<number, PortFacts[]> =>
  devices.length === 0 ? new Map() : byDevice(factsAsOf<PortFacts>(db, 'port', survey, devices));

/** By host and adapter: the port of another device into which it is plugged. */
function plugsOf(
  db: Db,
  survey: number,
  hosts: ReadonlySet<number>,
  devices: ReadonlyMap<number, DeviceFacts>,
): Map<string, { deviceId: number; port: string; confidence: LadderPlug['confidence'] }> {
  const found = new Map<string, { deviceId: number; port: string; confidence: LadderPlug['confidence'] }>();
  for (const { content: link } of factsAsOf<LinkFacts>(db, 'link', survey)) {
    if (
      link.kind === 'l3' ||
      link.kind === 'virtual' ||
      link.segment ||
      (!hosts.has(link.a.deviceId) && !hosts.has(link.b.deviceId))
    )
      continue;
    for (const { deviceId, port, far } of cabledPorts(link)) {
      if (
        hosts.has(deviceId) &&
        !hosts.has(far.deviceId) &&
        devices.has(far.deviceId) &&
        !found.has(`${deviceId} ${port}`)
      )
        found.set(`${deviceId} ${port}`, { deviceId: far.deviceId, port: far.port, confidence: link.confidence });
    }
  }
  return found;
}

/** Where some MACs hang. */
function placesOf(
  endpoints: ColumnSource,
  wanted: ReadonlySet<string>,
): Map<string, { deviceId: number; port: string }> {
  const [macs, owners, ports] = [endpoints.column('mac'), endpoints.column('deviceId'), endpoints.column('port')];
  const found = new Map<string, { deviceId: number; port: string }>();
  const codes = new Map(
    [...wanted].flatMap((mac) => {
      const code = macs.dictionary.find(macOfNumber(macNumber(mac) ?? 0));
      return code === undefined || code < 0 ? [] : [[code, mac]];
    }),
  );
  if (codes.size === 0) return found;
  for (let row = 0; row < endpoints.size; row++) {
    const mac = codes.get(macs.codes[row] ?? -1);
    const owner = mac === undefined ? null : valueAt(owners, row);
    if (mac !== undefined && typeof owner === 'number' && owner > 0)
      found.set(mac, { deviceId: owner, port: String(valueAt(ports, row) ?? '') });
  }
  return found;
}
