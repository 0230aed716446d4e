import { expect, test } from '@jest/globals';
import { Providers } from './providers';
import { prepareGraph, type DependenceGraph, type Need, type Thing } from './graph';
import { restingsOf } from './restsOn';

const devices = ['core-1', 'core-2', 'access', 'server', 'stub'];
const things: Thing[] = [
  ...devices.map((name) => ({ kind: 'device' as const, id: name, name })),
  ...(['web', 'base-1', 'base-2', 'time'] as const).map((name) => ({ kind: 'service' as const, id: name, name })),
  { kind: 'endpoint', id: 'phone', name: 'phone' },
  { kind: 'machine', id: 'vm', name: 'vm' },
];
const numberOf = (name: string) => things.findIndex((thing) => thing.name === name);
const cables: [string, string][] = [
  ['core-1', 'core-2'],
  ['core-1', 'access'],
  ['core-2', 'access'],
  ['access', 'server'],
  ['access', 'stub'],
];

function restings(of: string, needs: Partial<Need>[] = [], more: Partial<DependenceGraph> = {}) {
  const graph = prepareGraph({
    things,
    deviceCount: devices.length,
    cables: cables.map(([a, b]) => ({ a: numberOf(a), b: numberOf(b) })),
    bridges: new Uint8Array(devices.length).fill(1),
    forwards: Uint8Array.from(devices, (name) => Number(name !== 'server')),
    standing: new Uint8Array(devices.length),
    hangsOn: Int32Array.from(things, ({ name }) => (name === 'phone' ? numberOf('access') : -1)),
    needs: needs.map((need) => ({ of: 0, from: [], atLeast: 1, kind: 'talks to', proof: '', ...need })),
    layers: [],
    gatewayGroups: [],
    clusterHosts: [],
    machines: [],
    ...more,
  });
  return restingsOf(graph, new Providers(graph), numberOf(of)).map(({ kind, atLeast, on, of: part }) => ({
    kind,
    atLeast,
    of: part,
    on: on.map(({ thing, proof, cables: between, isMutual }) => [
      things[thing]?.name,
      proof.join() || `cable ${between.join(' ')}`,
      ...(isMutual ? ['mutual'] : []),
    ]),
  }));
}

test('what hangs on one switch is attached to it, a switch between two may use either', () => {
  expect(restings('server')).toEqual([{ kind: 'attached to', atLeast: 1, of: '', on: [['access', 'cable 3']] }]);
  expect(restings('core-1')[0]?.on).toEqual([
    ['core-2', 'cable 0'],
    ['access', 'cable 1'],
  ]);
});

test('what holds its network together is attached to nothing', () => {
  // without it two cores are left together, of four others
  expect(restings('access')).toEqual([]);
  expect(restings('core-2')).toHaveLength(1);
});

test('a server is no way for its switch', () => {
  expect(restings('stub')[0]?.on.map(([name]) => name)).toEqual(['access']);
  expect(restings('core-1')[0]?.on.map(([name]) => name)).not.toContain('server');
});

test('each that is asked has its own evidence, and what stands in is said to', () => {
  const [asks] = restings('web', [
    {
      of: numberOf('web'),
      from: [numberOf('base-1'), numberOf('base-2')],
      proof: 'tcp/5500',
      each: [['tcp/5500, last seen 2026-11-02'], ['stands in']],
    },
  ]);
  expect(asks).toEqual({
    kind: 'talks to',
    atLeast: 1,
    of: '',
    on: [
      ['base-1', 'tcp/5500, last seen 2026-11-02'],
      ['base-2', 'stands in'],
    ],
  });
});

test('two that need each other are told so, the parts of an application have their names', () => {
  const one = { of: numberOf('base-1'), from: [numberOf('base-2')], kind: 'replicates with' as const, proof: 'copies' };
  const other = { ...one, of: numberOf('base-2'), from: [numberOf('base-1')] };
  expect(restings('base-1', [one, other])[0]?.on).toEqual([['base-2', 'copies', 'mutual']]);
  expect(restings('base-1', [one])[0]?.on).toEqual([['base-2', 'copies']]);
  const part = { of: numberOf('web'), from: [numberOf('base-1')], kind: 'member of' as const, proof: 'tallydb' };
  expect(restings('web', [part])[0]).toMatchObject({ kind: 'member of', of: 'tallydb' });
});

test('gateways, hosts of machines and what is heard on a port', () => {
  const gateways = (isVirtual: boolean) => ({
    gatewayGroups: [
      {
        layer: -1,
        at: numberOf('access'),
        gateways: [numberOf('core-1'), numberOf('core-2')],
        things: [numberOf('phone')],
        network: '10.72.4.0/22',
        isVirtual,
      },
    ],
  });
  expect(restings('phone', [], gateways(true))).toEqual([
    { kind: 'attached to', atLeast: 1, of: '', on: [['access', 'it is heard there']] },
    {
      kind: 'gateway of',
      atLeast: 1,
      of: '10.72.4.0/22',
      on: [
        ['core-1', 'carries its virtual router'],
        ['core-2', 'carries its virtual router'],
      ],
    },
  ]);
  expect(restings('phone', [], gateways(false))[1]?.on[0]?.[1]).toBe('routes, and has an address in it');
  const machines = [{ machine: numberOf('vm'), host: numberOf('server'), bytes: null, inside: numberOf('stub') }];
  expect(restings('vm', [], { machines })).toEqual([
    { kind: 'hosted by', atLeast: 1, of: '', on: [['server', 'it runs there now']] },
  ]);
  // what runs in it is no cable away from a switch
  expect(restings('stub', [], { machines })).toEqual([
    { kind: 'hosted by', atLeast: 1, of: '', on: [['vm', 'it runs there now']] },
  ]);
});
