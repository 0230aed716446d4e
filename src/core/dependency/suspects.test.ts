import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { prepareGraph, type DependenceGraph, type Need, type Thing } from './graph';
import { fates, Rehearsals } from './rehearse';
import { stoppersOf } from './stoppers';
import { suspectsFor } from './suspects';

function estate(
  devices: string[],
  cables: [string, string][],
  others: [kind: Exclude<Thing['kind'], 'device'>, name: string, at?: string][] = [],
  needs: [of: string, from: string[], atLeast?: number, kind?: Need['kind']][] = [],
  more: (numberOf: (name: string) => number) => Partial<DependenceGraph> = () => ({}),
) {
  const things: Thing[] = [
    ...devices.map((name) => ({ kind: 'device' as const, id: name, name })),
    ...others.map(([kind, name]) => ({ kind, id: name, name })),
  ];
  const numberOf = (name: string) => things.findIndex((thing) => thing.name === name);
  const graph = prepareGraph({
    things,
    deviceCount: devices.length,
    cables: cables.map(([a, b]) => ({ a: numberOf(a), b: numberOf(b) })),
    bridges: new Uint8Array(devices.length).fill(1),
    forwards: new Uint8Array(devices.length).fill(1),
    standing: Uint8Array.from(devices, (name) => Number(name.startsWith('core'))),
    hangsOn: Int32Array.from(things, (_, at) => numberOf(others[at - devices.length]?.[2] ?? '')),
    needs: needs.map(([of, from, atLeast = 1, kind = 'talks to']): Need => ({
      of: numberOf(of),
      from: from.map(numberOf),
      atLeast,
      kind,
      proof: '',
    })),
    layers: [],
    gatewayGroups: [],
    clusterHosts: [],
    machines: [],
    ...more(numberOf),
  });
  return { rehearsals: new Rehearsals(graph), numberOf, nameOf: (at: number | null) => things[at ?? -1]?.name ?? '' };
}

const campus: [string, string][] = [
  ['core-1', 'core-2'],
  ['core-1', 'dist'],
  ['core-2', 'dist'],
  ['dist', 'acc-1'],
  ['dist', 'acc-2'],
  ['dist', 'acc-3'],
  ['core-1', 'acc-9'],
];
const campusDevices = ['core-1', 'core-2', 'dist', 'acc-1', 'acc-2', 'acc-3', 'acc-9'];

test('what several that are down share is suspected first; what explains less, or would take more with it, comes after', () => {
  const { rehearsals, numberOf, nameOf } = estate(campusDevices, campus);
  const all = suspectsFor(rehearsals, { down: ['acc-1', 'acc-2', 'acc-3'].map(numberOf) });
  expect(
    all.slice(0, 1).map(({ thing, explains, missing }) => [nameOf(thing), explains.length, missing.map(nameOf)]),
  ).toEqual([['dist', 3, ['dist']]]);
  const two = suspectsFor(rehearsals, { down: ['acc-1', 'acc-2'].map(numberOf) });
  expect(two.map(({ thing, cable }) => (thing === null ? `cable ${cable}` : nameOf(thing)))).toEqual([
    'dist',
    'acc-1',
    'acc-2',
    'cable 3',
    'cable 4',
  ]);
  expect(two[0]?.missing.map(nameOf)).toEqual(['dist', 'acc-3']);
});

test('a fault, or work under way, puts one of two that explain as much before the other', () => {
  const { rehearsals, numberOf, nameOf } = estate(
    ['core-1', 'host-1', 'host-2'],
    [
      ['core-1', 'host-1'],
      ['core-1', 'host-2'],
    ],
    [
      ['service', 'name'],
      ['service', 'directory'],
      ['service', 'mail'],
    ],
    [
      ['mail', ['name']],
      ['mail', ['directory']],
    ],
  );
  const ranked = suspectsFor(rehearsals, { down: [numberOf('mail')] }, (thing) =>
    nameOf(thing) === 'directory' ? [{ kind: 'change', words: 'its process is another since the last survey' }] : [],
  );
  const place = (name: string) => ranked.findIndex(({ thing }) => nameOf(thing) === name);
  expect(place('directory')).toBeLessThan(place('name'));
  expect(place('name')).toBeGreaterThan(-1);
});

/** so many that are all joined to each other: that the largest part is theirs is never in doubt */
const coreSize = 12;
const coreCables = Array.from({ length: coreSize ** 2 }, (_, at) => [Math.floor(at / coreSize), at % coreSize]).filter(
  ([a = 0, b = 0]) => a < b,
);

/** Cables with one more from what none of them joins to the core: of a small network of its own it is in doubt which half is the larger. */
function joined(size: number, cables: readonly { a: number; b: number }[]): { a: number; b: number }[] {
  const all = [...cables];
  const reached = new Set(Array.from({ length: coreSize }, (_, at) => size + at));
  const grow = () => {
    for (let before = -1; before < reached.size;) {
      before = reached.size;
      for (const { a, b } of all) if (reached.has(a) || reached.has(b)) reached.add(a).add(b);
    }
  };
  grow();
  for (let one = 0; one < size; one++) {
    if (reached.has(one)) continue;
    all.push({ a: one, b: size });
    grow();
  }
  return all;
}

const anyEstate = fc.integer({ min: 3, max: 8 }).chain((size) =>
  fc.record({
    size: fc.constant(size),
    cables: fc.array(fc.record({ a: fc.nat({ max: size - 1 }), b: fc.nat({ max: size + coreSize - 1 }) }), {
      minLength: size,
      maxLength: 16,
    }),
    hosts: fc.array(fc.nat({ max: size - 1 }), { minLength: 1, maxLength: 4 }),
    atLeast: fc.integer({ min: 1, max: 4 }),
  }),
);

test('what stops a thing, alone or in pairs, is what trying all of them finds', () => {
  fc.assert(
    fc.property(anyEstate, ({ size, cables, hosts, atLeast }) => {
      const names = Array.from({ length: size + coreSize }, (_, at) => `d${at}`);
      const { rehearsals, numberOf } = estate(
        names,
        [
          ...joined(size, cables).map(({ a, b }) => [a, b]),
          ...coreCables.map((ends) => ends.map((end) => end + size)),
        ].map(([a, b]): [string, string] => [`d${a}`, `d${b}`]),
        [...hosts.map((_, at): ['service', string] => ['service', `s${at}`]), ['application', 'app']],
        [
          ...hosts.map((host, at): [string, string[], number] => [`s${at}`, [`d${host}`], 1]),
          ['app', hosts.map((_, at) => `s${at}`), Math.min(atLeast, hosts.length)],
        ],
      );
      const app = numberOf('app');
      const stops = (...things: number[]) => fates[rehearsals.rehearse({ things }).fate[app] ?? 0] === 'lost';
      const all = Array.from({ length: size + coreSize + hosts.length }, (_, at) => at);
      const ones = all.filter((one) => stops(one));
      const others = all.filter((one) => !ones.includes(one));
      const pairs = others.flatMap((one) =>
        others.flatMap((two) => (one < two && stops(one, two) ? [[one, two]] : [])),
      );
      const found = stoppersOf(rehearsals, app);
      expect(found.ones).toEqual(ones);
      expect(found.pairs).toEqual(pairs);
    }),
    { numRuns: 150 },
  );
});

test('a host explains its machines that are down, though they may start again elsewhere, and is one suspect with them', () => {
  const { rehearsals, numberOf, nameOf } = estate(
    ['core', 'host-1', 'host-2', 'guest-1', 'guest-2'],
    [
      ['core', 'host-1'],
      ['core', 'host-2'],
      ['host-1', 'guest-1'],
      ['host-1', 'guest-2'],
    ],
    [
      ['machine', 'machine-1'],
      ['machine', 'machine-2'],
      ['service', 'web'],
      ['service', 'feed'],
    ],
    [
      ['web', ['guest-2'], 1, 'runs on'],
      ['feed', ['host-1'], 1, 'runs on'],
    ],
    (of) => ({
      forwards: Uint8Array.from([1, 0, 0, 0, 0]),
      clusterHosts: [
        { device: of('host-1'), cluster: 'c', roomBytes: 0 },
        { device: of('host-2'), cluster: 'c', roomBytes: 99 },
      ],
      machines: [1, 2].map((nth) => ({
        machine: of(`machine-${nth}`),
        host: of('host-1'),
        bytes: 1,
        inside: of(`guest-${nth}`),
      })),
    }),
  );
  const found = suspectsFor(rehearsals, { down: ['guest-1', 'web', 'feed'].map(numberOf) });
  expect([nameOf(found[0]?.thing ?? -1), found[0]?.explains.map(nameOf)]).toEqual([
    'host-1',
    ['guest-1', 'web', 'feed'],
  ]);
  const names = found.map(({ thing }) => nameOf(thing));
  expect(names).not.toContain('machine-1');
  // there is no cable between a host and its machine
  expect(found.filter(({ cable }) => cable !== null && cable > 1)).toEqual([]);
});
