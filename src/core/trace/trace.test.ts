import { describe, expect, test } from '@jest/globals';
import type { AddressFacts, PortFacts, RouteFacts } from '../estate/facts';
import type { LinkFacts } from '../topology/links';
import { BridgedWays, type BridgedNetwork } from './layer2';
import { longestRoutes, RoutedWays, type RoutingDevice } from './layer3';
import { trace, type Trace, type TraceEnd, type TraceKnowledge } from './trace';

const port = (more: Partial<PortFacts> = {}): PortFacts => ({
  index: 1,
  name: '1',
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
  vlan: 70,
  taggedVlans: [10],
  addresses: [],
  lag: null,
  stp: null,
  poe: null,
  ...more,
});
const link = (a: number, aPort: string, b: number, bPort: string, more: Partial<LinkFacts> = {}): LinkFacts => ({
  a: { deviceId: a, device: `d${a}`, port: aPort },
  b: { deviceId: b, device: `d${b}`, port: bPort },
  kind: 'ethernet',
  confidence: 'confirmed',
  evidence: [],
  speedBps: null,
  blocked: false,
  issues: [],
  ...more,
});
const network = (
  links: LinkFacts[],
  ports: Record<string, Partial<PortFacts>> = {},
  roles: Record<number, 'router' | 'server'> = {},
): BridgedNetwork => ({
  links,
  roleOf: (id) => roles[id] ?? 'switch',
  nameOf: (id) => `d${id}`,
  portOf: (id, name) => port(ports[`${id} ${name}`]),
});
const told = (given: BridgedNetwork, from: number, to: number, vlan: number | null) => {
  const { hops, gap } = new BridgedWays(given).way({ deviceId: from, port: 'in' }, { deviceId: to, port: 'out' }, vlan);
  return [hops.map((hop) => `${hop.in ?? ''}>d${hop.deviceId}>${hop.out ?? ''}`).join(' '), gap];
};

describe('the way of frames', () => {
  const ring = (more: Partial<LinkFacts> = {}) => [
    link(1, '1', 2, '2'),
    link(2, '3', 3, '1'),
    link(1, '4', 3, '4', more),
  ];
  test('goes over the fewest links that forward, port by port', () => {
    expect(told(network(ring()), 1, 3, 10)).toEqual(['in>d1>4 4>d3>out', null]);
    expect(told(network(ring({ blocked: true })), 1, 3, 10)).toEqual(['in>d1>1 2>d2>3 1>d3>out', null]);
    expect(told(network([]), 1, 1, 10)).toEqual(['in>d1>out', null]);
  });
  test('crosses no port that does not carry the VLAN, is down, or belongs to what passes nothing on', () => {
    expect(told(network(ring(), { '3 4': { taggedVlans: [20] } }), 1, 3, 10)).toEqual([
      'in>d1>1 2>d2>3 1>d3>out',
      null,
    ]);
    expect(told(network(ring(), { '3 4': { oper: 'down' } }), 1, 3, null)).toEqual(['in>d1>1 2>d2>3 1>d3>out', null]);
    expect(told(network(ring({ blocked: true }), {}, { 2: 'router' }), 1, 3, 10)).toEqual([
      'in>d1>',
      'the link d1 4 – d3 4 rests: spanning tree blocks it',
    ]);
  });
  test('says how far it goes and what stops it', () => {
    expect(
      told(network([link(1, '1', 2, '2'), link(2, '3', 3, '1')], { '3 1': { taggedVlans: [20] } }), 1, 3, 10),
    ).toEqual(['in>d1>1 2>d2>', 'd3 1 does not carry VLAN 10']);
    expect(told(network([link(1, '1', 2, '2')]), 1, 3, 10)).toEqual([
      'in>d1>',
      'no link is known by which d1 and d3 are joined',
    ]);
  });
  test('of links that lead equally far takes the surest', () => {
    expect(
      told(network([link(1, '1', 2, '1', { confidence: 'concluded' }), link(1, '2', 2, '2')]), 1, 2, null),
    ).toEqual(['in>d1>2 2>d2>out', null]);
  });
});

const route = (destination: string, nextHop: string | null, more: Partial<RouteFacts> = {}): RouteFacts => ({
  destination,
  nextHop,
  port: 'p',
  protocol: 'ospf',
  vrf: '',
  ...more,
});
const own = (address: string, prefixLength: number, vrf?: string): AddressFacts => ({
  address,
  prefixLength,
  port: 'p',
  ...(vrf && { vrf }),
});
const router = (deviceId: number, addresses: AddressFacts[], routes: RouteFacts[]): RoutingDevice => ({
  deviceId,
  name: `r${deviceId}`,
  addresses,
  routes,
  unread: 0,
});

describe('the way of packets', () => {
  const core = router(
    1,
    [own('10.72.3.1', 24), own('10.72.0.1', 24)],
    [route('10.72.3.0/24', null), route('10.72.0.0/16', '10.72.0.2'), route('0.0.0.0/0', '10.72.0.9')],
  );
  const edge = router(
    2,
    [own('10.72.0.2', 24), own('10.72.9.1', 24)],
    [route('10.72.9.0/24', null), route('0.0.0.0/0', '10.72.0.1')],
  );
  const ways = new RoutedWays([core, edge]);
  const followed = (destination: string, vrf = '', of = ways) => {
    const { hops, gap } = of.way(1, vrf, destination);
    return [hops.map(({ deviceId, route: { destination: by } }) => `r${deviceId} ${by}`).join(', '), gap];
  };
  test('follows the longest prefix to whoever has the network on a port', () => {
    expect(followed('10.72.3.7')).toEqual(['r1 10.72.3.0/24', null]);
    expect(followed('10.72.9.7')).toEqual(['r1 10.72.0.0/16, r2 10.72.9.0/24', null]);
  });
  test('ends where nobody knows further, and does not go round', () => {
    expect(followed('192.0.2.1')).toEqual(['r1 0.0.0.0/0', 'the next hop 10.72.0.9 is no device that is known']);
    expect(followed('10.72.8.1')).toEqual([
      'r1 10.72.0.0/16, r2 0.0.0.0/0',
      'r1 was passed before: the packet goes round until its time to live is over',
    ]);
    expect(followed('10.72.9.7', 'ticketing')).toEqual([
      '',
      'r1 has no route to 10.72.9.7 in virtual router ticketing',
    ]);
    expect(followed('2001:db8::1')).toEqual(['', 'r1 has no route to 2001:db8::1']);
    expect(followed('10.72.9.7', '', new RoutedWays([core, router(2, [own('10.72.0.2', 24)], [])]))).toEqual([
      'r1 10.72.0.0/16',
      'r2 tells no routes',
    ]);
    expect(
      followed(
        '10.72.9.7',
        '',
        new RoutedWays([core, { ...router(2, [own('10.72.0.2', 24)], []), unread: 90_000 }]),
      )[1],
    ).toBe('r2 has no route to 10.72.9.7 among those that were read; it has 90000 more');
  });
  test('gateways of an address are those with routes in the narrowest network around it', () => {
    expect(ways.gatewaysOf('10.72.3.99')).toMatchObject({
      network: '10.72.3.0/24',
      devices: [{ device: { deviceId: 1 } }],
    });
    expect(ways.gatewaysOf('10.72.0.50')?.devices.map(({ device }) => device.name)).toEqual(['r1', 'r2']);
    expect(ways.gatewaysOf('192.0.2.1')).toBeNull();
  });
  test('a network on a port of its own goes before what is learned, and equals are told', () => {
    const [first, second] = longestRoutes(
      [route('10.0.0.0/8', '10.9.9.9'), route('10.0.0.0/8', null), route('0.0.0.0/0', null)],
      '',
      '10.1.1.1',
    );
    expect([first?.nextHop, second?.nextHop]).toEqual([null, '10.9.9.9']);
  });
});

describe('a trace', () => {
  // a machine on d4, bridged to the gateway d1, routed over a transit network to d2, where the other hangs on d5
  const links = [link(4, 'U1', 1, '4'), link(1, '8', 2, '8'), link(2, '5', 5, 'U1')];
  const knowledge = (more: Partial<TraceKnowledge> = {}): TraceKnowledge => ({
    bridged: new BridgedWays(network(links)),
    nameOf: (id) => `d${id}`,
    vlanOf: () => null,
    listedAt: () => null,
    routed: new RoutedWays([
      {
        deviceId: 1,
        name: 'd1',
        unread: 0,
        addresses: [own('10.72.3.1', 24), own('10.72.254.1', 24)],
        routes: [route('10.72.3.0/24', null, { protocol: 'local' }), route('10.72.9.0/24', '10.72.254.2')],
      },
      {
        deviceId: 2,
        name: 'd2',
        unread: 0,
        addresses: [own('10.72.9.1', 24), own('10.72.254.2', 24)],
        routes: [route('10.72.9.0/24', null, { protocol: 'local', port: 'vlan9' })],
      },
    ]),
    ...more,
  });
  const end = (words: string, deviceId: number | null, more: Partial<TraceEnd> = {}): TraceEnd => ({
    words,
    mac: null,
    address: words,
    vlan: 10,
    attached: deviceId === null ? null : { deviceId, port: '7' },
    how: '',
    ...more,
  });
  const said = ({ hops, gap }: Trace) => [
    hops
      .map(({ device, does, in: into, out }) => `${into ?? ''}>${device}${does === 'routes' ? '*' : ''}>${out ?? ''}`)
      .join(' '),
    gap,
  ];

  test('goes to the gateway, from router to router, and on to where the other hangs', () => {
    const found = trace(end('10.72.3.7', 4), end('10.72.9.7', 5), knowledge());
    expect(said(found)).toEqual(['7>d4>U1 4>d1*>8 8>d2*>5 U1>d5>7', null]);
    expect(found.hops.map((hop) => hop.route)).toEqual([
      '',
      '10.72.9.0/24 to 10.72.254.2 (ospf)',
      '10.72.9.0/24 on vlan9 (local)',
      '',
    ]);
  });
  test('within one network asks no gateway; in two VLANs of it nothing gets across', () => {
    expect(said(trace(end('10.72.3.7', 4), end('10.72.3.8', 1), knowledge()))).toEqual(['7>d4>U1 4>d1>7', null]);
    expect(said(trace(end('10.72.3.7', 4), end('10.72.3.8', 1, { vlan: 20 }), knowledge()))[1]).toBe(
      '10.72.3.7 and 10.72.3.8 are both in 10.72.3.0/24, so neither asks a gateway, yet one is in VLAN 10 and the other in VLAN 20: no frame gets across',
    );
  });
  test('tells where knowledge ends', () => {
    expect(said(trace(end('10.72.3.7', 4), end('192.0.2.1', null), knowledge()))).toEqual([
      '7>d4>U1 4>d1>',
      'd1 has no route to 192.0.2.1',
    ]);
    expect(said(trace(end('10.72.3.7', 4), end('10.72.9.7', null), knowledge()))[1]).toBe(
      'where 10.72.9.7 hangs is not known',
    );
    expect(said(trace(end('10.1.1.1', 4), end('10.72.9.7', 5, { vlan: 30 }), knowledge()))[1]).toMatch(
      /^no device that tells its routes has an address in the network of 10\.1\.1\.1/,
    );
    expect(
      said(trace(end('a', 4, { address: null }), end('b', 5, { address: null, vlan: 20 }), knowledge()))[1],
    ).toMatch(/who routes between the two is not known/);
    expect(
      said(
        trace(
          end('10.72.3.7', 4),
          end('10.72.9.7', 5),
          knowledge({ bridged: new BridgedWays(network(links.slice(1))) }),
        ),
      ),
    ).toEqual(['7>d4>', 'no link is known by which d4 and d1 are joined']);
  });
  test('says what had to be taken for granted, and goes on', () => {
    const found = trace(
      end('10.72.3.7', null),
      end('10.72.9.7', 5),
      knowledge({ bridged: new BridgedWays(network([link(2, '5', 5, 'U1')])) }),
    );
    expect([said(found), found.notes]).toEqual([
      ['>d1*> >d2*>5 U1>d5>7', null],
      [
        'where 10.72.3.7 hangs is not known: the trace begins at its gateway',
        'no link is known by which d1 and d2 are joined',
      ],
    ]);
  });
  test('a router begins with its own routes, and ends as itself', () => {
    const routers = [
      end('d1', 1, { address: '10.72.3.1', vlan: null, attached: { deviceId: 1, port: null } }),
      end('d2', 2, { address: '10.72.9.1', vlan: null, attached: { deviceId: 2, port: null } }),
    ] as const;
    expect(said(trace(routers[0], end('10.72.9.7', 5), knowledge()))[0]).toBe('>d1*>8 8>d2*>5 U1>d5>7');
    expect(said(trace(routers[0], routers[1], knowledge()))).toEqual(['>d1*>8 8>d2*>', null]);
  });
  test('holds forwarding tables against the way', () => {
    const listed = (deviceId: number) => (deviceId === 5 ? '9' : deviceId === 2 ? '5' : null);
    const { hops } = trace(
      end('10.72.3.7', 4),
      end('10.72.9.7', 5, { mac: '02:00:00:00:00:09' }),
      knowledge({ listedAt: listed }),
    );
    expect(hops.map(({ notes }) => notes.map(({ against }) => against))).toEqual([[], [], [false], [true]]);
  });
});
