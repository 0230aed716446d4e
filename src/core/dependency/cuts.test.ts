import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { cablingOf, nothingAway, partsOf } from './cabling';
import { cutsOf } from './cuts';
import { cutOffWithout, networkOf } from './network';

const joint = (a: number, b: number) => ({ a, b });
const chain = (...devices: number[]) => devices.slice(1).map((b, at) => joint(devices[at] ?? 0, b));
const counted = (size: number, cables: { a: number; b: number }[], forwards?: number[]) =>
  cutsOf(
    cablingOf(size, cables, forwards && Uint8Array.from(forwards)),
    new Uint8Array(size),
    // each device has as many endpoints as its number
    (device) => device,
  );

test('a ring cuts nobody off; a spur hangs on each device and cable of it', () => {
  expect(counted(4, [...chain(0, 1, 2, 3, 0)])).toEqual({ devices: new Map(), cables: new Map() });
  const { devices, cables } = counted(7, [...chain(0, 1, 2, 3, 0), ...chain(2, 4, 5, 6)]);
  expect(Object.fromEntries(devices)).toEqual({
    2: { devices: 3, hanging: 15 },
    4: { devices: 2, hanging: 11 },
    5: { devices: 1, hanging: 6 },
  });
  expect(Object.fromEntries(cables)).toEqual({
    4: { devices: 3, hanging: 15 },
    5: { devices: 2, hanging: 11 },
    6: { devices: 1, hanging: 6 },
  });
});

test('a second cable between two keeps the way; a server on two switches is no way between them and hangs on neither', () => {
  expect(counted(2, [joint(0, 1), joint(0, 1)]).cables.size).toBe(0);
  const { devices, cables } = counted(
    6,
    [joint(0, 1), joint(0, 2), joint(1, 3), joint(2, 3), joint(1, 4), joint(2, 5)],
    [1, 1, 1, 0, 1, 1],
  );
  // by the core alone all of one side are parted, not held together by the server
  expect(devices.get(0)?.devices).toBeGreaterThan(1);
  expect(devices.get(1)).toEqual({ devices: 1, hanging: 4 });
  expect(cables.get(0)).toEqual({ devices: 2, hanging: 5 });
});

test('finds what taking each device and each cable away shows, in networks that are joined and in those that are not', () => {
  const network = fc.integer({ min: 1, max: 10 }).chain((size) =>
    fc.record({
      size: fc.constant(size),
      cables: fc.array(fc.record({ a: fc.nat({ max: size - 1 }), b: fc.nat({ max: size - 1 }) }), { maxLength: 16 }),
    }),
  );
  fc.assert(
    fc.property(network, ({ size, cables }) => {
      const cabling = cablingOf(size, cables);
      const found = counted(size, cables);
      const without = (device: number, cable: number) => {
        const away = nothingAway(cabling);
        if (device >= 0) away.devices[device] = 1;
        if (cable >= 0) away.cables[cable] = 1;
        return { cut: cutOffWithout(cabling, away), sizes: partsOf(cabling, away).sizes };
      };
      for (let device = 0; device < size; device++)
        expect(found.devices.get(device)?.devices ?? 0).toBe(without(device, -1).cut.length);
      cables.forEach((_, cable) => expect(found.cables.get(cable)?.devices ?? 0).toBe(without(-1, cable).cut.length));
    }),
    { numRuns: 300 },
  );
});

test('links are told by numbers of devices; with itself, or with one that is not known, none is', () => {
  const { cabling, placeOf, ids, linkOf } = networkOf(
    [
      { id: 7, role: 'switch' },
      { id: 9, role: 'server' },
      { id: 12, role: 'switch' },
    ],
    [joint(7, 7), joint(7, 12), joint(12, 99), joint(9, 12)],
  );
  expect(linkOf).toEqual([1, 3]);
  const away = nothingAway(cabling);
  away.cables[0] = 1;
  expect(cutOffWithout(cabling, away).map((place) => ids[place])).toEqual([7]);
  away.cables[0] = 0;
  away.devices[placeOf.get(12) ?? -1] = 1;
  expect(cutOffWithout(cabling, away).map((place) => ids[place])).toEqual([9]);
});
