import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { isInside, labelPoint, layoutMistakes, roomAt, type PlanLayout, type Point } from './floorPlan';
import { OutletPlaces, outletMistakes, panelWords, type Outlet } from './outlet';
import { pictureHead } from './pictureSize';
import { planOutlets, type PortLookup } from './planOutlets';

const square = (x: number, y: number, side: number): Point[] => [
  [x, y],
  [x + side, y],
  [x + side, y + side],
  [x, y + side],
];
// an L: its centre of area lies outside a thin one
const ell: Point[] = [
  [0, 0],
  [0.1, 0],
  [0.1, 0.9],
  [1, 0.9],
  [1, 1],
  [0, 1],
];

describe('rooms', () => {
  test('a point is in the smallest room around it', () => {
    const rooms = [
      { name: 'hall', corners: square(0, 0, 1) },
      { name: 'kiosk', corners: square(0.4, 0.4, 0.2) },
    ];
    expect(
      [
        [0.5, 0.5],
        [0.1, 0.1],
        [1.2, 0.5],
      ].map((point) => roomAt(point as unknown as Point, rooms)?.name),
    ).toEqual(['kiosk', 'hall', undefined]);
  });
  test('the name of a room stands within it, however it is shaped', () => {
    expect(labelPoint(square(0.2, 0.4, 0.2))).toEqual([expect.closeTo(0.3, 6), expect.closeTo(0.5, 6)]);
    expect(isInside(labelPoint(ell), ell)).toBe(true);
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0.05, max: 1, noNaN: true })), {
          minLength: 3,
          maxLength: 9,
        }),
        (polar) => {
          // corners round a middle, at any distance: never crossing
          const corners = polar.map(([, radius], at): Point => [
            0.5 + (radius / 2) * Math.cos((2 * Math.PI * at) / polar.length),
            0.5 + (radius / 2) * Math.sin((2 * Math.PI * at) / polar.length),
          ]);
          expect(isInside(labelPoint(corners), corners)).toBe(true);
        },
      ),
    );
  });
  test('two rooms with a common wall share no point', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 0.99, noNaN: true }),
        fc.double({ min: 0.01, max: 0.99, noNaN: true }),
        (x, y) => {
          const [left, right] = [
            [
              [0, 0],
              [0.5, 0],
              [0.5, 1],
              [0, 1],
            ],
            [
              [0.5, 0],
              [1, 0],
              [1, 1],
              [0.5, 1],
            ],
          ] as unknown as [Point[], Point[]];
          expect(Number(isInside([x, y], left)) + Number(isInside([x, y], right))).toBe(1);
        },
      ),
    );
  });
  test.each([
    [{ rooms: [{ name: ' ', corners: square(0, 0, 1) }], marks: [] }, 'rooms[0].name', 'needs a name'],
    [
      { rooms: ['Kiosk', 'kiosk'].map((name) => ({ name, corners: square(0, 0, 0.5) })), marks: [] },
      'rooms[1].name',
      'already',
    ],
    [{ rooms: [{ name: 'a', corners: square(0, 0, 1).slice(0, 2) }], marks: [] }, 'rooms[0].corners', 'three corners'],
    [{ rooms: [{ name: 'a', corners: square(0.5, 0, 1) }], marks: [] }, 'rooms[0].corners', 'outside'],
    [
      {
        rooms: [
          {
            name: 'a',
            corners: [
              [0, 0],
              [0.5, 0.5],
              [1, 1],
            ],
          },
        ],
        marks: [],
      },
      'rooms[0].corners',
      'nothing',
    ],
    [{ rooms: [], marks: [{ kind: 'device', id: 1, at: [0.5, 1.5] }] }, 'marks[0].at', 'outside'],
    [{ rooms: [], marks: [1, 2].map(() => ({ kind: 'outlet', id: 4, at: [0.5, 0.5] })) }, 'marks[1]', 'twice'],
  ] as [PlanLayout, string, string][])('what cannot be so is told at its place: %j', (layout, path, words) => {
    expect(layoutMistakes(layout)).toEqual([{ path, message: expect.stringContaining(words) as unknown }]);
  });
});

describe('outlets', () => {
  const outlet = (more: Partial<Outlet> = {}): Outlet => ({
    site: 'RPW',
    label: 'R-01',
    room: 'Kiosk',
    panel: 'PP1',
    position: '07',
    port: { deviceId: 4, name: '7' },
    note: '',
    ...more,
  });
  const lookUp: PortLookup = (device, port) =>
    device !== 'rpw-plat' ? 'no device' : Number(port) <= 48 ? { deviceId: 4, name: port } : 'no port';
  const plan = (text: string, known: Outlet[] = []) => {
    const [head = [], ...rows] = text.split('\n').map((line) => line.split(','));
    return planOutlets(
      head,
      rows.map((cells, at) => ({ line: at + 2, cells })),
      known,
      lookUp,
    );
  };
  test('what is wrong with one is told by field, and a clash with another names it', () => {
    expect(outletMistakes(outlet())).toEqual([]);
    expect(
      outletMistakes(outlet({ label: '', site: '', panel: '', note: 'x'.repeat(3000) })).map(({ field }) => field),
    ).toEqual(['label', 'site', 'position', 'note']);
    expect(new OutletPlaces([outlet()]).clash(outlet({ label: 'r-01 ' }))).toMatchObject({ field: 'label' });
    expect(new OutletPlaces([outlet()]).clash(outlet({ label: 'R-02', port: null }))).toEqual({
      field: 'position',
      message: 'R-01 is at place 07 of PP1 already',
    });
    expect(new OutletPlaces([outlet()]).clash(outlet({ label: 'R-02', position: '08' }))).toEqual({
      field: 'port',
      message: 'that port is patched to R-01 already',
    });
    expect(
      new OutletPlaces([outlet({ panel: '', position: '', port: null })]).clash(
        outlet({ label: 'R-02', panel: '', position: '', port: null }),
      ),
    ).toBeNull();
    expect([panelWords(outlet()), panelWords(outlet({ panel: '' }))]).toEqual(['PP1/07', '07']);
  });
  test('a file makes new ones, changes others, and leaves those that it does not name', () => {
    const made = plan(
      'Site,Outlet,Room,Panel,Position,Switch,Port,colour\nRPW,R-01,Kiosk,PP1,07,rpw-plat,7,grey\nRPW,R-02,Hall,PP1,08,rpw-plat,8,grey\nRPW,R-03,Hall,,,,,',
      [
        outlet(),
        outlet({ label: 'R-02', position: '08', port: null }),
        outlet({ label: 'R-09', position: '20', port: null }),
      ],
    );
    expect([made.outlets, made.passedOver, made.mistakes]).toEqual([3, ['colour'], []]);
    expect(
      made.changes.map(({ before, after }) => [
        before?.room ?? null,
        after.label,
        after.room,
        after.port?.name ?? null,
      ]),
    ).toEqual([
      ['Kiosk', 'R-02', 'Hall', '8'],
      [null, 'R-03', 'Hall', null],
    ]);
  });
  test('a column that a file does not have stays as it is; a cell it leaves empty is emptied', () => {
    const known = [outlet({ note: 'behind the shelf' })];
    expect(plan('site,outlet,room\nRPW,R-01,Ticket hall', known).changes).toEqual([
      { before: known[0], after: { ...known[0], room: 'Ticket hall' } },
    ]);
    expect(plan('site,outlet,device,port\nRPW,R-01,,', known).changes[0]?.after.port).toBeNull();
  });
  test('outlets may change places within one file', () => {
    const known = [outlet(), outlet({ label: 'R-02', position: '08', port: { deviceId: 4, name: '8' } })];
    const swapped = plan(
      'site,outlet,panel,position,device,port\nRPW,R-01,PP1,08,rpw-plat,8\nRPW,R-02,PP1,07,rpw-plat,7',
      known,
    );
    expect([
      swapped.mistakes,
      swapped.changes.map(({ after }) => [after.label, after.position, after.port?.name]),
    ]).toEqual([
      [],
      [
        ['R-01', '08', '8'],
        ['R-02', '07', '7'],
      ],
    ]);
  });
  test.each([
    [
      'room\nKiosk',
      [
        [1, '', 'No column “site”'],
        [1, '', 'No column “outlet”'],
      ],
    ],
    ['site,outlet,label\nRPW,a,b', [[1, 'label', 'says the same']]],
    ['site,outlet,device,port\nRPW,R-05,lqy-plat,1', [[2, 'device', 'no survey knows']]],
    ['site,outlet,device,port\nRPW,R-05,rpw-plat,99', [[2, 'port', 'has no port “99”']]],
    ['site,outlet,device,port\nRPW,R-05,rpw-plat,', [[2, 'port', 'does not say which']]],
    ['site,outlet,device,port\nRPW,R-05,rpw-plat,7', [[2, 'port', 'that port is R-01’s already']]],
    ['site,outlet,panel,position\nRPW,R-05,PP9,1\nRPW,R-06,pp9,1', [[3, 'position', 'is R-05’s, in line 2']]],
    ['site,outlet\nRPW,R-05\nrpw,r-05', [[3, 'outlet', 'in line 2 already']]],
    ['site,outlet\n,R-05,x', [[2, '', 'has 3 cells']]],
    ['site,outlet\n,R-05', [[2, 'site', 'Say at which site']]],
  ])('a file with mistakes takes nothing: %j', (text, expected) => {
    const { mistakes, changes } = plan(text, [outlet()]);
    expect(changes).toEqual([]);
    expect(mistakes).toEqual(
      expected.map(([line, column, words]) => ({
        line,
        column,
        message: expect.stringContaining(String(words)) as unknown,
      })),
    );
  });
  test('no file breaks the reader', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.string(), { maxLength: 9 }), { maxLength: 8 }),
        ([head = ['site', 'outlet'], ...rows]) => {
          const { changes, mistakes } = planOutlets(
            head,
            rows.map((cells, at) => ({ line: at + 2, cells })),
            [outlet()],
            lookUp,
          );
          expect(mistakes.length === 0 || changes.length === 0).toBe(true);
        },
      ),
    );
  });
});

describe('pictures', () => {
  const png = Buffer.from('89504e470d0a1a0a0000000d4948445200000280000001e00802000000', 'hex');
  const jpeg = Buffer.from(
    'ffd8ffe000104a46494600010100000100010000ffc0001108012c0190030122000211010311 01'.replaceAll(' ', ''),
    'hex',
  );
  test('tell their size in their head', () => {
    expect(pictureHead(Buffer.concat([png, Buffer.alloc(20)]))).toEqual({
      mediaType: 'image/png',
      width: 640,
      height: 480,
    });
    expect(pictureHead(Buffer.concat([jpeg, Buffer.alloc(20)]))).toEqual({
      mediaType: 'image/jpeg',
      width: 400,
      height: 300,
    });
  });
  test('that are none, are cut off, or are empty, are none', () => {
    expect(
      [
        Buffer.from('<svg/>'),
        png.subarray(0, 20),
        jpeg.subarray(0, 22),
        Buffer.concat([png.subarray(0, 16), Buffer.alloc(40)]),
        Buffer.alloc(0),
      ].map(pictureHead),
    ).toEqual([null, null, null, null, null]);
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), fc.constantFrom(png, jpeg), fc.nat(30), (tail, head, keep) => {
        const found = pictureHead(Buffer.concat([head.subarray(0, keep), tail]));
        expect(found === null || (found.width > 0 && found.height > 0)).toBe(true);
      }),
    );
  });
});
