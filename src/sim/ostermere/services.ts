import type { FabricState } from '../controllers/fabric';
import type { HypervisorState } from '../controllers/hypervisors';
import type { WirelessState } from '../controllers/wireless';
import { vlanNames } from './answers';
import type { SimDevice, SimEstate } from './model';
import { macFor } from './parts';
import { machineVlans } from './machines';

/** What the made-up operator's controllers and RESTCONF devices let in. */
export const sampleControllerUser = { user: 'olr-inventory', password: 'quay-beacon-63' };
export const sampleNetworkUser = { user: 'olr-network', password: 'mast-signal-27' };

export const controllerAddresses = { wireless: '10.72.1.30', fabric: '10.72.1.31', hypervisors: '10.72.1.32' };

/** Devices that answer nothing themselves but a controller: what it tells of them. */
export const spines = [1, 2].map((at) => ({
  name: `sgh-spine-${at}`,
  address: `10.72.0.${26 + at}`,
  model: 'Fen S16',
  serial: `FS16-40${at}07`,
  release: '5.2.1',
}));
export const fabricBox = {
  name: 'sgh-fabric',
  address: controllerAddresses.fabric,
  model: 'Fen Fabric 3',
  serial: 'FF3-00218',
  release: '5.2.4',
};
export const hypervisorBox = {
  name: 'sgh-hvm',
  address: controllerAddresses.hypervisors,
  model: 'Brannick Manager',
  serial: '',
  release: '4.2.118',
};

const serialOfChassis = (device: SimDevice) => device.modules.find(({ class: kind }) => kind === 3)?.serial ?? '';

/** At step 8 the wireless controller was renewed, and its private interface names a field otherwise. */
export function wirelessState(estate: SimEstate, step: number): WirelessState | null {
  const controller = estate.devices.find(({ name }) => name === 'sgh-wlc');
  if (!controller) return null;
  const points = estate.devices.filter(({ name }) => /-ap-\d+$/.test(name));
  const clientsOf = (point: SimDevice) =>
    estate.guests.filter(
      ({ name, device, port }) =>
        name.startsWith('staff-') &&
        estate.cables.some(({ a, b }) => a.device === device && a.port === port && b.device === point.name),
    ).length;
  const clients = points.map(clientsOf);
  return {
    controller: {
      name: controller.name,
      model: controller.model,
      serial: serialOfChassis(controller),
      release: controller.release,
      uptimeSeconds: controller.uptimeSeconds,
    },
    accessPoints: points.map((point, at) => {
      const cable = estate.cables.find(({ b }) => b.device === point.name);
      return {
        name: point.name,
        model: point.model,
        serial: serialOfChassis(point),
        release: point.release,
        address: point.address,
        mac: point.mac,
        state: 'connected',
        clients: clients[at] ?? 0,
        wired: cable ? { switch: cable.a.device, port: cable.a.port } : null,
      };
    }),
    wlans: [
      {
        ssid: 'OLR-Staff',
        security: 'WPA3-Enterprise',
        vlan: 40,
        enabled: true,
        clients: clients.reduce((sum, count) => sum + count, 0),
        accessPoints: points.length,
        key: 'never-keep-this-1',
      },
      {
        ssid: 'OLR-Guest',
        security: 'open with portal',
        vlan: 60,
        enabled: true,
        clients: 0,
        accessPoints: points.length,
        key: '',
      },
    ],
    ...(step >= 8 && { renamed: true }),
  };
}

/** The fabric at Signal House: two leaves, two spines, two tenants. */
export function fabricState(estate: SimEstate): FabricState {
  const leaves = estate.devices.filter(({ name }) => name.startsWith('sgh-leaf-'));
  return {
    controller: {
      fabric: 'Signal House',
      hostname: fabricBox.name,
      model: fabricBox.model,
      serial: fabricBox.serial,
      software: fabricBox.release,
    },
    nodes: [
      ...leaves.map((leaf) => ({
        node: leaf.name,
        function: 'leaf' as const,
        model: leaf.model,
        serial: serialOfChassis(leaf),
        software: leaf.release,
        management: leaf.address,
        reachable: true,
      })),
      ...spines.map(({ name, model, serial, release, address }) => ({
        node: name,
        function: 'spine' as const,
        model,
        serial,
        software: release,
        management: address,
        reachable: true,
      })),
    ],
    tenants: [
      {
        tenant: 'operations',
        contexts: ['main'],
        domains: [
          { domain: 'bd-ops', context: 'main', subnets: ['10.72.40.1/24'] },
          { domain: 'bd-cctv', context: 'main', subnets: ['10.72.41.1/24'] },
        ],
        groups: [
          { group: 'tracking', domain: 'bd-ops' },
          { group: 'recorders', domain: 'bd-cctv' },
        ],
      },
      {
        tenant: 'ticketing',
        contexts: ['cards'],
        domains: [{ domain: 'bd-cards', context: 'cards', subnets: ['10.72.42.1/24'] }],
        groups: [{ group: 'payment', domain: 'bd-cards' }],
      },
    ],
    endpoints: estate.guests
      .filter(({ device }) => device.startsWith('sgh-leaf-'))
      .map(({ name, mac, address, device, port, vlan }) => ({
        mac: mac.toUpperCase(),
        addresses: address ? [address] : [],
        ...groupOf(name),
        node: device,
        interface: port,
        vlan,
      })),
    links: leaves.flatMap((leaf, at) =>
      spines.map((spine, to) => ({
        from: leaf.name,
        fromInterface: `e1/${51 + to}`,
        to: spine.name,
        toInterface: `e1/${1 + at}`,
        up: true,
      })),
    ),
  };
}

/** Two hosts in one cluster. On sgh-srv-04 both uplinks of the switch end on one access switch. */
export function hypervisorState(estate: SimEstate): HypervisorState {
  const hosts = estate.devices.filter(({ machines }) => machines);
  return {
    manager: { name: hypervisorBox.name, product: hypervisorBox.model, serial: '', build: hypervisorBox.release },
    clusters: [{ id: 'c-1', name: 'signal-house' }],
    hosts: hosts.map(({ name, ports }, at) => ({
      id: `h-${at + 1}`,
      name,
      cluster: 'c-1',
      connected: true,
      adapters: ports
        .filter(({ ifType }) => ifType === 6)
        .map((port) => ({
          name: port.name,
          mac: port.mac,
          megabits: port.oper === 'up' ? port.speedMbps : null,
          up: port.oper === 'up',
        })),
      switches: [
        {
          name: 'vswitch0',
          uplinks: ['eth0', 'eth1'],
          teaming: 'active-standby',
          portGroups: machineVlans.map((vlan) => ({ name: vlanNames[vlan] ?? '', vlan })),
        },
      ],
    })),
    machines: hosts.flatMap(({ machines = [] }, host) =>
      machines.map(({ name, uuid, system, running, processors, memoryMB, mac, vlan }, at) => ({
        id: `m-${host + 1}-${at + 1}`,
        name,
        uuid: uuid.toUpperCase(),
        host: `h-${host + 1}`,
        power: running ? ('on' as const) : ('off' as const),
        system,
        processors,
        memoryMiB: memoryMB,
        adapters: [{ mac, portGroup: vlanNames[vlan] ?? '', switch: 'vswitch0' }],
      })),
    ),
    datastores: [
      { name: 'store-1', kind: 'shared', capacityBytes: 8e12, freeBytes: 3.1e12 },
      { name: 'store-2', kind: 'shared', capacityBytes: 4e12, freeBytes: 3.6e12 },
    ],
  };
}

/** A leaf's data resources, by the IETF's models. */
export function restconfData(device: SimDevice, estate: SimEstate): Record<string, object> {
  const heard = (port: string) =>
    estate.cables
      .flatMap(
        ({ a, b }) =>
          [
            [a, b],
            [b, a],
          ] as const,
      )
      .filter(([here]) => here.device === device.name && here.port === port)
      .flatMap(([, there]) => {
        const other = estate.devices.find(({ name }) => name === there.device);
        const otherPort = other?.ports.find(({ name }) => name === there.port);
        return other?.lldp && otherPort?.oper === 'up'
          ? [
              {
                'time-mark': 0,
                'remote-index': 1,
                'chassis-id-subtype': 'mac-address',
                'chassis-id': other.mac.toUpperCase().replaceAll(':', '-'),
                'port-id-subtype': 'interface-name',
                'port-id': otherPort.name,
                'port-desc': otherPort.description,
                'system-name': other.name,
                'system-description': other.description,
                'system-capabilities-enabled': 'bridge router',
                'management-address': [{ 'address-subtype': 'ipv4', address: other.address }],
              },
            ]
          : [];
      });
  const started = new Date(Date.now() - device.uptimeSeconds * 1000);
  const [osName = '', , machine = ''] = device.description.split(', ');
  return {
    'ietf-system:system': { hostname: device.name, location: device.location, contact: 'network control, ext. 2100' },
    'ietf-system:system-state': {
      platform: { 'os-name': osName, 'os-release': device.release, machine },
      clock: { 'current-datetime': new Date().toISOString(), 'boot-datetime': started.toISOString() },
    },
    'ietf-interfaces:interfaces': {
      interface: device.ports.map((port) => ({
        name: port.name,
        description: port.alias,
        type: port.ifType === 6 ? 'iana-if-type:ethernetCsmacd' : 'iana-if-type:l3ipvlan',
        enabled: port.admin === 'up',
        'admin-status': port.admin,
        'oper-status': port.oper,
        'phys-address': port.mac,
        ...(port.oper === 'up' && { speed: String(port.speedMbps * 1e6) }),
        'ietf-ip:ipv4': {
          mtu: port.mtu,
          address: port.addresses.map(({ address, length }) => ({ ip: address, 'prefix-length': length })),
        },
      })),
    },
    'ietf-hardware:hardware': {
      component: device.modules.map((part) => ({
        name: `c-${part.index}`,
        alias: part.name,
        class: `iana-hardware:${({ 3: 'chassis', 5: 'container', 6: 'power-supply', 7: 'fan', 9: 'module' } as Record<number, string>)[part.class] ?? 'unknown'}`,
        ...(part.parent && { parent: `c-${part.parent}`, 'parent-rel-pos': part.position }),
        description: part.description,
        'hardware-rev': part.hardware,
        'firmware-rev': part.firmware,
        'software-rev': part.software,
        'serial-num': part.serial,
        'mfg-name': part.model ? device.maker : '',
        'model-name': part.model,
        'is-fru': part.replaceable,
        state: { 'oper-state': 'enabled', 'alarm-state': '' },
      })),
    },
    'ieee802-dot1ab-lldp:lldp': {
      'local-system-data': {
        'chassis-id-subtype': 'mac-address',
        'chassis-id': device.mac.toUpperCase().replaceAll(':', '-'),
      },
      port: device.ports
        .filter(({ ifType }) => ifType === 6)
        .map(({ name, description }) => ({ name, 'port-desc': description, 'remote-systems-data': heard(name) })),
    },
  };
}

const groupOf = (name: string) =>
  name.startsWith('fab-rec')
    ? { tenant: 'operations', group: 'recorders' }
    : name.startsWith('fab-pay')
      ? { tenant: 'ticketing', group: 'payment' }
      : { tenant: 'operations', group: 'tracking' };

/** Machines on the leaves, which only the fabric controller has heard. */
const machine = (kind: string, at: number, network: number, vlan: number, device: string, port: number) => ({
  name: `fab-${kind}-${at}`,
  mac: macFor('Brannick', `fab-${kind}-${at}`),
  address: `10.72.${network}.${10 + at}`,
  vlan,
  device,
  port: `e1/${port}`,
});
export const fabricGuests = [
  ...[1, 2, 3, 4, 5, 6].map((at) => machine('track', at, 40, 410, `sgh-leaf-${at % 2 ? 1 : 2}`, Math.ceil(at / 2))),
  ...[1, 2, 3, 4].map((at) => machine('rec', at, 41, 411, `sgh-leaf-${at % 2 ? 3 : 4}`, Math.ceil(at / 2))),
  ...[1, 2, 3].map((at) => machine('pay', at, 42, 420, `sgh-leaf-${at === 3 ? 4 : 2}`, 8 + at)),
];
