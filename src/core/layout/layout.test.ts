import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { roles } from '../estate/facts';
import { plateHeight, plateWidth, type LayoutDevice, type LayoutJoint } from './bay';
import { layoutEstate } from './estateLayout';

const device = fc.record({
  name: fc.constantFrom('core-1', 'acc-2', 'srv-3', 'edge'),
  role: fc.constantFrom(...roles),
  site: fc.constantFrom('SGH', 'RPW', 'LQY', 'CHD', ''),
  since: fc.integer({ min: 1, max: 4 }),
});
const estate = fc
  .array(device, { maxLength: 60 })
  .map((list): LayoutDevice[] => list.map((row, at) => ({ ...row, id: at + 1 })));
const jointsOf = (devices: LayoutDevice[]): LayoutJoint[] =>
  devices.slice(1).map(({ id, since }) => ({
    a: 1 + ((id * 7) % devices.length),
    b: id,
    since: Math.max(since, devices[(id * 7) % devices.length]?.since ?? 1),
  }));

test('every device has a place in the bay of its site, no two overlap, and no bay lies on another', () => {
  fc.assert(
    fc.property(estate, (devices) => {
      const { plates, bays, box } = layoutEstate(devices, jointsOf(devices));
      expect(plates.map(({ id }) => id)).toEqual(devices.map(({ id }) => id));
      const bayOf = new Map(bays.map((bay) => [bay.site, bay]));
      plates.forEach((plate, at) => {
        const bay = bayOf.get(devices[plate.id - 1]?.site ?? '?');
        expect(
          bay &&
            plate.x >= bay.x &&
            plate.y >= bay.y &&
            plate.x + plateWidth <= bay.x + bay.width &&
            plate.y + plateHeight <= bay.y + bay.height,
        ).toBe(true);
        for (const other of plates.slice(at + 1))
          expect(Math.abs(plate.x - other.x) >= plateWidth || Math.abs(plate.y - other.y) >= plateHeight).toBe(true);
      });
      bays.forEach((bay, at) => {
        expect(
          bay.x >= box.x &&
            bay.y >= box.y &&
            bay.x + bay.width <= box.x + box.width &&
            bay.y + bay.height <= box.y + box.height,
        ).toBe(true);
        for (const other of bays.slice(at + 1))
          expect(
            bay.x + bay.width <= other.x ||
              other.x + other.width <= bay.x ||
              bay.y + bay.height <= other.y ||
              other.y + other.height <= bay.y,
          ).toBe(true);
      });
    }),
  );
});

test('the same estate in another order gives the same picture', () => {
  fc.assert(
    fc.property(
      estate.chain((devices) =>
        fc.tuple(fc.constant(devices), fc.shuffledSubarray(devices, { minLength: devices.length })),
      ),
      ([devices, shuffled]) => {
        const joints = jointsOf(devices);
        expect(layoutEstate(shuffled, [...joints].reverse())).toEqual(layoutEstate(devices, joints));
      },
    ),
  );
});

test('what a later survey finds at a new site moves nothing that was there, wherever its name sorts and whatever it is joined to', () => {
  fc.assert(
    fc.property(estate, fc.constantFrom('AAA', 'TME', 'ZZZ'), (devices, site) => {
      const more: LayoutDevice[] = [101, 102, 103].map((id) => ({
        id,
        name: `${site}-${id}`,
        role: 'switch',
        site,
        since: 9,
      }));
      const joints = jointsOf(devices);
      const before = layoutEstate(devices, joints);
      const after = layoutEstate(
        [...devices, ...more],
        [...joints, { a: 101, b: 1, since: 9 }, { a: 102, b: devices.length, since: 9 }],
      );
      for (const plate of before.plates) expect(after.plates).toContainEqual(plate);
      for (const bay of before.bays) expect(after.bays).toContainEqual(bay);
    }),
  );
});

test('a link that comes or goes later moves nothing', () => {
  fc.assert(
    fc.property(estate, (devices) => {
      const joints = jointsOf(devices);
      const latest = Math.max(0, ...devices.map(({ since }) => since));
      expect(
        layoutEstate(devices, [...joints, ...devices.slice(2).map(({ id }) => ({ a: 1, b: id, since: latest + 1 }))]),
      ).toEqual(layoutEstate(devices, joints));
    }),
  );
});

test('a site that is joined lies nearer than one that is not, and a chain lies in its order', () => {
  const sites = ['A', 'B', 'C', 'D', 'E', 'F'];
  const devices: LayoutDevice[] = sites.map((site, at) => ({
    id: at + 1,
    name: `${site}-ring`,
    role: 'switch',
    site,
    since: 1,
  }));
  const { bays } = layoutEstate(
    devices,
    [0, 1, 2, 3, 4].map((at) => ({ a: at + 1, b: at + 2, since: 1 })),
  );
  const centre = (site: string) => {
    const bay = bays.find((own) => own.site === site);
    return { x: (bay?.x ?? 0) + (bay?.width ?? 0) / 2, y: (bay?.y ?? 0) + (bay?.height ?? 0) / 2 };
  };
  const far = (one: string, other: string) =>
    Math.hypot(centre(one).x - centre(other).x, centre(one).y - centre(other).y);
  const steps = sites.slice(1).map((site, at) => far(sites[at] ?? '', site));
  expect(Math.max(...steps)).toBeLessThan(far('A', 'D') + far('B', 'F'));
  expect(steps.reduce((sum, length) => sum + length, 0)).toBeLessThan(5 * 420);
});
