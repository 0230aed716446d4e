import { describe, expect, test } from '@jest/globals';
import type { Point } from '@/core/floor/floorPlan';
import { markTowards, shownMarks } from './planMarks';
import { roomNameAt } from './roomNames';

const room: Point[] = [
  [0, 0],
  [200, 0],
  [200, 100],
  [0, 100],
];

describe('the name of a room', () => {
  test('stands in its middle, or above or below where something is there', () => {
    expect(roomNameAt('Kiosk', room, [])).toEqual([100, 50]);
    expect(roomNameAt('Kiosk', room, [{ left: 90, top: 40, right: 110, bottom: 60 }])).toEqual([100, 12]);
    expect(roomNameAt('Kiosk', room, [{ left: 90, top: 0, right: 110, bottom: 60 }])).toEqual([100, 88]);
  });
  test('stands in the middle all the same where everything is taken', () => {
    expect(roomNameAt('Kiosk', room, [{ left: 0, top: 0, right: 200, bottom: 100 }])).toEqual([100, 50]);
  });
});

describe('marks', () => {
  const outlet = {
    id: 7,
    site: 'RPW',
    label: 'R0-07',
    room: 'Kiosk',
    panel: 'PP1',
    position: '07',
    way: 'PP1/07',
    note: '',
    device: 'rpw-plat',
    port: { deviceId: 4, name: '12' },
    admin: 'up',
    oper: 'up',
    duplex: 'full',
    pluggedIn: '5 machines',
  };
  const found = {
    devices: [{ id: 4, name: 'rpw-plat', role: 'switch', state: 'silent', model: 'Kestrane K-Access 48' }],
    outlets: [
      outlet,
      { ...outlet, id: 8, port: null, admin: '', oper: '', pluggedIn: '' },
      { ...outlet, id: 9, duplex: 'half' },
    ],
  };
  const at = (x: number, y: number): Point => [x, y];
  test('say their state and who is there; what is not known any more says so', () => {
    const marks = shownMarks(
      [
        { kind: 'device', id: 4, at: at(0, 0) },
        ...[7, 8, 9, 99].map((id) => ({ kind: 'outlet' as const, id, at: at(0, 0) })),
      ],
      found,
    );
    expect(marks.map(({ words, glyph, more, sel }) => [words, glyph, more, sel])).toEqual([
      ['rpw-plat', 'silent', 'silent, Kestrane K-Access 48', 'device:4'],
      ['R0-07', 'up', 'rpw-plat 12 up, 5 machines', 'port:4:12'],
      ['R0-07', 'unknown', 'patched to nothing', 'outlet:8'],
      ['R0-07', 'fault', 'rpw-plat 12 up, half duplex, 5 machines', 'port:4:12'],
      ['outlet 99', 'unknown', 'deleted', 'outlet:99'],
    ]);
  });
  test('are walked in the direction of the key, the nearest first, never back', () => {
    const marks = shownMarks(
      [at(0.1, 0.5), at(0.5, 0.5), at(0.9, 0.5), at(0.5, 0.1)].map((place, id) => ({
        kind: 'outlet' as const,
        id,
        at: place,
      })),
      { devices: [], outlets: [] },
    );
    const next = (from: number, key: string) =>
      marks[from] ? (markTowards(marks[from], marks, key, 1.5)?.id ?? null) : null;
    expect([
      next(0, 'ArrowRight'),
      next(1, 'ArrowRight'),
      next(2, 'ArrowRight'),
      next(1, 'ArrowUp'),
      next(3, 'ArrowDown'),
      next(1, 'ArrowLeft'),
    ]).toEqual([1, 2, null, 3, 1, 0]);
  });
});
