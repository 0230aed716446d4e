import type { DeviceReport, ModuleFacts } from '../src/core/estate/facts';
import type { LinkFacts } from '../src/core/topology/links';

/** Supplies, fans, cages with transceivers, and empty cages of a generated switch: 21 modules. @param version another number, another serial of its first supply */
export function modulesOf(n: number, version = 0): ModuleFacts[] {
  const chassis = `sw-${n}`;
  const part = (
    name: string,
    partClass: ModuleFacts['class'],
    order: number,
    more: Partial<ModuleFacts> = {},
  ): ModuleFacts => ({
    path: `${chassis} / ${name}`,
    class: partClass,
    name,
    description: name,
    vendor: 'Kestrane',
    model: '',
    serial: '',
    hardwareRevision: 'A',
    firmwareRevision: n % 2 ? '3.2' : '3.4',
    softwareRevision: '',
    replaceable: true,
    position: order,
    parent: chassis,
    empty: false,
    order,
    ...more,
  });
  return [
    {
      ...part('', 'chassis', 0),
      path: chassis,
      name: chassis,
      parent: null,
      model: n % 3 ? 'K-Access 48' : 'K-Access 24',
      serial: `KA-${100_000 + n}`,
    },
    ...[1, 2].map((at) =>
      part(`Supply ${at}`, 'powerSupply', at, {
        model: 'KP-370',
        serial: `KP-${n}-${at}${at === 1 && version > 0 ? `-${version}` : ''}`,
      }),
    ),
    ...[1, 2].map((at) => part(`Fan tray ${at}`, 'fan', 2 + at, { model: 'KF-2', serial: `KF-${n}-${at}` })),
    ...[1, 2, 3, 4, 5, 6, 7, 8].flatMap((at) => [
      part(`Cage U${at}`, 'container', 4 + at * 2, { empty: at > 4 }),
      ...(at > 4
        ? []
        : [
            part(`Cage U${at} / Transceiver`, 'transceiver', 5 + at * 2, {
              model: 'KX-10LR',
              serial: `KX-${n}-${at}`,
              parent: `${chassis} / Cage U${at}`,
            }),
          ]),
    ]),
    ...[1, 2, 3, 4].map((at) => part(`Temperature ${at}`, 'sensor', 30 + at, { replaceable: false })),
  ];
}

/** What else such a switch tells: VLANs, its addresses, a few listeners and its packages. */
export function restOf(n: number): Pick<DeviceReport, 'addresses' | 'vlans' | 'services' | 'software'> {
  const own = (block: number) => `10.${block + (n >> 16)}.${(n >> 8) & 255}.${n & 255}`;
  return {
    addresses: [64, 96].map((block, at) => ({ address: own(block), prefixLength: 24, port: `vlan${10 + at}` })),
    vlans: Array.from({ length: 8 }, (_, at) => ({ vlan: 10 + at * 10, name: `VLAN ${10 + at * 10}` })),
    services: [22, 161, 443].map((port) => ({
      process: port === 22 ? 'sshd' : port === 161 ? 'agent' : 'httpd',
      path: '',
      arguments: '',
      protocol: port === 161 ? ('udp' as const) : ('tcp' as const),
      address: '*',
      port,
    })),
    software: ['boot', 'system', 'agent'].map((name) => ({
      name,
      version: n % 2 ? '7.4.9' : '7.4.12b',
      kind: 'firmware' as const,
      installedAt: null,
    })),
  };
}

/** Every switch but the first hangs on another, ten on each. */
export function treeOf(devices: number, nameOf: (n: number) => string): LinkFacts[] {
  return Array.from({ length: devices - 1 }, (_, at): LinkFacts => {
    const n = at + 1;
    const above = Math.floor((n - 1) / 10);
    const [a, b] = [
      { deviceId: above + 1, device: nameOf(above), port: String(((n - 1) % 10) + 1) },
      { deviceId: n + 1, device: nameOf(n), port: '48' },
    ];
    return {
      a,
      b,
      kind: 'ethernet',
      confidence: 'confirmed',
      evidence: [{ source: 'lldp', by: a.device, detail: `${a.device} hears ${b.device} (${b.port}) on ${a.port}` }],
      speedBps: 1e10,
      blocked: false,
      issues: [],
    };
  });
}
