import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { FabricEndpointFacts, FabricFacts } from '../estate/facts';
import { endpointsOf, fabricTree, placesOfSubnet } from './fabricTree';

const parts: FabricFacts[] = [
  { kind: 'node', node: 'sgh-spine-1', function: 'spine', reachable: true },
  { kind: 'node', node: 'sgh-leaf-10', function: 'leaf', reachable: true },
  { kind: 'node', node: 'sgh-leaf-2', function: 'leaf', reachable: false },
  {
    kind: 'tenant',
    tenant: 'ticketing',
    contexts: ['cards'],
    domains: [{ domain: 'bd-cards', context: 'cards', subnets: ['10.72.40.1/25'] }],
    groups: [{ group: 'payment', domain: 'bd-cards' }],
  },
  {
    kind: 'tenant',
    tenant: 'operations',
    contexts: [],
    domains: [{ domain: 'bd-ops', context: 'main', subnets: ['10.72.41.1/24', '10.72.40.1/24'] }],
    groups: [
      { group: 'tracking', domain: 'bd-ops' },
      { group: 'gone', domain: 'bd-none' },
    ],
  },
];
const endpoint = (nth: number, more: Partial<FabricEndpointFacts> = {}): FabricEndpointFacts => ({
  mac: `02:42:52:00:00:0${nth}`,
  addresses: [`10.72.40.1${nth}`],
  tenant: 'operations',
  group: 'tracking',
  node: 'sgh-leaf-2',
  port: `e1/${nth}`,
  vlan: 410,
  ...more,
});
const endpoints = [
  endpoint(1),
  endpoint(2),
  endpoint(3, { tenant: 'ticketing', group: 'payment', node: 'sgh-leaf-10' }),
];
const tree = fabricTree(
  parts,
  [{ a: { device: 'sgh-spine-1', port: 'e1/2' }, b: { device: 'sgh-leaf-2', port: 'e1/51' }, kind: 'l3', up: true }],
  endpoints,
);

describe('a fabric', () => {
  test('is its leaves and spines, and the tenants down to their groups, each with its endpoints', () => {
    expect(tree.nodes.map(({ node, endpoints: count, reachable }) => [node, count, reachable])).toEqual([
      ['sgh-leaf-2', 2, false],
      ['sgh-leaf-10', 1, true],
      ['sgh-spine-1', 0, true],
    ]);
    expect(tree.links).toEqual([
      { leaf: 'sgh-leaf-2', leafPort: 'e1/51', spine: 'sgh-spine-1', spinePort: 'e1/2', up: true },
    ]);
    expect(tree.tenants.map(({ tenant, endpoints: count }) => [tenant, count])).toEqual([
      ['operations', 2],
      ['ticketing', 1],
    ]);
    expect(tree.tenants[0]?.contexts).toEqual([
      {
        context: 'main',
        domains: [
          {
            domain: 'bd-ops',
            subnets: ['10.72.40.1/24', '10.72.41.1/24'],
            groups: [{ group: 'tracking', endpoints: 2 }],
          },
        ],
      },
    ]);
  });
  test('finds endpoints by MAC in any notation, address, network, and names', () => {
    const found = (text: string) => endpointsOf(endpoints, { text }).map(({ port }) => port);
    expect(['0242.5200.0002', '10.72.40.11', '10.72.40.8/29', 'payment', 'LEAF-2', 'nobody', ''].map(found)).toEqual([
      ['e1/2'],
      ['e1/1'],
      ['e1/1', 'e1/2', 'e1/3'],
      ['e1/3'],
      ['e1/1', 'e1/2'],
      [],
      ['e1/1', 'e1/2', 'e1/3'],
    ]);
    expect(
      endpointsOf(endpoints, { tenant: 'operations', group: 'tracking', node: 'sgh-leaf-2', text: 'e1/1' }),
    ).toEqual([endpoints[0]]);
  });
  test('says of a subnet or an address to which tenant and group it belongs, the narrowest first', () => {
    expect(placesOfSubnet(tree, '10.72.40.11').map(({ tenant, subnet, groups }) => [tenant, subnet, groups])).toEqual([
      ['ticketing', '10.72.40.1/25', ['payment']],
      ['operations', '10.72.40.1/24', ['tracking']],
    ]);
    expect(placesOfSubnet(tree, '10.72.41.0/24').map(({ domain }) => domain)).toEqual(['bd-ops']);
    expect(placesOfSubnet(tree, '10.72.0.0/16')).toHaveLength(3);
    expect([
      placesOfSubnet(tree, 'bd-ops'),
      placesOfSubnet(tree, '10.99.0.1'),
      placesOfSubnet(tree, '10.72.40.0/99'),
    ]).toEqual([[], [], []]);
  });
  test('whatever somebody writes is a question, never an error', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string(),
          fc.ipV4().map((address) => `${address}/24`),
          fc.ipV6(),
          fc.string().map((text) => `${text}/7`),
        ),
        (text) => {
          expect(endpointsOf(endpoints, { text }).length).toBeLessThanOrEqual(3);
          expect(placesOfSubnet(tree, text).length).toBeLessThanOrEqual(3);
        },
      ),
    );
  });
});
