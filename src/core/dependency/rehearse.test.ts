import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { DependenceGraph, Need, Thing } from './graph';
import { prepareGraph } from './graph';
import { cablingOf, nothingAway, partsOf } from './cabling';
import { heartsOf } from './onlyWays';
import { fates, Rehearsals, type Outcome } from './rehearse';

/** A graph written short: devices and what else there is by name. */
function graphOf(
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
    hangsOn: Int32Array.from(things, (_, at) => {
      const place = others[at - devices.length]?.[2];
      return place === undefined ? -1 : numberOf(place);
    }),
    needs: needs.map(([of, from, atLeast = 1, kind = 'talks to']) => ({
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
  const rehearsals = new Rehearsals(graph);
  return {
    graph,
    numberOf,
    ask: (...down: string[]) => named(things, rehearsals.rehearse({ things: down.map(numberOf) })),
  };
}

const named = (things: readonly Thing[], { fate, cause }: Outcome) => {
  const of = (wanted: string) => things.filter((_, at) => fates[fate[at] ?? 0] === wanted).map(({ name }) => name);
  return { lost: of('lost'), degraded: of('degraded'), cause };
};

const ring: [string, string][] = [
  ['core', 'a'],
  ['a', 'b'],
  ['b', 'c'],
  ['c', 'core'],
  ['b', 'spur'],
];

test('a ring that loses one keeps the rest, which has no spare any more; what hangs on the lost one is lost', () => {
  const { ask } = graphOf(['core', 'a', 'b', 'c', 'spur'], ring, [
    ['endpoint', 'camera', 'a'],
    ['endpoint', 'kiosk', 'spur'],
    ['endpoint', 'desk', 'c'],
  ]);
  expect(ask('a')).toMatchObject({
    lost: ['camera'],
    degraded: expect.arrayContaining(['b', 'c', 'spur', 'kiosk', 'desk']),
  });
  expect(ask('b')).toMatchObject({ lost: ['spur', 'kiosk'] });
  expect(ask('a', 'c')).toMatchObject({ lost: expect.arrayContaining(['camera', 'desk']) });
  expect(ask()).toMatchObject({ lost: [], degraded: [] });
});

test('any of several is enough; the last one is not', () => {
  const { ask } = graphOf(
    ['core', 'one', 'two', 'other'],
    [
      ['core', 'one'],
      ['core', 'two'],
      ['core', 'other'],
    ],
    [
      ['service', 'db-1'],
      ['service', 'db-2'],
      ['service', 'web'],
      ['application', 'ticketing'],
    ],
    [
      ['db-1', ['one'], 1, 'runs on'],
      ['db-2', ['two'], 1, 'runs on'],
      ['web', ['other'], 1, 'runs on'],
      ['web', ['db-1', 'db-2']],
      ['ticketing', ['web']],
    ],
  );
  expect(ask('one')).toMatchObject({ lost: ['db-1'], degraded: ['web', 'ticketing'] });
  expect(ask('one', 'two')).toMatchObject({ lost: ['db-1', 'db-2', 'web', 'ticketing'], degraded: [] });
});

test('what is fed twice loses a feed; what is only out of reach still gives power', () => {
  const { ask } = graphOf(
    ['core', 'feed-a', 'feed-b', 'server', 'lamp', 'middle'],
    [
      ['core', 'server'],
      ['core', 'lamp'],
      ['core', 'middle'],
      ['middle', 'feed-a'],
      ['core', 'feed-b'],
    ],
    [],
    [
      ['server', ['feed-a', 'feed-b'], 1, 'powered by'],
      ['lamp', ['feed-a'], 1, 'powered by'],
    ],
  );
  expect(ask('feed-a')).toMatchObject({ lost: ['lamp'], degraded: ['server'] });
  expect(ask('middle')).toMatchObject({ lost: ['feed-a'], degraded: [] });
});

test('machines start again where there is room, those that need most first; the rest is lost', () => {
  const { ask, numberOf } = graphOf(
    ['core', 'host-1', 'host-2', 'inside'],
    [
      ['core', 'host-1'],
      ['core', 'host-2'],
      ['host-1', 'inside'],
    ],
    [
      ['machine', 'large'],
      ['machine', 'small'],
      ['service', 'web'],
    ],
    [['web', ['inside'], 1, 'runs on']],
    (of) => ({
      clusterHosts: [
        { device: of('host-1'), cluster: 'c', roomBytes: 0 },
        { device: of('host-2'), cluster: 'c', roomBytes: 9 },
      ],
      machines: [
        { machine: of('small'), host: of('host-1'), bytes: 4, inside: -1 },
        { machine: of('large'), host: of('host-1'), bytes: 8, inside: of('inside') },
      ],
    }),
  );
  const { lost, degraded, cause } = ask('host-1');
  expect(lost).toEqual(['small']);
  expect(degraded).toEqual(['inside', 'large', 'web']);
  expect(cause.get(numberOf('large'))).toMatchObject({ kind: 'restart', on: numberOf('host-2') });
});

test('a network without a gateway is lost; one that keeps another gateway has lost its spare', () => {
  const { ask } = graphOf(
    ['core-1', 'core-2', 'access', 'far'],
    [
      ['core-1', 'core-2'],
      ['core-1', 'access'],
      ['core-2', 'access'],
      ['core-2', 'far'],
    ],
    [
      ['endpoint', 'desk', 'access'],
      ['endpoint', 'phone', 'access'],
      ['endpoint', 'lone', 'far'],
    ],
    [],
    (of) => ({
      layers: [{ vlan: 30, cables: [0, 1, 2] }],
      gatewayGroups: [
        {
          layer: 0,
          at: of('access'),
          gateways: [of('core-1'), of('core-2')],
          things: [of('desk')],
          network: '10.72.30.0/24',
        },
        { layer: 0, at: of('access'), gateways: [of('core-1')], things: [of('phone')], network: '10.72.31.0/24' },
        // nobody carries the VLAN there: what it lacked before it does not lose
        { layer: 0, at: of('far'), gateways: [of('core-1')], things: [of('lone')], network: '10.72.30.0/24' },
      ],
    }),
  );
  expect(ask('core-1')).toMatchObject({ lost: ['phone'], degraded: expect.arrayContaining(['desk', 'access']) });
});

test('networks that nothing known joins are looked at one by one', () => {
  const { ask } = graphOf(
    ['core', 'a', 'b', 'far-core', 'far-a', 'far-b', 'alone'],
    [
      ['core', 'a'],
      ['core', 'b'],
      ['far-core', 'far-a'],
      ['far-a', 'far-b'],
      ['far-b', 'far-core'],
    ],
    [['endpoint', 'camera', 'far-a']],
  );
  expect(ask('core')).toMatchObject({ lost: ['b'], degraded: [] });
  expect(ask('far-a')).toMatchObject({ lost: ['camera'], degraded: ['far-b'] });
  expect(ask('alone')).toMatchObject({ lost: [], degraded: [] });
});

const anyGraph = fc
  .record({ devices: fc.integer({ min: 2, max: 9 }), others: fc.integer({ min: 1, max: 8 }) })
  .chain(({ devices, others }) =>
    fc.record({
      devices: fc.constant(devices),
      others: fc.constant(others),
      cables: fc.array(fc.record({ a: fc.nat({ max: devices - 1 }), b: fc.nat({ max: devices - 1 }) }), {
        maxLength: 14,
      }),
      needs: fc.array(
        fc
          .record({
            of: fc.integer({ min: devices, max: devices + others - 1 }),
            from: fc.uniqueArray(fc.nat({ max: devices + others - 1 }), { minLength: 1, maxLength: 4 }),
            share: fc.nat({ max: 3 }),
          })
          .filter(({ of, from }) => !from.includes(of)),
        { maxLength: 10 },
      ),
      down: fc.uniqueArray(fc.nat({ max: devices + others - 1 }), { minLength: 1, maxLength: 3 }),
    }),
  );

test('lost and degraded are what asking step by step finds, on any graph', () => {
  fc.assert(
    fc.property(anyGraph, ({ devices, others, cables, needs, down }) => {
      const things = Array.from({ length: devices + others }, (_, at): Thing => ({
        kind: at < devices ? 'device' : 'service',
        id: String(at),
        name: String(at),
      }));
      const wanted = needs.map(({ of, from, share }): Need => ({
        of,
        from,
        atLeast: 1 + (share % from.length),
        kind: 'talks to',
        proof: '',
      }));
      const graph = prepareGraph({
        things,
        deviceCount: devices,
        cables,
        bridges: new Uint8Array(devices).fill(1),
        forwards: new Uint8Array(devices).fill(1),
        standing: new Uint8Array(devices),
        hangsOn: new Int32Array(things.length).fill(-1),
        needs: wanted,
        layers: [],
        gatewayGroups: [],
        clusterHosts: [],
        machines: [],
      });
      const { fate } = new Rehearsals(graph).rehearse({ things: down });
      const cabling = cablingOf(devices, cables);
      const away = nothingAway(cabling);
      const network = (device: number, of: typeof away) => {
        const { partOf } = partsOf(cabling, of);
        return Array.from({ length: devices }, (_, at) => at).filter(
          (other) => partOf[other] === partOf[device] && (partOf[other] ?? -1) >= 0,
        );
      };
      const after = nothingAway(cabling);
      for (const one of down) if (one < devices) after.devices[one] = 1;
      /** the largest piece that is left of the network of a device; of several the one with the lowest number */
      const largest = (device: number) =>
        network(device, away)
          .map((other) => network(other, after))
          .reduce<number[]>((best, piece) => (piece.length > best.length ? piece : best), []);
      const gone = new Set(down);
      for (let device = 0; device < devices; device++) if (!largest(device).includes(device)) gone.add(device);
      for (let grew = true; grew;) {
        grew = false;
        for (const { of, from, atLeast } of wanted)
          if (!gone.has(of) && from.filter((one) => !gone.has(one)).length < atLeast) {
            gone.add(of);
            grew = true;
          }
      }
      const lostNow = things.flatMap((_, at) => (gone.has(at) && !down.includes(at) ? [at] : []));
      expect(things.flatMap((_, at) => (fates[fate[at] ?? 0] === 'lost' ? [at] : []))).toEqual(lostNow);

      // worse off: a device that some single other parts from the heart now and did not before, or what has fewer to choose from
      const heartFor = (device: number) => {
        const [own = device] = network(device, away);
        const [old = -1] = heartsOf(cabling, away, [own]);
        const left = largest(device);
        if (left.includes(old)) return old;
        return left[0] === undefined ? -1 : (heartsOf(cabling, after, [left[0]])[0] ?? -1);
      };
      const singles = (of: typeof away, device: number) => {
        const heart = heartFor(device);
        const reaches = (without: number, cut: number) => {
          const one = { devices: of.devices.slice(), cables: of.cables.slice() };
          if (without >= 0) one.devices[without] = 1;
          if (cut >= 0) one.cables[cut] = 1;
          const { partOf } = partsOf(cabling, one);
          return partOf[device] === partOf[heart] && (partOf[device] ?? -1) >= 0;
        };
        if (!reaches(-1, -1)) return -1;
        let count = 0;
        for (let one = 0; one < devices; one++)
          if (one !== device && one !== heart && !of.devices[one]) count += Number(!reaches(one, -1));
        for (let cut = 0; cut < cables.length; cut++) count += Number(!reaches(-1, cut));
        return count;
      };
      const worse = new Set<number>();
      for (let device = 0; device < devices; device++) {
        if (gone.has(device) || network(device, away).length < 2) continue;
        const [then, now] = [singles(away, device), singles(after, device)];
        if (then >= 0 && now > then) worse.add(device);
      }
      for (const { of, from } of wanted) if (!gone.has(of) && from.some((one) => gone.has(one))) worse.add(of);
      for (let grew = true; grew;) {
        grew = false;
        for (const { of, from, atLeast } of wanted)
          if (
            !gone.has(of) &&
            !worse.has(of) &&
            from.filter((one) => !gone.has(one) && !worse.has(one)).length < atLeast
          ) {
            worse.add(of);
            grew = true;
          }
      }
      expect(things.flatMap((_, at) => (fates[fate[at] ?? 0] === 'degraded' ? [at] : []))).toEqual(
        [...worse].sort((x, y) => x - y),
      );
    }),
    { numRuns: 400 },
  );
});
