import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { applyPins, mostPins, parsePins, pinSel, withPin, writePins, type Pin } from './pins';

const place = fc.integer({ min: -99_999, max: 99_999 });
const pin: fc.Arbitrary<Pin> = fc.record({
  of: fc.oneof(
    fc.record({ device: fc.integer({ min: 1, max: 1e6 }) }),
    fc.record({ site: fc.string({ maxLength: 12 }) }),
  ),
  x: place,
  y: place,
});
const layout = {
  plates: [
    { id: 1, x: 10, y: 20 },
    { id: 2, x: 30, y: 40 },
    { id: 3, x: 500, y: 0 },
  ],
  bays: [
    { site: 'RPW', x: 0, y: 0, width: 200, height: 90, terraces: [{ label: 'core', y: 10, height: 30 }] },
    { site: 'SGH', x: 480, y: 0, width: 200, height: 90, terraces: [] },
  ],
  box: { x: 0, y: 0, width: 680, height: 90 },
};
const siteOf = (id: number) => (id < 3 ? 'RPW' : 'SGH');

test('pins that were written are read back', () => {
  fc.assert(
    fc.property(fc.uniqueArray(pin, { selector: pinSel, maxLength: 20 }), (pins) =>
      expect(parsePins(writePins(pins))).toEqual(pins),
    ),
  );
});

test('an address that somebody changed by hand harms nothing', () => {
  fc.assert(fc.property(fc.string(), (text) => expect(parsePins(text).length).toBeLessThanOrEqual(mostPins)));
  expect(parsePins('d1:5:6,d0:1:1,dx:1:1,s%E0%A4:1:1,d2:9999999:1,,d1:7:8')).toEqual([
    { of: { device: 1 }, x: 7, y: 8 },
  ]);
  expect(parsePins(null)).toEqual([]);
});

test('a bay takes its devices along, a device goes alone, and nothing else moves', () => {
  expect(applyPins(layout, [], siteOf)).toBe(layout);
  const { plates, bays, box } = applyPins(
    layout,
    [
      { of: { site: 'RPW' }, x: 100, y: -8 },
      { of: { device: 2 }, x: 0, y: 0 },
    ],
    siteOf,
  );
  expect(plates).toEqual([
    { id: 1, x: 110, y: 12 },
    { id: 2, x: 0, y: 0 },
    { id: 3, x: 500, y: 0 },
  ]);
  expect([bays[0]?.x, bays[0]?.terraces[0]?.y, bays[1], box]).toEqual([100, 2, layout.bays[1], layout.box]);
});

test('something has one place, on the grid, and the oldest give way', () => {
  expect(withPin([{ of: { device: 1 }, x: 0, y: 0 }], { of: { device: 1 }, x: 13, y: -2 })).toEqual([
    { of: { device: 1 }, x: 12, y: -0 },
  ]);
  const many = Array.from({ length: mostPins }, (_, at): Pin => ({ of: { device: at + 1 }, x: 0, y: 0 }));
  expect(withPin(many, { of: { site: 'RPW' }, x: 1, y: 1 }).map(pinSel)).toEqual([
    ...many.slice(1).map(pinSel),
    'site:RPW',
  ]);
});
