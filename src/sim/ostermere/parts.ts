import { makers, type MakerName } from './makers';
import type { SimDevice, SimModule, SimPort } from './model';

/** Chassis classes of RFC 6933 by number. */
export const entityClass = { chassis: 3, container: 5, powerSupply: 6, fan: 7, module: 9, port: 10, cpu: 12 } as const;

const counters = new Map<string, number>();

/** Deterministic MAC: prefix of the maker and a hash of what it belongs to. */
export function macFor(maker: MakerName, what: string): string {
  let hash = 2_166_136_261;
  for (const character of what) hash = Math.imul(hash ^ character.charCodeAt(0), 16_777_619) >>> 0;
  const tail = [hash >>> 16, hash >>> 8, hash].map((octet) => (octet & 255).toString(16).padStart(2, '0'));
  return `${makers[maker].mac}:${tail.join(':')}`;
}

export function resetSerials(): void {
  counters.clear();
}

/** The next serial of a series: `KA48-90117`. */
export function serialOf(series: string, first: number, step = 7): string {
  const count = counters.get(series) ?? 0;
  counters.set(series, count + 1);
  return `${series}-${first + count * step}`;
}

export function port(
  device: string,
  maker: MakerName,
  index: number,
  name: string,
  overrides: Partial<SimPort> = {},
): SimPort {
  return {
    index,
    name,
    description: `${device} port ${name}`,
    alias: '',
    ifType: 6,
    speedMbps: 1000,
    mac: macFor(maker, `${device} ${name}`),
    admin: 'up',
    oper: 'down',
    duplex: 'full',
    mtu: 1500,
    sinceSeconds: 86_400 * 40 + index * 7200,
    pvid: 10,
    tagged: [],
    addresses: [],
    bridged: true,
    ...overrides,
  };
}

/** Builds an entity tree with running indexes. */
export class ModuleBuilder {
  readonly modules: SimModule[] = [];
  #next = 1;

  add(parent: number, moduleClass: number, position: number, name: string, more: Partial<SimModule> = {}): number {
    const index = this.#next++;
    this.modules.push({
      index,
      parent,
      class: moduleClass,
      position,
      name,
      description: more.description ?? name,
      model: '',
      serial: '',
      hardware: '',
      firmware: '',
      software: '',
      replaceable: false,
      ...more,
    });
    return index;
  }
}

const allVlans = [10, 20, 30, 40, 50, 60, 70, 80];
export { allVlans };

const trunk = { pvid: 70, tagged: allVlans.filter((vlan) => vlan !== 70) };

interface SwitchPlan {
  name: string;
  address: string;
  site: string;
  location: string;
  release: string;
  serial: string;
  memoryMB?: number;
  flashMB?: number;
  flashFreeMB?: number;
  boot?: string;
  uptimeDays?: number;
  /** memory of the second supervisor */
  supervisorMB?: number;
  saved?: boolean;
  /** watts for what is plugged in */
  powerBudget?: number;
}

/** K-Access 24 or 48: fixed ports, four uplink cages, one supply, a fan. */
export function accessSwitch(plan: SwitchPlan, size: 24 | 48): SimDevice {
  const { name, release, serial } = plan;
  const model = `K-Access ${size}`;
  const build = new ModuleBuilder();
  const chassis = build.add(0, entityClass.chassis, 1, name, {
    description: `${model} chassis`,
    model,
    serial,
    hardware: 'C',
    firmware: plan.boot ?? '3.2',
    software: release,
    replaceable: true,
  });
  build.add(chassis, entityClass.powerSupply, 1, 'Supply 1', {
    description: 'AC supply 370 W',
    model: 'KP-370',
    serial: serialOf('KP', 81_120),
    replaceable: true,
  });
  build.add(chassis, entityClass.container, 2, 'Supply bay 2', { description: 'Supply bay' });
  build.add(chassis, entityClass.fan, 3, 'Fan tray', {
    model: 'KF-2',
    serial: serialOf('KF2', 40_210),
    replaceable: true,
  });
  for (let cage = 1; cage <= 4; cage++) {
    const slot = build.add(chassis, entityClass.container, 10 + cage, `Cage U${cage}`, { description: 'SFP+ cage' });
    if (cage === 1)
      build.add(slot, entityClass.module, 1, 'Transceiver', {
        description: '10G LR SFP+ transceiver',
        model: 'KX-10LR',
        serial: serialOf('KX', 70_311),
        replaceable: true,
      });
  }
  const ports = Array.from({ length: size }, (_, at) =>
    port(name, 'Kestrane', at + 1, String(at + 1), { power: { status: 2, classification: 1 } }),
  );
  for (let cage = 1; cage <= 4; cage++)
    ports.push(port(name, 'Kestrane', 100 + cage, `U${cage}`, { speedMbps: 10_000, mtu: 9216, ...trunk }));
  ports.push(
    port(name, 'Kestrane', 201, 'vlan70', {
      ifType: 136,
      oper: 'up',
      bridged: false,
      mac: macFor('Kestrane', name),
      addresses: [{ address: plan.address, length: 24 }],
      alias: 'management',
    }),
  );
  return {
    ...base(plan, 'Kestrane', size === 48 ? 48 : 24, model, ports, build.modules, {
      memoryMB: plan.memoryMB ?? 512,
      flashMB: plan.flashMB ?? 256,
      flashFreeMB: plan.flashFreeMB ?? 140,
      boot: plan.boot ?? '3.2',
    }),
    powerBudget: plan.powerBudget ?? 370,
  };
}

/** K-Ring 12: hardened, twelve ports of which 1 and 2 are the ring. */
export function ringSwitch(plan: SwitchPlan): SimDevice {
  const { name, release, serial } = plan;
  const build = new ModuleBuilder();
  const chassis = build.add(0, entityClass.chassis, 1, name, {
    description: 'K-Ring 12 chassis',
    model: 'K-Ring 12',
    serial,
    hardware: 'B',
    firmware: plan.boot ?? '2.4',
    software: release,
    replaceable: true,
  });
  build.add(chassis, entityClass.powerSupply, 1, 'Supply 1', {
    description: 'DC supply 60 W',
    model: 'KP-60',
    serial: serialOf('KP60', 20_441),
    replaceable: true,
  });
  for (const at of [1, 2]) {
    const slot = build.add(chassis, entityClass.container, 4 + at, `Cage ${at}`, { description: 'SFP+ cage' });
    build.add(slot, entityClass.module, 1, 'Transceiver', {
      description: '10G ER SFP+ transceiver',
      model: 'KX-10ER',
      serial: serialOf('KXE', 50_118),
      replaceable: true,
      socket: at,
    });
  }
  const ports = Array.from({ length: 12 }, (_, at) =>
    port(
      name,
      'Kestrane',
      at + 1,
      String(at + 1),
      at < 2 ? { speedMbps: 10_000, mtu: 9216, ...trunk } : at < 6 ? { speedMbps: 10_000, mtu: 9216, ...trunk } : {},
    ),
  );
  ports.push(
    port(name, 'Kestrane', 201, 'vlan70', {
      ifType: 136,
      oper: 'up',
      bridged: false,
      mac: macFor('Kestrane', name),
      addresses: [{ address: plan.address, length: 24 }],
      alias: 'management',
    }),
  );
  return base(plan, 'Kestrane', 12, 'K-Ring 12', ports, build.modules, {
    memoryMB: plan.memoryMB ?? 512,
    flashMB: plan.flashMB ?? 256,
    flashFreeMB: plan.flashFreeMB ?? 128,
    boot: plan.boot ?? '2.4',
  });
}

/** K-Core 8-slot with two supervisors and line cards; slots 5 and 7 are empty. */
export function coreSwitch(
  plan: SwitchPlan,
  cards: Record<number, { model: string; series: string; first: number; ports: number; speedMbps: number }>,
  gateways: { vlan: number; address: string }[],
): SimDevice {
  const { name, release, serial } = plan;
  const build = new ModuleBuilder();
  const chassis = build.add(0, entityClass.chassis, 1, name, {
    description: 'K-Core 8 chassis',
    model: 'K-Core 8',
    serial,
    hardware: 'D',
    firmware: plan.boot ?? '5.1',
    software: release,
    replaceable: true,
  });
  const ports: SimPort[] = [];
  for (let slot = 1; slot <= 8; slot++) {
    const container = build.add(chassis, entityClass.container, slot, `Slot ${slot}`, {
      description: 'Line card slot',
    });
    if (slot <= 2) {
      build.add(container, entityClass.module, 1, `Supervisor ${slot === 1 ? 'A' : 'B'}`, {
        model: 'KS-2',
        serial: serialOf('KS2', 33_017),
        firmware: plan.boot ?? '5.1',
        software: release,
        replaceable: true,
        description: 'Supervisor module',
      });
      continue;
    }
    const card = cards[slot];
    if (!card) continue;
    build.add(container, entityClass.module, 1, card.model, {
      model: card.series,
      serial: serialOf(card.series, card.first),
      software: release,
      replaceable: true,
      description: `Line card ${card.model}`,
    });
    for (let at = 1; at <= card.ports; at++)
      ports.push(
        port(name, 'Kestrane', slot * 100 + at, `${slot}/${at}`, { speedMbps: card.speedMbps, mtu: 9216, ...trunk }),
      );
  }
  for (const supply of [1, 2, 3])
    build.add(chassis, entityClass.powerSupply, 10 + supply, `Supply ${supply}`, {
      description: 'AC supply 1,800 W',
      model: 'KP-1800',
      serial: serialOf('KP18', 11_420),
      replaceable: true,
    });
  for (const tray of [1, 2, 3])
    build.add(chassis, entityClass.fan, 20 + tray, `Fan tray ${tray}`, {
      model: 'KF-8',
      serial: serialOf('KF8', 60_100),
      replaceable: true,
    });
  ports.push(
    port(name, 'Kestrane', 1001, 'agg1', {
      ifType: 161,
      speedMbps: 20_000,
      mtu: 9216,
      ...trunk,
      mac: macFor('Kestrane', `${name} agg1`),
    }),
  );
  for (const { vlan, address } of gateways)
    ports.push(
      port(name, 'Kestrane', 2000 + vlan, `vlan${vlan}`, {
        ifType: 136,
        oper: 'up',
        bridged: false,
        mac: macFor('Kestrane', name),
        addresses: [{ address, length: 24 }],
      }),
    );
  return {
    ...base(plan, 'Kestrane', 8, 'K-Core 8', ports, build.modules, {
      memoryMB: plan.memoryMB ?? 4096,
      flashMB: 2048,
      flashFreeMB: plan.flashFreeMB ?? 900,
      boot: plan.boot ?? '5.1',
      bootImage: `k-core-${release}.img`,
      standbyReady: true,
      saved: plan.saved ?? true,
    }),
    services: 78,
    moduleMemoryMB: { 'Supervisor A': 4096, 'Supervisor B': plan.supervisorMB ?? 4096 },
  };
}

/** K-Dist 32: thirty-two 10G ports of which the last two lead up. */
export function distributionSwitch(plan: SwitchPlan): SimDevice {
  const { name, release, serial } = plan;
  const build = new ModuleBuilder();
  const chassis = build.add(0, entityClass.chassis, 1, name, {
    description: 'K-Dist 32 chassis',
    model: 'K-Dist 32',
    serial,
    hardware: 'B',
    firmware: plan.boot ?? '4.0',
    software: release,
    replaceable: true,
  });
  for (const supply of [1, 2])
    build.add(chassis, entityClass.powerSupply, supply, `Supply ${supply}`, {
      description: 'AC supply 650 W',
      model: 'KP-650',
      serial: serialOf('KP65', 14_702),
      replaceable: true,
    });
  for (const tray of [1, 2])
    build.add(chassis, entityClass.fan, 10 + tray, `Fan tray ${tray}`, {
      model: 'KF-4',
      serial: serialOf('KF4', 51_220),
      replaceable: true,
    });
  const ports = Array.from({ length: 32 }, (_, at) =>
    port(name, 'Kestrane', at + 1, String(at + 1), { speedMbps: 10_000, mtu: 9216, ...trunk }),
  );
  ports.push(
    port(name, 'Kestrane', 201, 'vlan70', {
      ifType: 136,
      oper: 'up',
      bridged: false,
      mac: macFor('Kestrane', name),
      addresses: [{ address: plan.address, length: 24 }],
      alias: 'management',
    }),
  );
  return base(plan, 'Kestrane', 32, 'K-Dist 32', ports, build.modules, {
    memoryMB: plan.memoryMB ?? 2048,
    flashMB: plan.flashMB ?? 1024,
    flashFreeMB: plan.flashFreeMB ?? 480,
    boot: plan.boot ?? '4.0',
  });
}

function base(
  plan: SwitchPlan,
  maker: MakerName,
  modelNumber: number,
  model: string,
  ports: SimPort[],
  modules: SimModule[],
  own: SimDevice['own'],
): SimDevice {
  return {
    name: plan.name,
    address: plan.address,
    maker,
    modelNumber,
    model,
    description: `${maker} ${model}, release ${plan.release}, boot ${own?.boot ?? ''}`,
    location: plan.location,
    services: 2,
    mac: macFor(maker, plan.name),
    release: plan.release,
    ports,
    modules,
    bridge: true,
    lldp: true,
    ...(own && { own }),
    access: 'v3',
    uptimeSeconds: (plan.uptimeDays ?? 120) * 86_400,
  };
}

/** Orrery edge router or firewall. */
export function orreryBox(plan: SwitchPlan, kind: 'E4' | 'F2'): SimDevice {
  const build = new ModuleBuilder();
  const chassis = build.add(0, entityClass.chassis, 1, plan.name, {
    description: `Orrery ${kind} chassis`,
    model: `Orrery ${kind}`,
    serial: plan.serial,
    hardware: '2',
    firmware: plan.boot ?? '1.9',
    software: plan.release,
    replaceable: true,
  });
  for (const supply of [1, 2])
    build.add(chassis, entityClass.powerSupply, supply, `Supply ${supply}`, {
      model: 'OP-450',
      serial: serialOf('OP', 45_011),
      replaceable: true,
      description: 'AC supply 450 W',
    });
  const ports = Array.from({ length: 8 }, (_, at) =>
    port(plan.name, 'Orrery', at + 1, `wan${at + 1}`, { speedMbps: 10_000, bridged: false, mtu: 9216 }),
  );
  const inside = ports[0];
  if (inside) inside.addresses = [{ address: plan.address, length: 24 }];
  return {
    ...base(plan, 'Orrery', kind === 'E4' ? 4 : 2, `Orrery ${kind}`, ports, build.modules, {
      memoryMB: plan.memoryMB ?? 8192,
      flashMB: 4096,
      flashFreeMB: plan.flashFreeMB ?? 1900,
      boot: plan.boot ?? '1.9',
    }),
    description: `Orrery ${kind} ${kind === 'E4' ? 'edge router' : 'firewall'}, release ${plan.release}`,
    bridge: false,
    services: kind === 'E4' ? 4 : 76,
  };
}

/** Brannick server: memory sockets and drive bays, some of them empty; no neighbour protocol. */
export function server(plan: SwitchPlan, kind: 'R1' | 'R2', sockets: number): SimDevice {
  const build = new ModuleBuilder();
  const chassis = build.add(0, entityClass.chassis, 1, plan.name, {
    description: `Brannick ${kind} chassis`,
    model: `Brannick ${kind}`,
    serial: plan.serial,
    firmware: plan.boot ?? '2.14.1',
    software: plan.release,
    replaceable: true,
  });
  for (const at of [1, 2])
    build.add(chassis, entityClass.cpu, at, `CPU ${at}`, { description: '16-core processor', model: 'BC-16' });
  for (let at = 1; at <= 8; at++) {
    const socket = build.add(chassis, entityClass.container, 10 + at, `Memory socket ${at}`, {
      description: 'Memory socket',
    });
    if (at <= sockets)
      build.add(socket, entityClass.module, 1, `DIMM ${at}`, {
        description: '16 GB memory DIMM',
        model: 'BM-16',
        serial: serialOf('BM', 602_114, 3),
        replaceable: true,
      });
  }
  for (let at = 1; at <= 4; at++) {
    const bay = build.add(chassis, entityClass.container, 30 + at, `Drive bay ${at}`, { description: 'Drive bay' });
    if (at <= 2)
      build.add(bay, entityClass.module, 1, `Drive ${at}`, {
        description: '960 GB drive',
        model: 'BD-960',
        serial: serialOf('BD', 71_600, 11),
        replaceable: true,
      });
  }
  for (const supply of [1, 2])
    build.add(chassis, entityClass.powerSupply, 40 + supply, `Supply ${supply}`, {
      model: 'BP-750',
      serial: serialOf('BP', 90_310),
      replaceable: true,
      description: 'AC supply 750 W',
    });
  const ports = ['eth0', 'eth1', 'eth2', 'eth3'].map((name, at) =>
    port(plan.name, 'Brannick', at + 1, name, { bridged: false, speedMbps: 10_000 }),
  );
  const first = ports[0];
  if (first) first.addresses = [{ address: plan.address, length: 24 }];
  ports.push(
    port(plan.name, 'Brannick', 9, 'lo', {
      ifType: 24,
      oper: 'up',
      bridged: false,
      mac: '',
      speedMbps: 0,
      addresses: [{ address: '127.0.0.1', length: 8 }],
      mtu: 65_536,
    }),
  );
  return {
    ...base(plan, 'Brannick', kind === 'R1' ? 1 : 2, `Brannick ${kind}`, ports, build.modules, undefined),
    description: `Brannick ${kind} server, system ${plan.release}, BIOS ${plan.boot ?? '2.14.1'}`,
    bridge: false,
    lldp: false,
    services: 72,
    access: 'v2c',
    host: {
      memoryMB: sockets * 16_384,
      storage: [
        { name: 'Physical memory', type: 2, megabytes: sockets * 16_384, usedMB: sockets * 9000 },
        { name: '/', type: 4, megabytes: 200_000, usedMB: 61_000 },
        { name: '/srv', type: 4, megabytes: 700_000, usedMB: 410_000 },
      ],
      processors: ['16-core processor', '16-core processor'],
    },
  };
}

/** Small single-port boxes: access points, the wireless controller, a power unit. */
export function smallBox(
  plan: SwitchPlan,
  maker: MakerName,
  model: string,
  modelNumber: number,
  kind: string,
  portCount: number,
): SimDevice {
  const build = new ModuleBuilder();
  build.add(0, entityClass.chassis, 1, plan.name, {
    description: `${model} ${kind}`,
    model,
    serial: plan.serial,
    software: plan.release,
    replaceable: true,
  });
  const ports = Array.from({ length: portCount }, (_, at) =>
    port(plan.name, maker, at + 1, `lan${at + 1}`, {
      bridged: false,
      ...(at === 0 && { addresses: [{ address: plan.address, length: 24 }] }),
    }),
  );
  return {
    ...base(plan, maker, modelNumber, model, ports, build.modules, undefined),
    description: `${maker} ${model} ${kind}, release ${plan.release}`,
    bridge: false,
    lldp: kind === 'access point',
    services: 64,
    access: 'v2c',
    ...(kind === 'power unit' && { ups: { chargePercent: 98, minutesLeft: 47, loadPercent: 31, onBattery: false } }),
  };
}

/** Fenmoor leaf: sixteen ports towards machines, two uplinks; it speaks RESTCONF and no SNMP. */
export function leafSwitch(plan: SwitchPlan): SimDevice {
  const build = new ModuleBuilder();
  const chassis = build.add(0, entityClass.chassis, 1, plan.name, {
    description: 'Fen L32 chassis',
    model: 'Fen L32',
    serial: plan.serial,
    hardware: '1',
    software: plan.release,
    replaceable: true,
  });
  for (const supply of [1, 2])
    build.add(chassis, entityClass.powerSupply, supply, `Supply ${supply}`, {
      model: 'FP-650',
      serial: serialOf('FP', 55_021),
      replaceable: true,
      description: 'AC supply 650 W',
    });
  build.add(chassis, entityClass.container, 5, 'Module bay', { description: 'Module bay' });
  const ports = Array.from({ length: 16 }, (_, at) =>
    port(plan.name, 'Fenmoor', at + 1, `e1/${at + 1}`, { bridged: false, speedMbps: 10_000, mtu: 9216 }),
  );
  for (const at of [49, 50])
    ports.push(port(plan.name, 'Fenmoor', at, `e1/${at}`, { bridged: false, speedMbps: 100_000, mtu: 9216 }));
  ports.push(
    port(plan.name, 'Fenmoor', 99, 'mgmt0', {
      ifType: 136,
      oper: 'up',
      bridged: false,
      addresses: [{ address: plan.address, length: 24 }],
    }),
  );
  return {
    ...base(plan, 'Fenmoor', 32, 'Fen L32', ports, build.modules, undefined),
    description: `FenOS, release ${plan.release}, Fen L32`,
    bridge: false,
    services: 2,
    access: 'restconf',
  };
}
