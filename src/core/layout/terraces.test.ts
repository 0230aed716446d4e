import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { roles } from '../estate/facts';
import { layoutTerraces, plateHeight, plateWidth, type LayoutDevice } from './terraces';

const device = fc.record({ name: fc.constantFrom('core-1', 'acc-2', 'srv-3', 'edge'), role: fc.constantFrom(...roles), site: fc.constantFrom('SGH', 'RPW', 'LQY', 'CHD', '') });
const estate = fc.array(device, { maxLength: 60 }).map((list): LayoutDevice[] => list.map((row, at) => ({ ...row, id: at + 1 })));
const linksOf = (devices: LayoutDevice[]) => devices.slice(1).map(({ id }) => ({ a: 1, b: id }));

test('every device has a place, no two overlap, and all lie within the map', () => {
  fc.assert(fc.property(estate, (devices) => {
    const { plates, width, height } = layoutTerraces(devices, linksOf(devices));
    expect(plates.map(({ id }) => id)).toEqual(devices.map(({ id }) => id));
    plates.forEach((plate, at) => {
      expect(plate.x >= 0 && plate.y >= 0 && plate.x + plateWidth <= width && plate.y + plateHeight <= height).toBe(true);
      for (const other of plates.slice(at + 1)) expect(Math.abs(plate.x - other.x) >= plateWidth || Math.abs(plate.y - other.y) >= plateHeight).toBe(true);
    });
  }));
});

test('the same estate in another order gives the same picture', () => {
  fc.assert(fc.property(estate.chain((devices) => fc.tuple(fc.constant(devices), fc.shuffledSubarray(devices, { minLength: devices.length }))), ([devices, shuffled]) => {
    expect(layoutTerraces(shuffled, linksOf(devices))).toEqual(layoutTerraces(devices, linksOf(devices)));
  }));
});

test('one more small site at the end moves nothing else', () => {
  const row = (id: number, site: string): LayoutDevice => ({ id, name: `${site}-${id}`, role: 'switch', site });
  const before = [...Array.from({ length: 9 }, (_, at) => row(at + 1, 'SGH')), row(20, 'CHD'), row(21, 'LQY')];
  const after = layoutTerraces([...before, row(30, 'TME')], []).plates;
  for (const plate of layoutTerraces(before, []).plates) expect(after).toContainEqual(plate);
});
