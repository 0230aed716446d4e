import { describe, expect, test } from '@jest/globals';
import { generateNetwork, usualPlan, type NetworkPlan } from '../../../bench/networks/network';
import { scoreLinks } from '../../../bench/networks/scoreLinks';
import type { DeviceFacts, NeighbourFacts, PortFacts, Role } from '../estate/facts';
import { heardTables, type SightedDevice } from '../switching/heardTables';
import { conclude } from './conclude';
import type { LinkFacts } from './links';

const bridge = (id: number) => `02:4b:45:00:${id.toString(16).padStart(2, '0')}:00`;
const machine = (number: number) => `02:43:41:00:00:${number.toString(16).padStart(2, '0')}`;
const port = (index: number, more: Partial<PortFacts> = {}): PortFacts => ({
  index,
  name: String(index),
  alias: '',
  description: '',
  type: 'ethernet',
  physical: true,
  admin: 'up',
  oper: 'up',
  speedBps: 1e9,
  duplex: 'full',
  mtu: 1500,
  mac: null,
  vlan: 10,
  taggedVlans: [],
  addresses: [],
  lag: null,
  stp: null,
  poe: null,
  ...more,
});
const lag = (name: string, more: Partial<PortFacts> = {}) =>
  port(90, { name, type: 'lag', physical: false, speedBps: null, ...more });
const hears = (at: string, other: number, otherPort: string): NeighbourFacts => ({
  port: at,
  chassisId: bridge(other),
  chassisIdSubtype: 'macAddress',
  portId: otherPort,
  portIdSubtype: 'interfaceName',
  portDescription: '',
  systemName: `sw-${other}`,
  systemDescription: '',
  capabilities: ['bridge'],
  managementAddresses: [],
});
function device(
  id: number,
  more: Partial<SightedDevice> & { role?: Role } = {},
  rows: [mac: string, port: string][] = [],
): SightedDevice {
  const { role = 'switch', ...rest } = more;
  return {
    id,
    ports: [1, 2, 3, 4].map((at) => port(at)),
    neighbours: [],
    heard: heardTables({ forwarding: rows.map(([mac, at]) => ({ mac, port: at, vlan: 10 })), addresses: [] }),
    answered: true,
    device: {
      name: `sw-${id}`,
      role,
      address: `10.72.0.${id}`,
      addresses: [],
      units: [],
      bridgeAddress: role === 'switch' ? bridge(id) : null,
    } as unknown as DeviceFacts,
    ...rest,
  };
}
const said = (links: LinkFacts[]) =>
  links.map(
    ({ a, b, confidence, kind, segment }) =>
      `${a.device} ${a.port} – ${b.device} ${b.port}: ${confidence}${kind === 'ethernet' ? '' : ` ${kind}`}${segment ? ' segment' : ''}`,
  );
const linksOf = (...devices: SightedDevice[]) => conclude(devices).links;

describe('what one end hears by spanning tree', () => {
  const stp = (role: string, designated: number | null, designatedPort: number, number: number): PortFacts['stp'] => ({
    state: role === 'alternate' ? 'blocking' : 'forwarding',
    role,
    designatedBridge: designated === null ? null : bridge(designated),
    designatedPort,
    number,
  });
  const upper = (more: Partial<SightedDevice> = {}) =>
    device(1, { ports: [port(1), port(2, { stp: stp('designated', 1, 102, 102) })], ...more });
  test('is a link to the port that speaks for the segment, by the numbers of bridge ports', () => {
    expect(said(linksOf(upper(), device(2, { ports: [port(3, { stp: stp('root', 1, 102, 7) })] })))).toEqual([
      'sw-1 2 – sw-2 3: claimed',
    ]);
  });
  test('also where it rests; with the word of the other end it is confirmed', () => {
    const [link] = linksOf(
      upper({ neighbours: [hears('2', 2, '3')] }),
      device(2, { ports: [port(3, { stp: stp('alternate', 1, 102, 7) })] }),
    );
    expect(link).toMatchObject({ confidence: 'confirmed', blocked: true, issues: [] });
    expect(link?.evidence.map(({ source, by }) => [source, by])).toEqual([
      ['lldp', 'sw-1'],
      ['spanningTree', 'sw-2'],
    ]);
  });
  test('is nothing where it is the bridge itself, a port that nobody numbered, or a bridge that nobody asked', () => {
    for (const port3 of [stp('designated', 2, 7, 7), stp('root', 1, 55, 7), stp('root', 9, 1, 7)])
      expect(linksOf(upper(), device(2, { ports: [port(3, { stp: port3 })] }))).toEqual([]);
  });
});

describe('forwarding tables alone', () => {
  /** 1 – 2 – 3 in a line over ports 1 and 2, a machine at each */
  const line = (between: [string, string][] = []) => [
    device(1, {}, [
      [bridge(2), '2'],
      [bridge(3), '2'],
      [machine(2), '2'],
      [machine(3), '2'],
      [machine(1), '4'],
      ...between,
    ]),
    device(2, {}, [
      [bridge(1), '1'],
      [bridge(3), '2'],
      [machine(1), '1'],
      [machine(3), '2'],
      [machine(2), '4'],
    ]),
    device(3, {}, [
      [bridge(2), '1'],
      [bridge(1), '1'],
      [machine(1), '1'],
      [machine(2), '1'],
      [machine(3), '4'],
    ]),
  ];
  test('join neighbours and nobody further on', () => {
    expect(said(linksOf(...line()))).toEqual(['sw-1 2 – sw-2 1: concluded', 'sw-2 2 – sw-3 1: concluded']);
    expect(linksOf(...line())[0]?.evidence[0]?.detail).toMatch(/^sw-1 hears on 2 what is at sw-2 and beyond/);
  });
  test('say nothing where an end says it itself', () => {
    const [one, two, three] = line();
    expect(
      said(
        linksOf(
          { ...(one as SightedDevice), neighbours: [hears('2', 2, '1')] },
          two as SightedDevice,
          three as SightedDevice,
        ),
      ),
    ).toEqual(['sw-1 2 – sw-2 1: claimed', 'sw-2 2 – sw-3 1: concluded']);
  });
  test('tell of something that nobody asked, where three meet in it or machines hang on it', () => {
    const star = [1, 2, 3].map((id) =>
      device(
        id,
        {},
        [1, 2, 3]
          .filter((other) => other !== id)
          .flatMap((other): [string, string][] => [
            [bridge(other), '1'],
            [machine(other), '1'],
          ])
          .concat([[machine(id), '4']]),
      ),
    );
    expect(said(linksOf(...star))).toEqual([
      'sw-1 1 – sw-2 1: concluded segment',
      'sw-1 1 – sw-3 1: concluded segment',
      'sw-2 1 – sw-3 1: concluded segment',
    ]);
    const loose = [11, 12, 13].map((number): [string, string] => [machine(number), '2']);
    const seen = [11, 12, 13].map((number): [string, string] => [machine(number), '1']);
    const [one, two] = [
      device(1, {}, [[bridge(2), '2'], [machine(2), '2'], ...loose]),
      device(2, {}, [[bridge(1), '1'], [machine(2), '4'], ...seen]),
    ];
    expect(said(linksOf(one, two))).toEqual(['sw-1 2 – sw-2 1: concluded segment']);
  });
});

describe('several claims', () => {
  const aggregated = (id: number) => [
    port(1, { lag: 'agg1' }),
    port(2, { lag: 'agg1', ...(id === 2 && { duplex: 'half' }) }),
    port(3, { lag: 'agg1' }),
    lag('agg1', { mtu: id === 2 ? 9216 : 1500 }),
  ];
  test('about members of aggregates are one link, whose members are compared one by one and whose settings once', () => {
    const [link, ...others] = linksOf(
      device(1, { ports: aggregated(1), neighbours: [hears('1', 2, '1'), hears('2', 2, '2')] }),
      device(2, { ports: aggregated(2), neighbours: [hears('1', 1, '1')] }),
    );
    expect(others).toEqual([]);
    expect(link).toMatchObject({
      kind: 'lag',
      confidence: 'confirmed',
      speedBps: 3e9,
      members: [
        { a: '1', b: '1' },
        { a: '2', b: '2' },
        { a: '3', b: '' },
        { a: '', b: '3' },
      ],
    });
    expect(link?.issues.map(({ words }) => words)).toEqual([
      'duplex differs: sw-1 2 has full, sw-2 2 has half',
      'MTU differs: sw-1 agg1 has 1500, sw-2 agg1 has 9216',
    ]);
  });
  test('of which only one end is an aggregate say so', () => {
    const [link] = linksOf(device(1, { ports: aggregated(1), neighbours: [hears('1', 2, '1')] }), device(2));
    expect(link).toMatchObject({
      kind: 'ethernet',
      issues: [{ kind: 'aggregation', words: 'aggregation differs: sw-1 1 is a member of agg1, sw-2 1 of none' }],
    });
  });
  test('that share a port contradict each other, or something passes reports on', () => {
    const against = linksOf(
      device(1, { neighbours: [hears('1', 2, '3')] }),
      device(2, { neighbours: [hears('3', 3, '1')] }),
      device(3),
    );
    expect(
      against.map(({ issues }) => issues.filter(({ kind }) => kind !== 'oneSided').map(({ words }) => words)),
    ).toEqual([
      ['contradiction: sw-2 3 is told to lead to sw-1 1, and to sw-3 1'],
      ['contradiction: sw-2 3 is told to lead to sw-3 1, and to sw-1 1'],
    ]);
    const hub = linksOf(device(1, { neighbours: [hears('1', 2, '3'), hears('1', 3, '1')] }), device(2), device(3));
    expect(hub.map(({ issues }) => issues.map(({ kind }) => kind))).toEqual([['shared'], ['shared']]);
  });
  test('a subnet for two is more evidence for a cable, and a link of its own where there is none', () => {
    const alone = (address: string, at: string, vrf?: string) => [
      { address, prefixLength: 30, port: at, ...(vrf && { vrf }) },
    ];
    const joined = linksOf(
      device(1, { neighbours: [hears('1', 2, '3')], subnets: alone('10.72.99.1', '1') }),
      device(2, { subnets: alone('10.72.99.2', '3') }),
    );
    expect([said(joined), joined[0]?.evidence.map(({ source }) => source)]).toEqual([
      ['sw-1 1 – sw-2 3: claimed'],
      ['lldp', 'subnet'],
    ]);
    expect(
      said(linksOf(device(1, { subnets: alone('10.72.99.1', '1') }), device(2, { subnets: alone('10.72.99.2', '3') }))),
    ).toEqual(['sw-1 1 – sw-2 3: concluded l3']);
    // a third one is there, or the subnet has room for more
    expect(
      linksOf(
        device(1, { subnets: alone('10.72.99.1', '1') }),
        device(2, { subnets: alone('10.72.99.2', '3') }),
        device(3, { subnets: alone('10.72.99.2', '4') }),
      ),
    ).toEqual([]);
    expect(
      linksOf(
        device(1, { subnets: [{ address: '10.72.98.1', prefixLength: 24, port: '1' }] }),
        device(2, { subnets: [{ address: '10.72.98.2', prefixLength: 24, port: '1' }] }),
      ),
    ).toEqual([]);
  });
  test('a virtual machine hangs on its host, whatever port its frames are heard on', () => {
    const host = device(4, {
      role: 'hypervisor',
      ports: [port(1, { name: 'eth0', mac: machine(40) })],
      machines: [{ host: '', state: 'running', adapters: [{ mac: machine(41), port: 'eth0', network: null }] }],
    });
    const guest = device(5, { role: 'virtual-machine', ports: [port(1, { name: 'ens3', mac: machine(41) })] });
    expect(
      said(
        linksOf(
          device(1, {}, [
            [machine(40), '3'],
            [machine(41), '3'],
          ]),
          host,
          guest,
        ),
      ),
    ).toEqual(['sw-1 3 – sw-4 eth0: concluded', 'sw-4  – sw-5 ens3: concluded virtual']);
  });
});

describe('on networks of which everything is known', () => {
  const scored = (more: Partial<NetworkPlan>) => {
    const network = generateNetwork({ ...usualPlan, sites: 4, spanning: 0.9, ...more });
    return scoreLinks(network, conclude(network.devices).links);
  };
  test.each([1, 2, 3])(
    'network %i: links that are heard are nearly all found and right, and of the others most',
    (seed) => {
      const { heard, unheard, members } = scored({ seed });
      expect(heard.precision).toBeGreaterThanOrEqual(0.995);
      expect(heard.recall).toBeGreaterThanOrEqual(0.99);
      expect(unheard.precision).toBeGreaterThanOrEqual(0.95);
      expect(unheard.recall).toBeGreaterThanOrEqual(0.85);
      expect(members.told).toBeGreaterThan(0);
      expect(members.right).toBe(members.told);
    },
  );
  test('their order says nothing', () => {
    const { devices } = generateNetwork({ ...usualPlan, sites: 1, spanning: 0.5, speaking: 0.4 });
    expect(conclude([...devices].reverse()).links).toEqual(conclude(devices).links);
  });
});

describe('rings in which no port rests', () => {
  const at = (
    id: number,
    role: Role,
    ends: [port: number, other: number, otherPort: number][],
    more: Partial<PortFacts> = {},
  ) =>
    device(id, {
      role,
      ports: ends.map(([own]) => port(own, { taggedVlans: [20], ...more })),
      neighbours: ends.map(([own, other, otherPort]) => hears(String(own), other, String(otherPort))),
    });
  const ring = (more: Partial<PortFacts> = {}, third: Role = 'switch') => [
    at(1, 'switch', [
      [1, 2, 2],
      [2, 3, 1],
    ]),
    at(
      2,
      'switch',
      [
        [1, 3, 2],
        [2, 1, 1],
      ],
      more,
    ),
    at(3, third, [
      [1, 1, 2],
      [2, 2, 1],
    ]),
  ];
  const loops = (devices: SightedDevice[]) =>
    linksOf(...devices).flatMap(({ issues }) => issues.filter(({ kind }) => kind === 'loop').map(({ words }) => words));
  test('are told at each of their links, with the VLANs that go round', () => {
    expect(loops(ring())).toEqual(Array(3).fill('loop in which no port rests: sw-1 – sw-2 – sw-3, in VLAN 10, 20'));
    expect(loops(ring({ vlan: 30, taggedVlans: [20] }))).toEqual(
      Array(3).fill('loop in which no port rests: sw-1 – sw-2 – sw-3, in VLAN 20'),
    );
    expect(
      loops([
        at(1, 'switch', [
          [1, 2, 1],
          [2, 2, 2],
        ]),
        at(2, 'switch', [
          [1, 1, 1],
          [2, 1, 2],
        ]),
      ]),
    ).toHaveLength(2);
  });
  test('are none where a port rests or is down, a router stands between, or no VLAN goes all the way', () => {
    const resting = ring();
    const port1 = resting[1]?.ports[0];
    if (port1) port1.stp = { state: 'blocking', role: 'alternate', designatedBridge: null };
    expect(loops(resting)).toEqual([]);
    expect(loops(ring({ oper: 'down' }))).toEqual([]);
    expect(loops(ring({}, 'router'))).toEqual([]);
    expect(loops(ring({ vlan: 30, taggedVlans: [40] }))).toEqual([]);
  });
});

describe('what a controller says', () => {
  const told = (b: string, up = true) => ({
    a: { device: 'sw-1', port: '2' },
    b: { device: 'sw-2', port: b },
    kind: 'ethernet' as const,
    up,
  });
  const controller = (...links: ReturnType<typeof told>[]) =>
    device(9, { role: 'wireless-controller', toldLinks: links });
  test('is a claim of somebody who is at neither end; what an end says too is the same link', () => {
    expect(said(linksOf(device(1), device(2), controller(told('3'))))).toEqual(['sw-1 2 – sw-2 3: claimed']);
    const [link] = linksOf(device(1, { neighbours: [hears('2', 2, '3')] }), device(2), controller(told('')));
    expect([said(link ? [link] : []), link?.evidence.map(({ source }) => source)]).toEqual([
      ['sw-1 2 – sw-2 3: claimed'],
      ['lldp', 'controller'],
    ]);
  });
  test('is nothing of a link that is down, or of devices that are not in the estate', () => {
    expect(linksOf(device(1), device(2), controller(told('3', false)))).toEqual([]);
    expect(linksOf(device(1), controller(told('3')))).toEqual([]);
  });
});

test('cards of a chassis are joined to its backplane, by the word of the device', () => {
  expect(
    said(
      linksOf(
        device(1, {
          toldLinks: [
            {
              a: { device: 'sw-1', port: 'Backplane' },
              b: { device: 'sw-1', port: 'Card 3' },
              kind: 'stack',
              up: true,
            },
          ],
        }),
      ),
    ),
  ).toEqual(['sw-1 Backplane – sw-1 Card 3: claimed stack']);
});

test('the units of a stack are joined, by the word of the device', () => {
  const stack = device(1);
  const unit = (name: string) => ({ name, model: 'K-Access 48', serial: `KA48-${name}` });
  expect(
    said(linksOf({ ...stack, device: { ...stack.device, units: ['unit 10', 'unit 1', 'unit 2'].map(unit) } })),
  ).toEqual(['sw-1 unit 1 – sw-1 unit 2: claimed stack', 'sw-1 unit 2 – sw-1 unit 10: claimed stack']);
});
