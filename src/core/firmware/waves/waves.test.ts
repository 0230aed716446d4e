import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { prepareGraph, type DependenceGraph, type Need, type ThingKind } from '../../dependency/graph';
import { fates, Rehearsals } from '../../dependency/rehearse';
import { atOnce } from '../../steps';
import {
  farEndsFirst,
  joinedWindows,
  leastMinutes,
  wavesInSteps,
  type WavePlan,
  type WaveRules,
  type WaveTask,
} from './plan';

const minute = 60_000;
const hour = 60 * minute;

/** A network by names: `core-1 core-2 -> srv` means that a thing needs any of some. */
class Net {
  readonly names: string[] = [];
  readonly kinds: ThingKind[] = [];
  readonly cables: { a: number; b: number }[] = [];
  readonly needs: Need[] = [];
  readonly hangs = new Map<number, number>();
  readonly hosts = new Set<number>();

  add(name: string, kind: ThingKind = 'device'): number {
    this.names.push(name);
    this.kinds.push(kind);
    return this.names.length - 1;
  }
  join(...pairs: [number, number][]): void {
    for (const [a, b] of pairs) this.cables.push({ a, b });
  }
  need(of: number, from: number[], atLeast = 1, kind: Need['kind'] = 'talks to'): void {
    this.needs.push({ of, from, atLeast, kind, proof: '' });
  }

  rehearsals(): Rehearsals {
    const deviceCount = this.kinds.filter((kind) => kind === 'device').length;
    const graph: DependenceGraph = {
      things: this.names.map((name, at) => ({ kind: this.kinds[at] ?? 'device', id: String(at), name })),
      deviceCount,
      cables: this.cables,
      needs: this.needs,
      bridges: new Uint8Array(deviceCount).fill(1),
      forwards: Uint8Array.from({ length: deviceCount }, (_, at) => Number(!this.hosts.has(at))),
      standing: new Uint8Array(deviceCount),
      hangsOn: Int32Array.from(this.names, (_, at) => this.hangs.get(at) ?? -1),
      layers: [],
      gatewayGroups: [],
      clusterHosts: [],
      machines: [],
    };
    return new Rehearsals(prepareGraph(graph));
  }
}

const task = (device: number, name: string, more: Partial<WaveTask> = {}): WaveTask => ({
  ...{ device, name, site: '', minutes: 30, target: 't', stage: 0, waitMinutes: 0, isSpare: false },
  ...more,
});
const night = (hours: number) => [{ start: 0, end: hours * hour }];

function plan(
  net: Net,
  tasks: WaveTask[],
  { windows = night(8), rules = {} as Partial<WaveRules> } = {},
): { plan: WavePlan; names: string[][] } {
  const rehearsals = net.rehearsals();
  const made = atOnce(
    wavesInSteps(tasks, windows, { crew: 10, perSite: 10, ...rules }, farEndsFirst(tasks, rehearsals), rehearsals),
  );
  return { plan: made, names: made.waves.map(({ placed }) => placed.map((one) => tasks[one.task]?.name ?? '')) };
}

/** Two cores, each switch on both, a server on two switches, and an application on two servers. */
function hall() {
  const net = new Net();
  const [coreA, coreB, one, two, serverA, serverB] = ['core-a', 'core-b', 'sw-1', 'sw-2', 'srv-a', 'srv-b'].map(
    (name) => net.add(name),
  ) as [number, number, number, number, number, number];
  net.join([coreA, coreB], [one, coreA], [one, coreB], [two, coreA], [two, coreB]);
  net.join([serverA, one], [serverA, two], [serverB, one], [serverB, two]);
  net.hosts.add(serverA).add(serverB);
  const [webA, webB] = [net.add('web on a', 'service'), net.add('web on b', 'service')];
  net.need(webA, [serverA], 1, 'runs on');
  net.need(webB, [serverB], 1, 'runs on');
  const application = net.add('Ticketing', 'application');
  net.need(application, [webA, webB], 1, 'member of');
  return { net, coreA, coreB, one, two, serverA, serverB, application };
}

describe('waves', () => {
  test('never take both of a pair, both switches of a host, or both servers of an application', () => {
    const { net, coreA, coreB, one, two, serverA, serverB } = hall();
    const tasks = [coreA, coreB, one, two, serverA, serverB].map((at) => task(at, net.names[at] ?? ''));
    const { plan: made, names } = plan(net, tasks);
    expect(made.unplaced).toEqual([]);
    for (const pair of [
      ['core-a', 'core-b'],
      ['sw-1', 'sw-2'],
      ['srv-a', 'srv-b'],
    ])
      for (const wave of names) expect(wave.filter((name) => pair.includes(name)).length).toBeLessThan(2);
    // and says why
    const why = made.waves.flatMap(({ placed }) => placed.flatMap((placed) => placed.why));
    expect(why).toContain('not with srv-a: Ticketing would be lost');
  });

  test('what stops an application by itself has no place, unless somebody said that it may', () => {
    const { net, serverA, application } = hall();
    net.need(application, [serverA], 1, 'member of');
    const tasks = [task(serverA, 'srv-a')];
    expect(plan(net, tasks).plan.unplaced).toEqual([{ task: 0, why: 'taking it stops Ticketing' }]);
    const allowed = plan(net, tasks, { rules: { mayStop: new Set([application]) } });
    expect(allowed.names).toEqual([['srv-a']]);
    expect(allowed.plan.waves[0]?.placed[0]?.why).toEqual(['no way round it for 1 service, 1 application']);
  });

  test('both of a pair never go together, though there is a third way', () => {
    const net = new Net();
    const [spineA, spineB, old, ...leaves] = ['spine-a', 'spine-b', 'old', 'leaf-1', 'leaf-2', 'leaf-3'].map((name) =>
      net.add(name),
    ) as [number, number, number, ...number[]];
    for (const leaf of leaves) net.join([leaf, spineA], [leaf, spineB], [leaf, old]);
    const { plan: made, names } = plan(net, [task(spineA, 'spine-a'), task(spineB, 'spine-b')]);
    expect(names).toEqual([['spine-a'], ['spine-b']]);
    expect(made.waves[1]?.placed[0]?.why).toEqual(['not with spine-a: leaf-1 would have one way only']);
  });

  test('far ends go before what leads to them; neighbours of a ring never together', () => {
    const net = new Net();
    const core = net.add('core');
    const stops = Array.from({ length: 6 }, (_, nth) => net.add(`stop-${nth + 1}`));
    [core, ...stops].forEach((at, nth, all) => net.join([at, all[(nth + 1) % all.length] ?? core]));
    const far = net.add('far');
    net.join([far, stops[2] ?? 0]);
    const tasks = [...stops, far].map((at) => task(at, net.names[at] ?? ''));
    const { plan: made, names } = plan(net, tasks);
    expect(made.unplaced).toEqual([]);
    expect(names.findIndex((wave) => wave.includes('far'))).toBeLessThan(
      names.findIndex((wave) => wave.includes('stop-3')),
    );
    // with two of a ring away what lies between them is cut off
    for (const wave of names) expect(wave.filter((name) => name.startsWith('stop')).length).toBeLessThan(2);
  });

  test('the try-out goes first, the rest when it has run long enough; spares go last', () => {
    const net = new Net();
    const core = net.add('core');
    const own = Array.from({ length: 3 }, (_, nth) => net.add(`sw-${nth + 1}`));
    net.join(...own.map((at): [number, number] => [at, core]));
    const tasks = [
      task(own[0] ?? 0, 'sw-1', { stage: 2, waitMinutes: 24 * 60 }),
      task(own[1] ?? 0, 'sw-2'),
      task(own[2] ?? 0, 'sw-3', { isSpare: true, target: 'u' }),
    ];
    const windows = [0, 1, 2].map((day) => ({ start: day * 24 * hour, end: day * 24 * hour + 4 * hour }));
    const { plan: made, names } = plan(net, tasks, { windows, rules: { crew: 1 } });
    expect(names).toEqual([['sw-2'], ['sw-3'], ['sw-1']]);
    expect(made.waves[2]?.start).toBe(24 * hour + 30 * minute);
    // with the first night alone there is no time for the rest
    const short = plan(net, tasks, { windows: windows.slice(0, 1) });
    expect(short.plan.unplaced.map(({ task: one }) => tasks[one]?.name)).toEqual(['sw-1']);
  });

  test('what does not fit says why: too long for any window, too many for all of them', () => {
    const net = new Net();
    const core = net.add('core');
    const own = Array.from({ length: 3 }, (_, nth) => net.add(`sw-${nth + 1}`));
    net.join(...own.map((at): [number, number] => [at, core]));
    const tasks = own.map((at, nth) => task(at, `sw-${nth + 1}`, { minutes: nth === 0 ? 90 : 40 }));
    const { plan: made } = plan(net, tasks, { windows: night(1), rules: { crew: 1 } });
    expect(made.unplaced).toEqual([
      { task: 0, why: 'it needs 90 minutes, the longest window has 60' },
      { task: 2, why: 'the windows are full' },
    ]);
    expect(plan(net, tasks, { windows: [] }).plan.unplaced.map(({ why }) => why)).toEqual(
      Array(3).fill('there is no window'),
    );
  });
});

test('whatever the network: nothing is lost together, rules hold, nobody goes twice', () => {
  const networks = fc.record({
    size: fc.integer({ min: 2, max: 12 }),
    joins: fc.array(fc.tuple(fc.nat(11), fc.nat(11)), { maxLength: 24 }),
    endpoints: fc.array(fc.nat(11), { maxLength: 6 }),
    needs: fc.array(fc.tuple(fc.array(fc.nat(11), { minLength: 1, maxLength: 3 }), fc.integer({ min: 1, max: 2 })), {
      maxLength: 4,
    }),
    minutes: fc.array(fc.integer({ min: 5, max: 50 }), { minLength: 12, maxLength: 12 }),
    crew: fc.integer({ min: 1, max: 5 }),
    perSite: fc.integer({ min: 1, max: 3 }),
    windows: fc.array(fc.tuple(fc.nat(50), fc.integer({ min: 1, max: 4 })), { maxLength: 5 }),
  });
  fc.assert(
    fc.property(networks, ({ size, joins, endpoints, needs, minutes, crew, perSite, windows }) => {
      const net = new Net();
      for (let at = 0; at < size; at++) net.add(`d${at}`);
      net.join(...joins.map(([a, b]): [number, number] => [a % size, b % size]));
      for (const at of endpoints) net.hangs.set(net.add('e', 'endpoint'), at % size);
      for (const [from, atLeast] of needs) {
        const own = [...new Set(from.map((at) => at % size))];
        net.need(net.add('a', 'application'), own, Math.min(atLeast, own.length), 'member of');
      }
      const tasks = Array.from({ length: size }, (_, at) =>
        task(at, `d${at}`, { minutes: minutes[at] ?? 5, site: `s${at % 3}` }),
      );
      const spans = windows.map(([start, length]) => ({ start: start * hour, end: (start + length) * hour }));
      const rehearsals = net.rehearsals();
      const before = farEndsFirst(tasks, rehearsals);
      const rules = { crew, perSite };
      const made = atOnce(wavesInSteps(tasks, spans, rules, before, rehearsals));
      const lostBy = (devices: number[]) => {
        const { fate } = rehearsals.rehearse({ things: devices });
        return net.names.flatMap((_, thing) => (fates[fate[thing] ?? 0] === 'lost' ? [thing] : []));
      };
      const placed = made.waves.flatMap((wave) => wave.placed.map((one) => one.task));
      expect([...placed, ...made.unplaced.map((one) => one.task)].sort((x, y) => x - y)).toEqual(
        tasks.map((_, at) => at),
      );
      const endOf = new Map(made.waves.flatMap(({ end, placed }) => placed.map((one) => [one.task, end] as const)));
      for (const { start, end, placed: own } of made.waves) {
        const devices = own.map((one) => one.task);
        const alone = new Set(devices.flatMap((one) => lostBy([one])));
        const together = lostBy(devices);
        expect(together.filter((thing) => !alone.has(thing) && !devices.includes(thing))).toEqual([]);
        expect(together.filter((thing) => net.kinds[thing] === 'application')).toEqual([]);
        expect(devices.length).toBeLessThanOrEqual(crew);
        for (const site of ['s0', 's1', 's2'])
          expect(devices.filter((one) => tasks[one]?.site === site).length).toBeLessThanOrEqual(perSite);
        expect(joinedWindows(spans).some((span) => span.start <= start && end <= span.end)).toBe(true);
        for (const { a, b } of net.cables) if (a !== b) expect(devices.includes(a) && devices.includes(b)).toBe(false);
        for (const [first, then] of before)
          if (devices.includes(then) && endOf.has(first)) expect(endOf.get(first)).toBeLessThanOrEqual(start);
      }
      made.waves.forEach(({ start }, nth) => expect(start).toBeGreaterThanOrEqual(made.waves[nth - 1]?.end ?? -1));
      for (const { why } of made.unplaced) expect(why).not.toBe('');
      expect(leastMinutes(tasks, rules, before)).toBeLessThanOrEqual(tasks.reduce((sum, one) => sum + one.minutes, 0));
    }),
    { numRuns: 300 },
  );
});
