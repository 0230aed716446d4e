import { port, macFor } from './parts';
import type { SimDevice, SimMachine } from './model';

/** In which VLANs the virtual machines are. */
export const machineVlans = [10, 20];

/** Without an address: it is switched off. */
interface MachinePlan {
  name: string;
  host: string;
  address: string | null;
  processors: number;
  memoryMB: number;
  vlan: number;
}

const plans: readonly MachinePlan[] = [
  { name: 'vm-pis-1', host: 'sgh-srv-03', address: '10.72.1.51', processors: 4, memoryMB: 8192, vlan: 10 },
  { name: 'vm-track-1', host: 'sgh-srv-03', address: '10.72.1.53', processors: 2, memoryMB: 4096, vlan: 10 },
  { name: 'vm-depot-1', host: 'sgh-srv-03', address: '10.72.1.54', processors: 2, memoryMB: 4096, vlan: 20 },
  { name: 'vm-pis-2', host: 'sgh-srv-04', address: '10.72.1.52', processors: 4, memoryMB: 8192, vlan: 10 },
  { name: 'vm-voice-1', host: 'sgh-srv-04', address: '10.72.1.55', processors: 2, memoryMB: 8192, vlan: 10 },
  { name: 'vm-test-1', host: 'sgh-srv-04', address: null, processors: 1, memoryMB: 2048, vlan: 10 },
];

const image = 'Ostermere image 12';
const macOf = (name: string) => macFor('Brannick', name);

/** Tells a hypervisor of its machines. */
export function applyMachines(device: SimDevice): void {
  const own = plans.filter(({ host }) => host === device.name);
  if (own.length === 0) return;
  device.machines = own.map(({ name, address, processors, memoryMB, vlan }, at): SimMachine => ({
    index: at + 1,
    name,
    uuid: `5a1d0e00-7200-4000-8000-${macOf(name).replaceAll(':', '')}`,
    system: image,
    running: address !== null,
    processors,
    memoryMB,
    mac: macOf(name),
    port: 'eth0',
    vlan,
  }));
}

/** The machines that are switched on, as the agents in them tell of themselves: plain hosts without modules. */
export function addMachines(add: (device: SimDevice) => SimDevice): void {
  for (const { name, address, processors, memoryMB, vlan } of plans) {
    if (address === null) continue;
    const adapter = port(name, 'Brannick', 2, 'eth0', {
      mac: macOf(name),
      oper: 'up',
      bridged: false,
      speedMbps: 10_000,
      pvid: vlan,
      addresses: [{ address, length: 24 }],
    });
    const loopback = port(name, 'Brannick', 1, 'lo', {
      mac: '',
      ifType: 24,
      oper: 'up',
      bridged: false,
      speedMbps: 0,
      mtu: 65_536,
      addresses: [{ address: '127.0.0.1', length: 8 }],
    });
    add({
      name,
      address,
      maker: 'Brannick',
      modelNumber: 60,
      model: image,
      description: `${image}, system 6.1.5`,
      location: 'Signal House, virtual',
      services: 72,
      mac: macOf(name),
      release: '6.1.5',
      ports: [loopback, adapter],
      modules: [],
      bridge: false,
      lldp: false,
      access: 'v2c',
      uptimeSeconds: 74 * 86_400,
      host: {
        memoryMB,
        storage: [
          { name: 'Physical memory', type: 2, megabytes: memoryMB, usedMB: Math.round(memoryMB * 0.6) },
          { name: '/', type: 4, megabytes: 40_000, usedMB: 17_500 },
        ],
        processors: Array.from({ length: processors }, () => 'virtual processor'),
      },
    });
  }
}
