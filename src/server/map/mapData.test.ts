import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { openSample, type SampleStore } from '../../../e2e/support/sampleStore';
import { layoutEstate } from '../../core/layout/estateLayout';
import { mapData } from './mapData';
import { mapPorts } from './mapPorts';

/** Three surveys of the story: the baseline, the ring cut at CHD, and the new stop with the mismatches of today. */
let sample: SampleStore;
beforeAll(async () => {
  sample = await openSample({ steps: [1, 5, 8] });
});
afterAll(() => sample.close());

const layoutAt = (survey: number) => {
  const { ever } = mapData(sample.store, survey, null, null);
  return layoutEstate(ever.devices, ever.joints);
};

test('a device keeps its place from survey to survey, whatever is cut, and one more stop moves nothing', () => {
  const [first, second, third] = [1, 2, 3].map(layoutAt);
  for (const plate of first?.plates ?? []) {
    expect(second?.plates).toContainEqual(plate);
    expect(third?.plates).toContainEqual(plate);
  }
  expect(third?.bays.map(({ site }) => site)).toContain('TME');
  expect(first?.bays.map(({ site }) => site)).not.toContain('TME');
  expect(layoutAt(3)).toEqual(third);
});

test('tells the root of the tree, which links lead up to it and which rest, and what is wrong', () => {
  const { devices, links } = mapData(sample.store, 3, null, null);
  expect(devices.filter(({ root }) => root).map(({ name }) => name)).toContain('sgh-core-1');
  const nameOf = new Map(devices.map(({ id, name }) => [id, name]));
  const between = (one: string, other: string) =>
    links.find(({ a, b }) => [nameOf.get(a.device), nameOf.get(b.device)].sort().join() === [one, other].sort().join());
  expect(between('sgh-core-1', 'sgh-core-2')).toMatchObject({ kind: 'lag', members: 2, confidence: 'confirmed' });
  const spare = between('sgh-acc-1', 'sgh-core-2');
  expect([spare?.blocked, between('sgh-acc-1', 'sgh-core-1')?.blocked]).toEqual([true, false]);
  const up = between('sgh-acc-1', 'sgh-core-1');
  expect(up?.up && nameOf.get(up[up.up].device)).toBe('sgh-acc-1');
  expect(
    links.flatMap(({ issues }) => issues).some((words) => words.startsWith('native VLAN differs: rpw-plat U1')),
  ).toBe(true);
});

test('tells of a VLAN which devices carry it and at which end of a link it is missing; against another survey what changed', () => {
  const { devices, links } = mapData(sample.store, 3, 1, 10);
  const odd = links.find(({ issues }) => issues.some((words) => words.startsWith('allowed VLANs differ: rpw-plat')));
  expect(odd?.vlan).toBe('both');
  expect(new Set(links.map(({ vlan }) => vlan)).size).toBeGreaterThan(1);
  expect(devices.find(({ name }) => name === 'rpw-plat')?.vlan).toBe(true);
  expect(devices.filter(({ change }) => change === 'added').map(({ site }) => site)).toContain('TME');
  const rest = mapData(sample.store, 3, null, null);
  expect([
    rest.devices.some(({ vlan }) => vlan !== undefined),
    rest.links.some(({ vlan, change }) => vlan !== undefined || change !== undefined),
  ]).toEqual([false, false]);
});

test('tells all ports of the devices that are asked for: who is plugged in, how a VLAN is carried, what changed', () => {
  const idOf = (name: string) =>
    mapData(sample.store, 3, null, null).devices.find((device) => device.name === name)?.id ?? 0;
  const [access, none] = mapPorts(sample.store, 3, 1, [idOf('sgh-acc-2'), 9999], 20);
  expect([access?.ports.length, access?.plan, none]).toEqual([
    52,
    { rows: 2, groupOf: 12 },
    { device: 9999, plan: null, ports: [] },
  ]);
  const named = (name: string) => access?.ports.find((port) => port.name === name);
  expect(named('U1')).toMatchObject({ pluggedIn: 'sgh-core-1', carries: 'tagged', oper: 'up' });
  expect(named('16')?.carries).toBe('tagged');
  expect(named('15')?.carries).toBeUndefined();
  expect(
    mapPorts(sample.store, 3, null, [idOf('sgh-acc-2')], null)[0]?.ports.some(
      ({ carries, change }) => carries !== undefined || change !== undefined,
    ),
  ).toBe(false);
});

test('of a link to a machine that tells no VLANs does not say that one is missing there', () => {
  const { devices, links } = mapData(sample.store, 3, null, 20);
  const server = devices.find(({ name }) => name === 'sgh-srv-04')?.id;
  expect(
    new Set(links.filter(({ a, b }) => a.device === server || b.device === server).map(({ vlan }) => vlan)),
  ).toEqual(new Set(['toldOnce']));
});
