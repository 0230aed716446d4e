import { expect, test } from '@jest/globals';
import { bracket, moved, waveAt, wavePlaces, type PlacedDevice, type Wave } from './wavePlaces';

const device = (deviceId: number, minutes = 30): PlacedDevice => ({
  ...{ deviceId, device: `sw-${deviceId}`, site: 'SGH', target: '7', minutes, why: [], apart: [], first: [] },
});
const wave = (hour: number, ...placed: PlacedDevice[]): Wave => ({
  start: `2026-12-05T${20 + hour}:00:00.000Z`,
  end: `2026-12-05T${20 + hour}:30:00.000Z`,
  placed,
});
const night = { start: '2026-12-05T20:00:00.000Z', end: '2026-12-05T23:00:00.000Z' };
const other = { start: '2026-12-12T20:00:00.000Z', end: '2026-12-12T23:00:00.000Z' };

test('windows stand side by side, each device from when it goes to when it is back', () => {
  const waves = [wave(0, device(1), device(2, 15)), wave(1, device(3))];
  const places = wavePlaces([night, other], waves, 600);
  // a window in which nothing is done is left out
  expect(places.bays).toHaveLength(1);
  // what is left of a window after its last wave is left out
  expect(places.bays[0]).toMatchObject({ x: 0, width: 600, until: Date.parse('2026-12-05T22:00:00.000Z') });
  expect(places.bars.map(({ x, width }) => [x, width])).toEqual([
    [0, 149],
    [0, 74],
    [300, 149],
  ]);
  expect(places.bays[0]?.ticks.map(({ x }) => x)).toEqual([0, 300, 600]);
  expect([waveAt(places, 50), waveAt(places, 200), waveAt(places, 310)]).toEqual([0, null, 1]);
  const [one, two, three] = places.bars;
  if (one && two && three) expect(bracket(three, one)).toBe('M149,31H224.5V31H300');
  expect(wavePlaces([], [], 600)).toMatchObject({ bays: [], bars: [] });
});

test('a device that is moved is in one wave only, and a wave without any is gone', () => {
  const waves = [wave(0, device(1)), wave(1, device(2), device(3))];
  const after = moved(waves, 1, 1);
  expect(after.map(({ placed }) => placed.map(({ deviceId }) => deviceId))).toEqual([[2, 3, 1]]);
  expect(after[0]?.placed[2]?.why).toEqual(['moved here by hand']);
  expect(moved(waves, 9, 1)).toEqual(waves);
});
