import type { NeighbourFacts, PortFacts } from '../estate/facts';
import { addressOrNull } from '../values/ipAddress';
import { isEmptyMac, parseMac } from '../values/mac';
import { listAt, numberAt, objectAt, textAt, type Json } from './json';
import { plainPath } from './resourceTree';

/** LLDPReceive: how the ids are to be read, as the schema of Port names them (IEEE 802.1AB). */
const chassisSubtypes: Record<string, string> = {
  ChassisComp: 'component',
  IfAlias: 'interfaceAlias',
  PortComp: 'portComponent',
  MacAddr: 'macAddress',
  NetworkAddr: 'networkAddress',
  IfName: 'interfaceName',
  LocalAssign: 'local',
};
const portSubtypes: Record<string, string> = { ...chassisSubtypes, AgentId: 'agentCircuitId' };

/**
 * The sockets of network adapters (Port, and the older NetworkPort, of DSP0268). A socket that the system tells an interface of by its MAC is that interface, and says what hangs on it;
 * any other is a port of its own.
 */
export function adapterPorts(
  resources: ReadonlyMap<string, Json>,
  interfaces: readonly PortFacts[],
): {
  ports: PortFacts[];
  neighbours: NeighbourFacts[];
  /** there are sockets that would say whom they hear */
  listens: boolean;
} {
  const ports = [...interfaces];
  let listens = false;
  const neighbours: NeighbourFacts[] = [];
  const membersAt = (link: string): Json[] =>
    listAt(resources.get(plainPath(link)), 'Members').flatMap(
      (member) => resources.get(plainPath(textAt(member, '@odata.id'))) ?? [],
    );
  for (const chassis of resources.values())
    for (const adapter of membersAt(textAt(chassis, 'NetworkAdapters', '@odata.id'))) {
      const newer = membersAt(textAt(adapter, 'Ports', '@odata.id'));
      const sockets = newer.length > 0 ? newer : membersAt(textAt(adapter, 'NetworkPorts', '@odata.id'));
      const adapterName = textAt(adapter, 'Id') || textAt(adapter, 'Name');
      for (const socket of sockets) {
        listens ||= objectAt(socket, 'Ethernet', 'LLDPReceive') !== undefined;
        const macs = macsOf(socket);
        const at = ports.findIndex(({ mac, otherMac }) => [mac, otherMac].some((one) => one && macs.includes(one)));
        const known = ports[at];
        const name = known?.name ?? `${adapterName} ${textAt(socket, 'PortId') || textAt(socket, 'Id')}`.trim();
        const seen = socketFacts(socket, macs, name, ports.length + 1);
        if (known)
          ports[at] = {
            ...known,
            oper: known.oper === 'unknown' ? seen.oper : known.oper,
            speedBps: known.speedBps ?? seen.speedBps,
          };
        else ports.push(seen);
        const heard = heardAt(socket, name);
        if (heard) neighbours.push(heard);
      }
    }
  return { ports, neighbours, listens };
}

function macsOf(socket: Json): string[] {
  return [
    ...listAt(socket, 'Ethernet', 'AssociatedMACAddresses'),
    ...listAt(socket, 'AssociatedNetworkAddresses'),
  ].flatMap((one) => {
    const mac = typeof one === 'string' ? parseMac(one) : null;
    return mac === null || isEmptyMac(mac) ? [] : [mac];
  });
}

function socketFacts(socket: Json, macs: readonly string[], name: string, index: number): PortFacts {
  const status = textAt(socket, 'LinkStatus');
  const oper = /^(LinkUp|Up)$/.test(status) ? 'up' : status === '' ? 'unknown' : 'down';
  const gigabits = numberAt(socket, 'CurrentSpeedGbps');
  const megabits = numberAt(socket, 'CurrentLinkSpeedMbps');
  const technology = textAt(socket, 'LinkNetworkTechnology') || textAt(socket, 'ActiveLinkTechnology');
  return {
    index,
    name,
    alias: '',
    description: textAt(socket, 'Description') || textAt(socket, 'Name'),
    type: technology === 'InfiniBand' ? 'infiniband' : technology === 'FibreChannel' ? 'fibre channel' : 'ethernet',
    physical: true,
    admin:
      textAt(socket, 'LinkState') === 'Disabled' || textAt(socket, 'Status', 'State') === 'Disabled' ? 'down' : 'up',
    oper,
    speedBps:
      oper !== 'up' ? null : gigabits ? Math.round(gigabits * 1e9) : megabits ? Math.round(megabits * 1e6) : null,
    duplex: 'unknown',
    mtu: null,
    mac: macs[0] ?? null,
    vlan: null,
    taggedVlans: [],
    addresses: [],
    lag: null,
    stp: null,
    poe: null,
  };
}

/** Who was heard at a socket (Port.Ethernet.LLDPReceive). */
function heardAt(socket: Json, port: string): NeighbourFacts | null {
  const read = (field: string) => textAt(socket, 'Ethernet', 'LLDPReceive', field);
  const [chassisId, portId] = [read('ChassisId'), read('PortId')];
  if (chassisId === '' && portId === '') return null;
  const chassisIdSubtype = chassisSubtypes[read('ChassisIdSubtype')] ?? 'unknown';
  const portIdSubtype = portSubtypes[read('PortIdSubtype')] ?? 'unknown';
  const inForm = (subtype: string, id: string) => (subtype === 'macAddress' ? (parseMac(id) ?? id) : id);
  return {
    port,
    chassisId: inForm(chassisIdSubtype, chassisId),
    chassisIdSubtype,
    portId: inForm(portIdSubtype, portId),
    portIdSubtype,
    portDescription: '',
    systemName: read('SystemName'),
    systemDescription: read('SystemDescription'),
    capabilities: [],
    managementAddresses: [read('ManagementAddressIPv4'), read('ManagementAddressIPv6')].flatMap(
      (address) => addressOrNull(address) ?? [],
    ),
  };
}
